// Lines along the set's axes, drawn over the frame of a camera that stands still: from them its perspective is matched.
import { post, drawAll } from './shot.js';

export const AXES = { X: '#d98880', Y: '#9cc48a', Z: '#7fb0d0' };

export class Lines {
  constructor(picture) {
    this.p = picture;
    this.s = picture.s;
    this.axis = 'X';
  }

  buttons(look) {
    for (const [a, title] of [['X', 'draw along edges that run to the right'], ['Y', 'draw along edges that stand upright'], ['Z', 'draw along edges that run in depth']]) {
      const b = document.createElement('button');
      b.type = 'button'; b.textContent = a.toLowerCase() + ' lines'; b.title = title; b.dataset.axis = a; b.hidden = true;
      b.style.boxShadow = `inset 0 -2px ${AXES[a]}`;
      b.addEventListener('click', () => { this.axis = a; this.shown(); });
      look.append(b);
    }
  }

  /** Only a locked camera has lines. */
  shown() {
    const on = !!(this.s.data && this.s.data.lines);
    document.querySelectorAll('[data-axis]').forEach(b => { b.hidden = !on; b.setAttribute('aria-pressed', on && b.dataset.axis === this.axis); });
    return on;
  }

  ends(l) { return [[l.fromX, l.fromY], [l.toX, l.toY]]; }

  draw(g, at) {
    if (!this.shown()) return;
    const one = (a, b, axis) => {
      const u = at(a), v = at(b);
      g.strokeStyle = AXES[axis]; g.lineWidth = 2;
      g.beginPath(); g.moveTo(...u); g.lineTo(...v); g.stroke();
      g.fillStyle = AXES[axis];
      for (const q of [u, v]) { g.beginPath(); g.arc(q[0], q[1], 3.5, 0, 7); g.fill(); }
    };
    this.s.data.lines.forEach((l, i) => { const e = this.moving && this.moving.index === i ? this.moving.ends : this.ends(l); one(...e, l.axis); });
    if (this.moving && this.moving.index === undefined) one(...this.moving.ends, this.axis);
  }

  /** Takes a press: on an end it is moved, elsewhere a line begins. */
  down(e) {
    if (e.button !== 0 || e.shiftKey || !this.shown()) return false;
    const q = this.p.toPlate(e), near = 9 / this.p.view().scale;
    for (const [i, l] of this.s.data.lines.entries()) {
      const ends = this.ends(l), k = ends.findIndex(c => Math.hypot(c[0] - q[0], c[1] - q[1]) < near);
      if (k >= 0) { this.moving = { index: i, axis: l.axis, ends, end: k }; return true; }
    }
    this.moving = { ends: [q, q], end: 1 };
    return true;
  }

  move(e) {
    this.moving.ends[this.moving.end] = this.p.toPlate(e);
    drawAll();
  }

  async up() {
    const m = this.moving, [a, b] = m.ends;
    if (Math.hypot(a[0] - b[0], a[1] - b[1]) > 6) {
      const of = { fromX: a[0].toFixed(2), fromY: a[1].toFixed(2), toX: b[0].toFixed(2), toY: b[1].toFixed(2), axis: m.axis || this.axis, seen: 0 };
      await post('edit', m.index === undefined ? { action: 'line-add', ...of } : { action: 'line-set', index: m.index, ...of });
    }
    this.moving = null;
    drawAll();
  }
}
