// Lamps over the picture: where they are, the ground under them, and which way they face.
import { label } from '../base/draw.js';
import { drawAll, state } from '../page/state.js';

const LAMP = '#f5c977',
  BLOCKER = '#9fb38a';

/** Place and direction in the frame that is shown. */
export const lampNow = (l) => l.at[Math.min(l.at.length - 1, state.frame - state.data.plate.first)];

export function drawLamps(g, world) {
  for (const l of state.data.lamps || []) {
    const k = lampNow(l),
      at = world(k.slice(0, 3));
    if (!at) continue;
    g.globalAlpha = l.on ? 1 : 0.4;
    g.strokeStyle = g.fillStyle = LAMP;
    g.lineWidth = 1.5;
    const foot = world([k[0], 0, k[2]]);
    if (foot && Math.abs(k[1]) > 0.05) {
      g.setLineDash([2, 4]);
      g.beginPath();
      g.moveTo(...at);
      g.lineTo(...foot);
      g.stroke();
      g.setLineDash([]);
    }
    if (l.kind !== 'POINT' && l.kind !== 'SPHERE') {
      const tip = world([k[0] + 0.5 * k[3], k[1] + 0.5 * k[4], k[2] + 0.5 * k[5]]);
      if (tip) {
        g.beginPath();
        g.moveTo(...at);
        g.lineTo(...tip);
        g.stroke();
      }
    }
    g.beginPath();
    g.arc(at[0], at[1], 5, 0, 7);
    g.fill();
    g.font = '11px "Archivo Variable"';
    label(g, l.name, at[0] + 9, at[1] - 6);
    g.globalAlpha = 1;
  }
}

/** Flags and leaves as what they span. */
export function drawBlockers(g, world) {
  for (const b of state.data.blockers || []) {
    const h = (b.headingDeg * Math.PI) / 180,
      t = (b.tiltDeg * Math.PI) / 180,
      right = [Math.cos(h), 0, -Math.sin(h)],
      // Up turned about the right by the tilt, then by the heading.
      up = [-Math.sin(t) * Math.sin(h), Math.cos(t), -Math.sin(t) * Math.cos(h)],
      corner = (i, j) =>
        world([b.x, b.y, b.z].map((v, k) => v + i * 0.5 * b.width * right[k] + j * 0.5 * b.height * up[k]));
    const q = [corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1)],
      middle = world([b.x, b.y, b.z]);
    g.globalAlpha = b.on ? 1 : 0.4;
    g.strokeStyle = g.fillStyle = BLOCKER;
    g.lineWidth = 1.5;
    if (q.every(Boolean)) {
      g.beginPath();
      q.forEach((k, i) => (i ? g.lineTo(...k) : g.moveTo(...k)));
      g.closePath();
      g.stroke();
    }
    const foot = world([b.x, 0, b.z]);
    if (foot) {
      g.beginPath();
      g.arc(...foot, 3, 0, 7);
      g.stroke();
      if (middle) {
        g.setLineDash([2, 4]);
        g.beginPath();
        g.moveTo(...middle);
        g.lineTo(...foot);
        g.stroke();
        g.setLineDash([]);
      }
      g.font = '11px "Archivo Variable"';
      label(g, b.name, foot[0] + 8, foot[1] + 4);
    }
    g.globalAlpha = 1;
  }
}

const proofs = new Map();

/** Beside the first mirror ball the one that was photographed, as large; the map's proof shows it on its left. */
export function drawPhotographed(g, world) {
  const k = state.data.clues.stands.find((b) => b.mirror);
  if (!k || !state.data.mapProof) return;
  const c = world([k.x, k.y, k.z]),
    top = world([k.x, k.y + k.radius, k.z]);
  if (!c || !top) return;
  let im = proofs.get(state.data.map);
  if (!im) {
    im = new Image();
    im.src = `/shelf/${state.data.map}-proof.png`;
    im.onload = () => drawAll();
    proofs.set(state.data.map, im);
  }
  if (!im.complete || !im.naturalWidth) return;
  const r = Math.hypot(top[0] - c[0], top[1] - c[1]),
    x = c[0] + 2.3 * r,
    side = im.naturalHeight;
  g.save();
  g.beginPath();
  g.arc(x, c[1], r, 0, 7);
  g.clip();
  g.drawImage(im, 0, 0, side, side, x - r, c[1] - r, 2 * r, 2 * r);
  g.restore();
  g.fillStyle = '#ececec';
  g.font = '11px "Archivo Variable"';
  label(g, 'photographed', x - r, c[1] + r + 13);
}
