// Draws masks, moves their points (with Alt a point's feather) and whole shapes, by two handles of each: one in the
// middle, one at the end of an arm that turns and scales. Whoever has a hand may have this one in it.
import { HAND, outline, through } from '../base/draw.js';
import { post } from '../page/net.js';
import { drawAll } from '../page/state.js';

const MASK = '#f2f2f2';
/** What a tool's masks are for. */
const USES = { mask: 'AWAY', surface: 'SURFACE', 'comp mask': 'COMP', brush: 'COMP' };

/** Length of the arm that turns and scales, on the screen. */
const ARM = 46;

const middle = (points) => [0, 1].map((c) => points.reduce((sum, p) => sum + p[c], 0) / points.length);

const text = (points) => points.map((p) => p.map((v) => v.toFixed(2)).join(',')).join(' ');

export class MaskHand {
  /** @param hand in whose tool it is; @param shown which masks are drawn */
  constructor(hand, shown = () => true) {
    this.h = hand;
    this.s = hand.s;
    this.p = hand.p;
    this.shown = shown;
    this.drawing = [];
    this.moving = null;
  }

  /** Whether the tool draws masks. */
  has(tool) {
    return tool in USES;
  }

  /** Where a mask's points lie in the present frame; none where what carries it was lost. */
  at(m) {
    const f = this.s.frame,
      keys = m.keys;
    if (m.carry !== 'KEYS') {
      const h = (this.s.data.planes[m.id] || {})[f],
        xy = keys[0].xy,
        drawn = [];
      if (!h && f !== keys[0].frame) return [];
      for (let i = 0; i < xy.length; i += 2) drawn.push([xy[i], xy[i + 1]]);
      return h ? drawn.map((q) => through(h, q)) : drawn;
    }
    let k = 0;
    while (k < keys.length && keys[k].frame <= f) k++;
    const a = keys[Math.max(0, k - 1)],
      b = keys[Math.min(k, keys.length - 1)],
      t = a === b || f <= a.frame ? 0 : (f - a.frame) / (b.frame - a.frame),
      out = [];
    for (let i = 0; i < a.xy.length; i += 2)
      out.push([a.xy[i] + t * (b.xy[i] - a.xy[i]), a.xy[i + 1] + t * (b.xy[i + 1] - a.xy[i + 1])]);
    return out;
  }

  draw(g, at) {
    for (const m of this.s.data.masks || []) {
      if (!this.shown(m)) continue;
      const mine = this.moving && this.moving.mask === m.id,
        p = (mine ? this.moving.points : this.at(m)).map(at);
      if (!p.length) continue;
      outline(g, p, m.use === 'SURFACE', m.corners || []);
      const away = m.use === 'AWAY';
      if (away) {
        g.fillStyle = 'rgba(242,242,242,.10)';
        g.fill();
      }
      g.strokeStyle = away ? MASK : m.use === 'COMP' ? '#e0a458' : '#8fa8b8';
      g.lineWidth = 1.3;
      if (away) g.setLineDash([5, 3]);
      g.stroke();
      g.setLineDash([]);
      if (this.has(this.h.tool)) this.points(g, m, p, mine ? this.moving : null);
    }
    if (this.drawing.length) this.drawn(g, at);
  }

  /** A mask's points with their feathers. */
  points(g, m, p, moving) {
    const k = this.p.view().scale,
      way = p.reduce(
        (sum, q, i) => sum + Math.hypot(q[0] - p[(i + 1) % p.length][0], q[1] - p[(i + 1) % p.length][1]),
        0,
      );
    // A stroke has too many to be taken one by one before one is near.
    if (way < 14 * p.length) return;
    p.forEach((q, i) => {
      const w = moving && moving.feather && moving.index === i ? moving.width : (m.feathers || [])[i] || 0;
      if (w > 0) {
        g.strokeStyle = 'rgba(242,242,242,.6)';
        g.lineWidth = 1;
        g.beginPath();
        g.arc(q[0], q[1], w * k, 0, 7);
        g.stroke();
      }
      g.fillStyle = MASK;
      // Corners are set on their points.
      if ((m.corners || []).includes(i)) {
        g.beginPath();
        g.moveTo(q[0], q[1] - 5);
        g.lineTo(q[0] + 5, q[1]);
        g.lineTo(q[0], q[1] + 5);
        g.lineTo(q[0] - 5, q[1]);
        g.fill();
      } else g.fillRect(q[0] - 3, q[1] - 3, 6, 6);
    });
    this.handles(g, p, moving);
  }

  handles(g, p, moving) {
    const c = middle(p),
      [ax, ay] = moving && moving.whole === 'arm' ? moving.arm : [ARM, 0];
    g.strokeStyle = MASK;
    g.lineWidth = 1;
    g.beginPath();
    g.arc(c[0], c[1], 6, 0, 7);
    g.moveTo(c[0] + 6, c[1]);
    g.lineTo(c[0] + ax, c[1] + ay);
    g.stroke();
    g.beginPath();
    g.arc(c[0] + ax, c[1] + ay, 4, 0, 7);
    g.fillStyle = MASK;
    g.fill();
  }

