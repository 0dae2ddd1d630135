// The set pieces over the picture.
import { HAND, label } from '../base/draw.js';

/** What a piece does, as a tint: hides, takes shadow, mirrors, only gives light back. */
const tint = (roles) =>
  roles.includes('HIDE')
    ? '143,168,184'
    : roles.includes('REFLECTION')
      ? '127,176,208'
      : roles.includes('SHADOW')
        ? '190,190,190'
        : '200,160,110';

/** The pieces over the picture: their faces tinted by what they do, their edges drawn. */
export function drawPieces(g, state, world) {
  for (const p of state.data.pieces || []) {
    // What follows something is drawn where that has carried it.
    const m = Object.keys(p.carried).length ? p.carried[state.frame] : undefined;
    if (m === undefined && Object.keys(p.carried).length) continue;
    const put = m
      ? (q) => world([0, 4, 8].map((r) => m[r] * q[0] + m[r + 1] * q[1] + m[r + 2] * q[2] + m[r + 3]))
      : world;
    const mine = state.piece === p.id,
      corner = (i) => put([p.xyz[3 * i], p.xyz[3 * i + 1], p.xyz[3 * i + 2]]);
    if (p.roles.length) {
      g.fillStyle = `rgba(${tint(p.roles)},${p.kind === 'TERRAIN' ? 0.1 : 0.16})`;
      g.beginPath();
      for (let t = 0; t < p.index.length; t += 3) {
        const q = [0, 1, 2].map((k) => corner(p.index[t + k]));
        if (q.some((c) => !c)) continue;
        g.moveTo(...q[0]);
        g.lineTo(...q[1]);
        g.lineTo(...q[2]);
        g.closePath();
      }
      g.fill();
    }
    g.strokeStyle = mine ? HAND : '#ececec';
    g.lineWidth = mine ? 1.8 : 1.1;
    g.beginPath();
    for (const e of p.edges) {
      let pen = false;
      const steps = Math.hypot(e[3] - e[0], e[4] - e[1], e[5] - e[2]) > 1 ? 8 : 2;
      for (let i = 0; i <= steps; i++) {
        const t = i / steps,
          q = put([0, 1, 2].map((k) => e[k] + t * (e[k + 3] - e[k])));
        if (!q) {
          pen = false;
          continue;
        }
        if (pen) g.lineTo(...q);
        else g.moveTo(...q);
        pen = true;
      }
    }
    g.stroke();
    const c = put(p.at);
    if (c && p.kind !== 'TERRAIN') {
      g.fillStyle = mine ? HAND : '#ececec';
      g.font = '11px "Archivo Variable"';
      label(g, p.name, c[0] + 6, c[1] - 4);
    }
  }
}
