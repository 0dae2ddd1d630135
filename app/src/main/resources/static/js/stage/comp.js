// Comp: the finished frame; sliders stand as they are in the frame that is shown, and can be keyed there.
import { onLoad, post } from '../page/net.js';
import { onDraw, state } from '../page/state.js';
import { rendered } from '../view/rendered.js';

export const view = { toggles: {}, over: () => 'comp', flips: true, strip: rendered, keyed };

/** Frames in which anything is keyed. */
function keyed() {
  return new Set(Object.values((state.data && state.data.comp) || {}).flatMap((m) => m.keyed));
}

function show() {
  const p = state.data && state.data.plate;
  if (!p) return;
  const moving = state.data.comp || {};
  for (const row of document.querySelectorAll('.keyslide')) {
    const slider = row.querySelector('input'),
      key = row.querySelector('button'),
      m = moving[slider.name],
      here = !!m && m.keyed.includes(state.frame);
    key.classList.toggle('keyed', !!m);
    key.classList.toggle('here', here);
    key.setAttribute('aria-pressed', here);
    if (!m || slider === document.activeElement) continue;
    const v = m.shown[state.frame - p.first];
    slider.value = v;
    row.querySelector('output').textContent = v.toFixed(2);
  }
  const all = [...keyed()].sort((a, b) => a - b),
    say = document.getElementById('keyed');
  if (!say) return;
  say.hidden = !all.length;
  say.textContent = all.length ? `Keyed in ${all.length === 1 ? 'frame' : 'frames'} ${all.join(', ')}.` : '';
}

export function open() {
  document.body.addEventListener('click', (e) => {
    const key = e.target.closest('.keyslide [data-key]');
    if (key) post('edit', { action: 'key', channel: key.dataset.key, frame: state.frame });
  });
  document.body.addEventListener('panel-exchanged', show);
  onLoad(show);
  onDraw(show);
}
