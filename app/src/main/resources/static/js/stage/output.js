// Output: the finished frame that is written, and what of it is kept in another shape.
import { drawAll, state } from '../page/state.js';
import { rendered } from '../view/rendered.js';

/** Within so much of a picture titles are safe (common practice). */
const SAFE = 0.9;
const field = (name) => document.querySelector(`#bench [name=${name}]`);

/** What is kept of a plate: left, top, width, height; null for all of it. */
function kept(w, h) {
  const [a, b] = (field('shape') ? field('shape').value : '').split(':').map(Number);
  if (!a || !b) return null;
  const wide = Math.min(w, (h * a) / b),
    high = Math.min(h, (w * b) / a);
  return [(field('across').value / 100) * (w - wide), (field('down').value / 100) * (h - high), wide, high];
}

/** Darkens what is not kept, and shows where titles are safe. */
class Shape {
  buttons() {}

  down() {
    return false;
  }

  draw(g, at) {
    const p = state.data.plate,
      k = kept(p.width, p.height);
    if (!k) return;
    const [x0, y0] = at([0, 0]),
      [x1, y1] = at([p.width, p.height]),
      [l, t] = at([k[0], k[1]]),
      [r, b] = at([k[0] + k[2], k[1] + k[3]]);
    g.fillStyle = 'rgba(10, 12, 14, 0.72)';
    g.beginPath();
    g.rect(x0, y0, x1 - x0, y1 - y0);
    g.rect(l, t, r - l, b - t);
    g.fill('evenodd');
    g.strokeStyle = 'rgba(255, 255, 255, 0.6)';
    g.setLineDash([5, 4]);
    const m = (1 - SAFE) / 2;
    g.strokeRect(l + m * (r - l), t + m * (b - t), SAFE * (r - l), SAFE * (b - t));
    g.setLineDash([]);
  }
}

export const view = { toggles: {}, over: () => 'comp', flips: true, hand: () => new Shape(), strip: rendered };

/** Only what counts for the kind of file is shown. */
function fit() {
  const chosen = field('format');
  if (!chosen) return;
  const key = chosen.value,
    movie = chosen.selectedOptions[0].closest('optgroup').label === 'a movie',
    passes = key === 'passes',
    finished = !passes && key !== 'straight' && key !== 'mattes',
    on = { movie, passes, finished, coded: finished && !key.startsWith('exr') };
  for (const e of document.querySelectorAll('#bench [data-for]')) e.hidden = !on[e.dataset.for];
}

export function open() {
  fit();
  document.body.addEventListener('panel-exchanged', fit);
  document.body.addEventListener('htmx:afterSettle', fit);
  document.body.addEventListener('input', (e) => {
    if (!e.target.closest('#bench')) return;
    fit();
    drawAll();
  });
}
