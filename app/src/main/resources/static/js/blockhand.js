// Drawing routes over the ground, in the picture or on the set plan: one state for both.
import { drawAll, post } from './shot.js';
import { chosenOne } from './blocking.js';

const HAND = '#d4e157';

export class BlockHand {
  constructor(picture) { this.p = picture; this.s = picture.s; this.s.drawing = null; }

  buttons(look) {
    const b = document.createElement('button');
    b.type = 'button'; b.textContent = 'draw route'; b.id = 'draw-route'; b.setAttribute('aria-pressed', false);
    b.title = 'click the way of the chosen performer over the ground, here or on the set plan; Enter ends it, Backspace takes a point back, Esc drops it';
    b.addEventListener('click', () => this.toggle());
    look.append(b);
  }

  toggle() {
    if (this.s.drawing) { this.finish(); return; }
    if (!chosenOne(this.s)) { document.getElementById('say').innerHTML = '<p>Choose a performer first.</p>'; return; }
    this.s.drawing = [];
    this.shown();
  }

  shown() { document.getElementById('draw-route').setAttribute('aria-pressed', !!this.s.drawing); drawAll(); }

  /** A further point on the ground. */
  add(x, z) { this.s.drawing.push([x, z]); drawAll(); }

  async finish() {
    const d = this.s.drawing, p = chosenOne(this.s);
    this.s.drawing = null;
    if (d && d.length > 1 && p) await post('edit', { action: 'route-draw', id: p.id, points: d.flat().map(v => v.toFixed(3)).join(','), seen: 0 });
    this.shown();
  }

  key(e) {
    if (!this.s.drawing) return false;
    if (e.key === 'Enter') this.finish();
    else if (e.key === 'Backspace') { this.s.drawing.pop(); drawAll(); }
    else if (e.key === 'Escape') { this.s.drawing = null; this.shown(); }
    else return false;
    return true;
  }

  down(e) {
    if (!this.s.drawing || e.button !== 0 || !this.s.camera) return false;
    const q = this.s.camera.onLevel(this.s.frame, ...this.p.toPlate(e), 0);
    if (q) this.add(q[0], q[2]);
    return true;
  }

  draw(g, at) {
    const c = this.s.camera;
    if (!c || !this.s.blocking) return;
    const world = q => { const p = c.project(this.s.frame, q); return p && at(p); };
    const line = (points, colour) => { g.strokeStyle = colour; g.lineWidth = 2; g.beginPath(); let pen = false; for (const q of points) { const s = world([q[0], 0, q[1]]); if (!s) { pen = false; continue; } if (pen) g.lineTo(...s); else g.moveTo(...s); pen = true; } g.stroke(); for (const q of points) { const s = world([q[0], 0, q[1]]); if (s && points.length < 60) { g.fillStyle = colour; g.beginPath(); g.arc(...s, 3, 0, 7); g.fill(); } } };
    for (const b of this.s.blocking.values()) if (b.route) line(way(b), this.s.performer === b.id ? HAND : '#cfcfcf');
    if (this.s.drawing) line(this.s.drawing, HAND);
  }
}

/** Where a performer's feet go over the shot, x and z. */
export function way(b) { return b.frames.filter((_, i) => i % 2 === 0).map(m => [m[15], m[17]]); }
