// Lamps over the picture: where they are, the ground under them, and which way they face.
import { label } from '../base/draw.js';
import { state } from '../page/state.js';

const LAMP = '#f5c977';

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
