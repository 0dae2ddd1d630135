// Keys of drawn masks: ticks on the ribbon, steps from one to the next, and one less.
import { post } from './net.js';
import { state } from './state.js';
import { go } from './time.js';

/** Frames in which a mask that moves by its keys has one. */
export function maskKeys() {
  return ((state.data && state.data.masks) || [])
    .filter((m) => m.carry === 'KEYS' && m.keys.length > 1)
    .flatMap((m) => m.keys.map((k) => k.frame));
}

export function maskSteps() {
  document.body.addEventListener('click', (e) => {
    const b = e.target.closest('[data-mask-step], [data-mask-unkey]');
    if (!b) return;
    const id = Number(b.dataset.maskStep || b.dataset.maskUnkey),
      m = state.data.masks.find((k) => k.id === id);
    if (!m) return;
    if (b.dataset.maskUnkey) {
      post('edit', { action: 'mask-unkey', id, frame: state.frame });
      return;
    }
    const by = Number(b.dataset.by),
      on = m.keys.map((k) => k.frame).filter((f) => (f - state.frame) * by > 0);
    if (on.length) go(by > 0 ? Math.min(...on) : Math.max(...on));
  });
}
