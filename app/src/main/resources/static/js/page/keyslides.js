// Sliders and fields of numbers that can be keyed: they stand as the number is in the frame that is shown.
import { onLoad, post } from './net.js';
import { onDraw, state } from './state.js';

/** A number as it stands beside its slider, where there is room for so many digits. */
export function beside(v) {
  return v.toFixed(Math.abs(v) >= 100 ? 0 : 2);
}

/** Frames in which any of these numbers is keyed. */
export function keyedFrames(moving) {
  return new Set(Object.values(moving || {}).flatMap((m) => m.keyed));
}

function show(moving) {
  const p = state.data && state.data.plate;
  if (!p) return;
  for (const row of document.querySelectorAll('.keyslide')) {
    const field = row.querySelector('input'),
      out = row.querySelector('output'),
      key = row.querySelector('button'),
      m = moving[key.dataset.key],
      here = !!m && m.keyed.includes(state.frame);
    key.classList.toggle('keyed', !!m);
    key.classList.toggle('here', here);
    key.setAttribute('aria-pressed', here);
    if (!m || field === document.activeElement) continue;
    const v = m.shown[state.frame - p.first];
    field.value = out ? v : +v.toFixed(3);
    if (out) out.textContent = beside(v);
  }
  const all = [...keyedFrames(moving)].sort((a, b) => a - b),
    say = document.getElementById('keyed');
  if (!say) return;
  say.hidden = !all.length;
  say.textContent = all.length ? `Keyed in ${all.length === 1 ? 'frame' : 'frames'} ${runs(all)}.` : '';
}

/** Rising numbers with commas between; three or more without a gap as the first "to" the last. */
function runs(all) {
  const out = [];
  for (let i = 0, j; i < all.length; i = j + 1) {
    for (j = i; j + 1 < all.length && all[j + 1] === all[j] + 1;) j++;
    if (j - i > 1) out.push(`${all[i]} to ${all[j]}`);
    else for (let k = i; k <= j; k++) out.push(all[k]);
  }
  return out.join(', ');
}

/** @param moving gives, by channel, the frames with keys and what is shown in each frame */
export function keyslides(moving) {
  const now = () => show(moving() || {});
  document.body.addEventListener('click', (e) => {
    const key = e.target.closest('.keyslide [data-key]');
    if (key) post('edit', { action: 'key', channel: key.dataset.key, frame: state.frame });
  });
  document.body.addEventListener('panel-exchanged', now);
  onLoad(now);
  onDraw(now);
}
