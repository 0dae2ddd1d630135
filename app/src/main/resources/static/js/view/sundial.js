// Where suns stand, on the set plan: on the rim at the horizon, in the middle straight above. On the Light stage the
// first can be dragged.
import { post } from '../page/net.js';
import { drawAll } from '../page/state.js';
import { sunsNow } from './suns.js';

const DIAL = 22;

export class SunDial {
  /** @param plan on which it is drawn */
  constructor(plan) {
    this.p = plan;
  }

  draw(x, y) {
    const suns = sunsNow(this.p.s);
    if (!suns.length) return;
    this.p.el('circle', { cx: x, cy: y, r: DIAL, fill: 'none', stroke: '#4a4a4a' });
    this.middle = [x, y];
    for (const s of suns) {
      const q = [x + DIAL * s.towards[0], y + DIAL * s.towards[2]];
      this.p.el('path', { d: `M${q}L${[2 * x - q[0], 2 * y - q[1]]}`, stroke: '#6f6f6f', 'stroke-dasharray': '2 3' });
      this.p.el('circle', {
        cx: q[0],
        cy: q[1],
        r: 6,
        fill: '#f2d06b',
        stroke: '#171717',
        ...(this.p.stage.sun ? { 'data-sun': 1, style: 'cursor:move' } : {}),
      });
    }
    this.p.el('text', { x: x - 9, y: y + DIAL + 14, fill: '#b3b3b3', 'font-size': 10.5 }, 'sun');
  }

  down(e) {
    if (!e.target.dataset || !e.target.dataset.sun) return false;
    this.held = true;
    this.moved = false;
    this.p.svg.setPointerCapture(e.pointerId);
    return true;
  }

  /** The sun goes where the dial is touched; never below the horizon. */
  move(e) {
    if (!this.held) return false;
    const b = this.p.svg.getBoundingClientRect(),
      x = (e.clientX - b.left - this.middle[0]) / DIAL,
      z = (e.clientY - b.top - this.middle[1]) / DIAL,
      r = Math.max(1e-6, Math.hypot(x, z)),
      out = Math.min(r, 0.9994);
    this.p.s.liveSun = sunsNow(this.p.s)[0].towards = [(x / r) * out, Math.sqrt(1 - out * out), (z / r) * out];
    this.moved = true;
    if (this.p.stage.live) this.p.stage.live(true);
    drawAll();
    return true;
  }

  up() {
    if (!this.held) return false;
    this.held = false;
    if (!this.moved) return true;
    if (this.p.stage.live) this.p.stage.live(false);
    const t = sunsNow(this.p.s)[0].towards;
    post('edit', {
      action: 'settings',
      source: 'own',
      azimuthDeg: ((Math.atan2(t[0], -t[2]) * 180) / Math.PI).toFixed(2),
      elevationDeg: ((Math.asin(t[1]) * 180) / Math.PI).toFixed(2),
      frame: this.p.s.frame,
    });
    return true;
  }
}