  /** Which handle of a shape is under a place. */
  handle(points, q) {
    const k = this.p.view().scale,
      c = middle(points),
      near = 9 / k;
    if (Math.hypot(q[0] - c[0], q[1] - c[1]) < near) return 'middle';
    return Math.hypot(q[0] - c[0] - ARM / k, q[1] - c[1]) < near ? 'arm' : '';
  }

  /** The whole shape as its handle was dragged: Shift keeps its direction, Ctrl its size. */
  whole(m, q, e) {
    const [cx, cy] = m.centre,
      k = this.p.view().scale;
    if (m.whole === 'middle') {
      m.points = m.from.map((p) => [p[0] + q[0] - m.begun[0], p[1] + q[1] - m.begun[1]]);
      return;
    }
    m.arm = [(q[0] - cx) * k, (q[1] - cy) * k];
    const size = e.ctrlKey ? 1 : Math.max(0.05, Math.hypot(...m.arm) / ARM),
      turn = e.shiftKey ? 0 : Math.atan2(m.arm[1], m.arm[0]),
      a = size * Math.cos(turn),
      b = size * Math.sin(turn);
    m.points = m.from.map((p) => {
      const x = p[0] - cx,
        y = p[1] - cy;
      return [cx + a * x - b * y, cy + b * x + a * y];
    });
  }

  drawn(g, at) {
    const p = this.drawing.map(at);
    g.strokeStyle = HAND;
    g.lineWidth = this.h.tool === 'brush' ? 2 * this.h.brush() * this.p.view().scale : 1.5;
    g.lineCap = g.lineJoin = 'round';
    if (this.h.tool === 'brush') g.globalAlpha = 0.45;
    if (p.length > 2 && this.h.tool !== 'brush') outline(g, p, this.h.tool === 'surface');
    else {
      g.beginPath();
      p.forEach((q, i) => (i ? g.lineTo(...q) : g.moveTo(...q)));
    }
    g.stroke();
    g.globalAlpha = 1;
    if (this.h.tool === 'brush') return;
    for (const q of p) {
      g.fillStyle = HAND;
      g.fillRect(q[0] - 3, q[1] - 3, 6, 6);
    }
  }

  /** Takes a press on a mask's point, or begins a stroke; true when it was taken. */
  down(e) {
    const q = this.p.toPlate(e),
      near = 9 / this.p.view().scale;
    if (this.h.tool === 'brush') {
      this.drawing = [q];
      this.moving = { stroke: true };
      return true;
    }
    if (!this.has(this.h.tool) || this.drawing.length) return false;
    for (const m of this.s.data.masks || []) {
      if (!this.shown(m)) continue;
      const points = this.at(m),
        index = points.findIndex((c) => Math.hypot(c[0] - q[0], c[1] - q[1]) < near);
      if (index < 0) {
        const whole = points.length && this.handle(points, q);
        if (!whole) continue;
        this.moving = { mask: m.id, points, from: points, whole, begun: q, centre: middle(points), arm: [ARM, 0] };
        return true;
      }
      this.moving = { mask: m.id, points, index, feather: e.altKey, width: (m.feathers || [])[index] || 0 };
      return true;
    }
    return false;
  }

  move(e) {
    const q = this.p.toPlate(e),
      m = this.moving;
    m.moved = true;
    if (m.whole) this.whole(m, q, e);
    else if (m.stroke) {
      const last = this.drawing[this.drawing.length - 1];
      if (Math.hypot(q[0] - last[0], q[1] - last[1]) > Math.max(1, this.h.brush() / 3)) this.drawing.push(q);
    } else if (m.feather) m.width = Math.hypot(q[0] - m.points[m.index][0], q[1] - m.points[m.index][1]);
    else m.points[m.index] = q;
    drawAll();
  }

  async up() {
    const m = this.moving,
      frame = this.s.frame;
    if (m.stroke) {
      const xy = text(this.drawing);
      this.drawing = [];
      this.moving = null;
      await post('edit', { action: 'mask-stroke', use: 'COMP', radius: this.h.brush(), frame, xy });
    } else if (m.moved && m.feather)
      await post('edit', { action: 'mask-feather', id: m.mask, index: m.index, feather: m.width.toFixed(1), frame });
    else if (m.moved) await post('edit', { action: 'mask-key', id: m.mask, frame, xy: text(m.points) });
    else if (!m.whole) await post('edit', { action: 'mask-corner', id: m.mask, index: m.index, frame });
    // The next one may be moved already while this one is kept.
    if (this.moving === m) this.moving = null;
    drawAll();
  }

  /** A click with a tool that draws. */
  click(q) {
    const first = this.drawing[0];
    if (this.drawing.length > 2 && Math.hypot(q[0] - first[0], q[1] - first[1]) < 9 / this.p.view().scale) this.close();
    else {
      this.drawing.push(q);
      drawAll();
    }
  }

  async close() {
    const p = this.drawing;
    this.drawing = [];
    if (p.length > 2)
      await post('edit', { action: 'mask-add', use: USES[this.h.tool], frame: this.s.frame, xy: text(p) });
    drawAll();
  }

  key(e) {
    if (!this.drawing.length) return false;
    if (e.key === 'Enter') this.close();
    else if (e.key === 'Escape') this.drawing = [];
    else if (e.key === 'Backspace') this.drawing.pop();
    else return false;
    drawAll();
    return true;
  }
}
