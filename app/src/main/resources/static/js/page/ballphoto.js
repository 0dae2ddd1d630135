// A ball's photograph in the panel: its circle is drawn by pressing in its middle and dragging to its rim.
import { HAND } from '../base/draw.js';

const images = new Map();

function typed(canvas) {
  const v = canvas
    .closest('form')
    .querySelector('input[name=circle]')
    .value.split(/[,;\s]+/)
    .map(Number);
  return v.length === 3 && v.every(Number.isFinite) ? v : null;
}

/** @param circle in pixels of the photograph; what is typed without */
function draw(canvas, circle = typed(canvas)) {
  let im = images.get(canvas.dataset.ball);
  if (!im) {
    im = new Image();
    im.onload = () => ballPhotos();
    im.src = canvas.dataset.ball;
    images.set(canvas.dataset.ball, im);
  }
  if (!im.complete || !im.naturalWidth) return;
  const w = (canvas.width = canvas.clientWidth),
    k = w / im.naturalWidth,
    g = canvas.getContext('2d');
  canvas.height = Math.round(im.naturalHeight * k);
  const h = canvas.height;
  g.drawImage(im, 0, 0, w, h);
  if (!circle) return;
  g.strokeStyle = HAND;
  g.lineWidth = 1.5;
  g.beginPath();
  g.arc(circle[0] * k, circle[1] * k, circle[2] * k, 0, 7);
  g.stroke();
}

export function ballPhotos() {
  for (const c of document.querySelectorAll('canvas[data-ball]')) draw(c);
}

export function ballHand() {
  let held = null;
  const at = (e) => {
    const b = held.canvas.getBoundingClientRect(),
      k = images.get(held.canvas.dataset.ball).naturalWidth / b.width;
    return [(e.clientX - b.left) * k, (e.clientY - b.top) * k];
  };
  document.body.addEventListener('pointerdown', (e) => {
    const c = e.target.closest('canvas[data-ball]');
    if (!c || !images.get(c.dataset.ball)) return;
    held = { canvas: c };
    held.middle = at(e);
    c.setPointerCapture(e.pointerId);
  });
  document.body.addEventListener('pointermove', (e) => {
    if (!held) return;
    const q = at(e);
    held.r = Math.hypot(q[0] - held.middle[0], q[1] - held.middle[1]);
    draw(held.canvas, [...held.middle, held.r]);
  });
  document.body.addEventListener('pointerup', () => {
    if (!held) return;
    const { canvas, middle, r } = held;
    held = null;
    if (!(r > 4)) return;
    const field = canvas.closest('form').querySelector('input[name=circle]');
    field.value = [...middle, r].map((v) => v.toFixed(1)).join(', ');
    field.dispatchEvent(new Event('change', { bubbles: true }));
  });
  document.body.addEventListener('panel-exchanged', ballPhotos);
  ballPhotos();
}
