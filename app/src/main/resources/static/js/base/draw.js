// Drawing that every view shares.
import { Apart } from './apart.js';

/** What is in hand. */
export const HAND = '#d4e157';

const LINE = 13;

/** Where labels stand, by what they are drawn on. */
const standing = new WeakMap();

/** From here on labels on this keep off each other. */
export function freshLabels(g) {
  if (!standing.has(g)) standing.set(g, new Apart());
  standing.get(g).clear();
}

/** Text that can be read on any picture. */
export function label(g, text, x, y) {
  const others = standing.get(g);
  if (others) y = others.line(x, y, g.measureText(text).width + 4, LINE);
  g.save();
  g.lineJoin = 'round';
  g.lineWidth = 3;
  g.strokeStyle = 'rgba(0,0,0,.7)';
  g.setLineDash([]);
  g.strokeText(text, x, y);
  g.fillText(text, x, y);
  g.restore();
}

/** A point through a 3x3 map, row-major. */
export function through(h, q) {
  const d = h[6] * q[0] + h[7] * q[1] + h[8];
  return [(h[0] * q[0] + h[1] * q[1] + h[2]) / d, (h[3] * q[0] + h[4] * q[1] + h[5]) / d];
}

export function inverse(m) {
  return [
    m[4] * m[8] - m[5] * m[7],
    m[2] * m[7] - m[1] * m[8],
    m[1] * m[5] - m[2] * m[4],
    m[5] * m[6] - m[3] * m[8],
    m[0] * m[8] - m[2] * m[6],
    m[2] * m[3] - m[0] * m[5],
    m[3] * m[7] - m[4] * m[6],
    m[1] * m[6] - m[0] * m[7],
    m[0] * m[4] - m[1] * m[3],
  ];
}

/** Colours of the axes of the set. */
export const AXES = { X: '#d98880', Y: '#9cc48a', Z: '#7fb0d0' };

/** A closed curve through points, smooth (Catmull-Rom) as the masks are filled, or straight as surfaces are. */
export function outline(g, p, straight, corners = []) {
  const n = p.length;
  g.beginPath();
  g.moveTo(...p[0]);
  if (straight) {
    p.slice(1).forEach((q) => g.lineTo(...q));
    g.closePath();
    return;
  }
  for (let i = 0; i < n; i++) {
    const a = p[(i + n - 1) % n],
      b = p[i],
      c = p[(i + 1) % n],
      d = p[(i + 2) % n];
    // A corner is left towards the other end.
    const from = corners.includes(i) ? 0 : 1 / 6,
      to = corners.includes((i + 1) % n) ? 0 : 1 / 6;
    g.bezierCurveTo(
      b[0] + from * (c[0] - a[0]),
      b[1] + from * (c[1] - a[1]),
      c[0] - to * (d[0] - b[0]),
      c[1] - to * (d[1] - b[1]),
      ...c,
    );
  }
  g.closePath();
}
