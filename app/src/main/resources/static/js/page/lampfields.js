// The panel's lamps: fields stand as they are in the frame that is shown, and can be keyed there.
import { onLoad, post } from './net.js';
import { onDraw, state } from './state.js';

const lamps = () => (state.data && state.data.lamps) || [];

function show() {
  for (const d of document.querySelectorAll('details[data-lamp]')) {
    const l = lamps().find((k) => k.id === Number(d.dataset.lamp));
    if (!l) continue;
    for (const b of d.querySelectorAll('button[data-key]')) {
      const m = l.moving[b.dataset.key],
        here = !!m && m.keyed.includes(state.frame);
      b.classList.toggle('keyed', !!m);
      b.classList.toggle('here', here);
      b.setAttribute('aria-pressed', here);
      const field = d.querySelector(`input[data-channel="${b.dataset.key}"]`);
      if (m && field && field !== document.activeElement)
        field.value = +m.shown[state.frame - state.data.plate.first].toFixed(3);
    }
  }
}

export function lampFields() {
  document.body.addEventListener('click', (e) => {
    const key = e.target.closest('details[data-lamp] button[data-key]');
    if (!key) return;
    const id = key.closest('details[data-lamp]').dataset.lamp;
    post('edit', { action: 'key', id, channel: key.dataset.key, frame: state.frame });
  });
  document.body.addEventListener('panel-exchanged', show);
  onLoad(show);
  onDraw(show);
}
