// The set plan: the set from above, -Z up the page. Performers can be dragged on it.
import { Apart } from '../base/apart.js';
import { HAND } from '../base/draw.js';
import { way } from '../page/cast.js';
import { choose } from '../page/choice.js';
import { post } from '../page/net.js';
import { drawAll } from '../page/state.js';
import { lampNow } from './lamps.js';
import { SunDial } from './sundial.js';

const NS = 'http://www.w3.org/2000/svg';

/** Of a letter, against its height. */
const WIDE = 0.52;

export class Plan {
  constructor(svg, state, stage) {
    this.labels = new Apart();
    this.svg = svg;
    this.s = state;
    this.stage = stage;
    this.dial = new SunDial(this);
    svg.addEventListener('pointerdown', (e) => this.down(e));
    svg.addEventListener('pointermove', (e) => this.move(e));
    svg.addEventListener('pointerup', (e) => this.up(e));
  }

  el(name, at, text) {
    const e = document.createElementNS(NS, name);
    if (name === 'text' && typeof at.x === 'number')
      at.y = this.labels.line(at.x, at.y, WIDE * at['font-size'] * String(text).length, 1.2 * at['font-size']);
    for (const k in at) e.setAttribute(k, at[k]);
    if (text !== undefined) e.textContent = text;
    this.svg.append(e);
    return e;
  }

  frameAll() {
    const d = this.s.data,
      xs = [],
      zs = [];
    for (const f of this.s.camera.frames.values()) {
      xs.push(f.m[3]);
      zs.push(f.m[11]);
    }
    for (const p of d.performers) {
      xs.push(p.at[0] - 1, p.at[0] + 1);
      zs.push(p.at[2] - 1, p.at[2] + 1);
    }
    if (this.s.blocking)
      for (const b of this.s.blocking.values())
        for (const q of way(b)) {
          xs.push(q[0]);
          zs.push(q[1]);
        }
    const px = d.points.map((p) => p[1]).sort((a, b) => a - b),
      pz = d.points.map((p) => p[3]).sort((a, b) => a - b),
      q = (a, t) => a[Math.floor(t * (a.length - 1))];
    if (px.length) {
      xs.push(q(px, 0.08), q(px, 0.92));
      zs.push(q(pz, 0.15), q(pz, 0.95));
    }
    const w = this.svg.clientWidth,
      h = this.svg.clientHeight,
      x0 = Math.min(...xs),
      x1 = Math.max(...xs),
      z0 = Math.min(...zs),
      z1 = Math.max(...zs);
    this.k = Math.min((w - 60) / Math.max(x1 - x0, 1), (h - 40) / Math.max(z1 - z0, 1));
    this.ox = w / 2 - (this.k * (x0 + x1)) / 2;
    this.oz = h / 2 - (this.k * (z0 + z1)) / 2;
  }

  at(x, z) {
    return [this.ox + this.k * x, this.oz + this.k * z];
  }

  draw() {
    this.svg.replaceChildren();
    this.labels.clear();
    if (!this.s.camera) {
      this.el(
        'text',
        { x: '50%', y: '50%', 'text-anchor': 'middle', fill: '#969696', 'font-size': 12 },
        'The plan appears when the camera is solved.',
      );
      return;
    }
    // While a route is drawn the plan must not move under the hand.
    if (!this.dragging && !this.s.drawing) this.frameAll();
    const d = this.s.data,
      w = this.svg.clientWidth,
      h = this.svg.clientHeight;
    const metre = this.k,
      step = metre > 24 ? 1 : metre > 5 ? 5 : 10;
    for (let x = Math.floor(-this.ox / this.k / step) * step; this.at(x, 0)[0] < w; x += step) {
      const X = this.at(x, 0)[0];
      this.el('path', { d: `M${X} 0V${h}`, stroke: x === 0 ? '#3c3c3c' : '#262626' });
    }
    for (let z = Math.floor(-this.oz / this.k / step) * step; this.at(0, z)[1] < h; z += step) {
      const Z = this.at(0, z)[1];
      this.el('path', { d: `M0 ${Z}H${w}`, stroke: z === 0 ? '#3c3c3c' : '#262626' });
    }
    for (const p of d.points) {
      const [x, y] = this.at(p[1], p[3]),
        mine = this.s.chosen.has(p[0]);
      if (x < 0 || y < 0 || x > w || y > h) continue;
      this.el('circle', { cx: x, cy: y, r: mine ? 3.5 : 1.3, fill: mine ? HAND : '#8c8c8c' });
    }
    const c = d.catcher,
      a = this.at(c.x - c.width / 2, c.z - c.depth / 2);
    this.el('rect', {
      x: a[0],
      y: a[1],
      width: c.width * this.k,
      height: c.depth * this.k,
      fill: 'none',
      stroke: '#6b6b6b',
      'stroke-dasharray': '5 4',
    });
    // How far path and chosen points may be off, one standard deviation.
    if (this.stage.solved) {
      for (const f of this.s.camera.frames.values())
        if (f.off * this.k > 0.6) {
          const q = this.at(f.m[3], f.m[11]);
          this.el('circle', { cx: q[0], cy: q[1], r: Math.min(60, f.off * this.k), fill: '#8fa8b8', opacity: 0.1 });
        }
      for (const p of d.points)
        if (p[5] * this.k > 1.5) {
          const q = this.at(p[1], p[3]);
          if (q[0] > 0 && q[1] > 0 && q[0] < w && q[1] < h)
            this.el('circle', {
              cx: q[0],
              cy: q[1],
              r: Math.min(40, p[5] * this.k),
              fill: 'none',
              stroke: this.s.chosen.has(p[0]) ? HAND : '#4d5a63',
            });
        }
    }
    const path = [...this.s.camera.frames.values()].map((f) => this.at(f.m[3], f.m[11]));
    this.el('path', {
      d: 'M' + path.map((q) => q.map((v) => v.toFixed(1)).join(' ')).join('L'),
      fill: 'none',
      stroke: '#ececec',
      'stroke-width': 1.6,
    });
    let length = 0,
      last = null;
    for (const f of this.s.camera.frames.values()) {
      if (last) length += Math.hypot(f.m[3] - last[3], f.m[7] - last[7], f.m[11] - last[11]);
      last = f.m;
    }
    const scaled = d.ground && d.ground.scaled,
      end = path[path.length - 1];
    this.el(
      'text',
      { x: Math.min(end[0] + 8, w - 130), y: Math.min(end[1] + 14, h - 6), fill: '#b3b3b3', 'font-size': 10.5 },
      `camera path ${length.toFixed(1)} ${scaled ? 'm' : '(no size yet)'}`,
    );
    const now = this.s.camera.at(this.s.frame),
      e = this.at(now.m[3], now.m[11]),
      left = this.s.camera.ray(this.s.frame, 0, this.s.camera.cy),
      right = this.s.camera.ray(this.s.frame, d.plate.width, this.s.camera.cy);
    const far = (v) => {
        const n = Math.hypot(v[0], v[2]) || 1;
        return [e[0] + (v[0] / n) * 130, e[1] + (v[2] / n) * 130];
      },
      L = far(left),
      R = far(right);
    this.el('path', { d: `M${e}L${L}L${R}Z`, fill: HAND, opacity: 0.06 });
    this.el('path', { d: `M${e}L${L}M${e}L${R}`, stroke: HAND, fill: 'none' });
    this.el('circle', { cx: e[0], cy: e[1], r: 4, fill: HAND });
    for (const y of d.yardsticks || []) {
      const p = d.points.find((q) => q[0] === y.from),
        q = d.points.find((r) => r[0] === y.to);
      if (!p || !q) continue;
      const u = this.at(p[1], p[3]),
        v = this.at(q[1], q[3]);
      this.el('path', { d: `M${u}L${v}`, stroke: '#ececec' });
      // A distance that runs upwards is a dot from above and gets no label.
      if (Math.hypot(u[0] - v[0], u[1] - v[1]) > 14)
        this.el(
          'text',
          { x: (u[0] + v[0]) / 2 + 4, y: (u[1] + v[1]) / 2 - 4, fill: '#ececec', 'font-size': 10.5 },
          `${y.metres} m`,
        );
    }
    for (const p of d.pieces || []) {
      const mine = this.s.piece === p.id,
        path = p.edges
          .filter((e) => Math.hypot(e[3] - e[0], e[5] - e[2]) * this.k > 1)
          .slice(0, 400)
          .map(
            (e) => `M${this.at(e[0], e[2]).map((v) => v.toFixed(1))}L${this.at(e[3], e[5]).map((v) => v.toFixed(1))}`,
          )
          .join('');
      this.el('path', { d: path, stroke: mine ? HAND : '#8fa8b8', 'stroke-width': mine ? 1.8 : 1.2, fill: 'none' });
      if (!this.stage.set) continue;
      const q = this.at(p.at[0], p.at[2]);
      this.el('circle', {
        cx: q[0],
        cy: q[1],
        r: 5,
        fill: mine ? HAND : '#8fa8b8',
        'fill-opacity': 0.5,
        'data-piece': p.id,
        style: 'cursor:move',
      });
      this.el(
        'text',
        { x: q[0] + 8, y: q[1] + 4, fill: mine ? HAND : '#b3b3b3', 'font-size': 10.5, 'pointer-events': 'none' },
        p.name,
      );
    }
    const o = this.at(0, 0);
    this.el('path', { d: `M${o[0] - 6} ${o[1]}l6 -6 6 6 -6 6z`, fill: 'none', stroke: '#ececec' });
    if (!d.performers.length)
      this.el('text', { x: o[0] + 10, y: o[1] + 4, fill: '#b3b3b3', 'font-size': 10.5 }, 'origin');
    if (this.stage.performers && this.s.blocking) this.routes();
    for (const p of d.performers) {
      const q = this.at(p.at[0], p.at[2]),
        r = Math.max(7, this.k * 0.22 * p.heightMetres),
        t = (p.headingDeg * Math.PI) / 180,
        mine = this.s.performer === p.id;
      this.el('circle', {
        cx: q[0],
        cy: q[1],
        r,
        fill: mine ? 'rgba(212,225,87,.25)' : 'rgba(236,236,236,.14)',
        stroke: mine ? HAND : '#ececec',
        'stroke-width': 1.5,
        'data-performer': p.id,
        style: this.stage.performers ? 'cursor:move' : '',
      });
      this.el('path', {
        d: `M${q}l${r * 1.7 * Math.sin(t)} ${r * 1.7 * Math.cos(t)}`,
        stroke: mine ? HAND : '#ececec',
        'stroke-width': 1.5,
        'pointer-events': 'none',
      });
      this.el(
        'text',
        { x: q[0] + r + 4, y: q[1] + 4, fill: '#ececec', 'font-size': 10.5, 'pointer-events': 'none' },
        p.name,
      );
    }
    this.dial.draw(w - 48, 48);
    for (const l of this.s.data.lamps || []) {
      const k = lampNow(l),
        q = this.at(k[0], k[2]),
        shown = l.on ? 1 : 0.4;
      this.el('circle', { cx: q[0], cy: q[1], r: 4, fill: '#f5c977', opacity: shown });
      this.el('path', { d: `M${q}l${14 * k[3]} ${14 * k[5]}`, stroke: '#f5c977', opacity: shown });
      this.el('text', { x: q[0] + 8, y: q[1] + 4, fill: '#f5c977', 'font-size': 10.5, opacity: shown }, l.name);
    }
    if (this.box) {
      const [x0, y0, x1, y1] = this.box;
      this.el('rect', {
        x: Math.min(x0, x1),
        y: Math.min(y0, y1),
        width: Math.abs(x1 - x0),
        height: Math.abs(y1 - y0),
        fill: 'none',
        stroke: HAND,
        'stroke-dasharray': '4 3',
      });
    }
    const bar = this.k * step;
    this.el('path', { d: `M14 ${h - 12}h${bar}m0 -4v8M14 ${h - 16}v8`, stroke: '#b3b3b3', fill: 'none' });
    this.el(
      'text',
      { x: 20 + bar, y: h - 8, fill: '#b3b3b3', 'font-size': 10.5 },
      scaled ? `${step} m` : `${step} unit${step > 1 ? 's' : ''}`,
    );
  }

  /** Ways over the shot; the points of the chosen one's route can be dragged. */
  routes() {
    for (const b of this.s.blocking.values()) {
      const mine = this.s.performer === b.id || this.s.blocking.size === 1,
        colour = mine ? HAND : '#cfcfcf';
      const path = way(b).map((q) => this.at(...q).map((v) => v.toFixed(1)));
      if (path.length > 1)
        this.el('path', { d: 'M' + path.join('L'), fill: 'none', stroke: colour, 'stroke-width': 1.3, opacity: 0.8 });
      if (!b.route || !mine) continue;
      for (let i = 0; i < b.route.points.length; i += 2) {
        const q = this.at(b.route.points[i], b.route.points[i + 1]);
        this.el('rect', {
          x: q[0] - 4,
          y: q[1] - 4,
          width: 8,
          height: 8,
          fill: '#171717',
          stroke: HAND,
          'data-route': b.id,
          'data-point': i / 2,
          style: 'cursor:move',
        });
      }
    }
    if (this.s.drawing && this.s.drawing.length) {
      const path = this.s.drawing.map((q) => this.at(...q));
      this.el('path', { d: 'M' + path.join('L'), fill: 'none', stroke: HAND, 'stroke-width': 1.6 });
      for (const q of path) this.el('circle', { cx: q[0], cy: q[1], r: 3.5, fill: HAND });
    }
  }

  down(e) {
    if (this.s.drawing && this.s.camera) {
      const b = this.svg.getBoundingClientRect();
      this.s.drawing.push([(e.clientX - b.left - this.ox) / this.k, (e.clientY - b.top - this.oz) / this.k]);
      drawAll();
      return;
    }
    if (this.dial.down(e)) return;
    if (e.target.dataset && e.target.dataset.route) {
      this.dragging = {
        of: this.s.blocking.get(Number(e.target.dataset.route)),
        routePoint: Number(e.target.dataset.point),
      };
      this.svg.setPointerCapture(e.pointerId);
      return;
    }
    const id = e.target.dataset && e.target.dataset.performer,
      piece = e.target.dataset && e.target.dataset.piece;
    if (piece) {
      this.dragging = this.s.data.pieces.find((p) => p.id === Number(piece));
      this.s.piece = this.dragging.id;
      this.begun = [...this.dragging.at];
      this.svg.setPointerCapture(e.pointerId);
      drawAll();
      return;
    }
    if (this.stage.set && this.s.camera && e.shiftKey) {
      const b = this.svg.getBoundingClientRect();
      this.box = [e.clientX - b.left, e.clientY - b.top, e.clientX - b.left, e.clientY - b.top];
      this.svg.setPointerCapture(e.pointerId);
      return;
    }
    if (this.stage.set && this.s.camera) {
      const b = this.svg.getBoundingClientRect(),
        x = e.clientX - b.left,
        y = e.clientY - b.top;
      let best = null,
        near = 9;
      for (const p of this.s.data.points) {
        const q = this.at(p[1], p[3]),
          r = Math.hypot(q[0] - x, q[1] - y);
        if (r < near) {
          near = r;
          best = p[0];
        }
      }
      if (best !== null) choose([best], e.shiftKey);
    }
    if (!id || !this.stage.performers) return;
    this.dragging = this.s.data.performers.find((p) => p.id === Number(id));
    this.s.performer = this.dragging.id;
    this.svg.setPointerCapture(e.pointerId);
    drawAll();
  }

  move(e) {
    if (this.dial.move(e)) return;
    if (this.box) {
      const b = this.svg.getBoundingClientRect();
      this.box[2] = e.clientX - b.left;
      this.box[3] = e.clientY - b.top;
      drawAll();
      return;
    }
    if (!this.dragging) return;
    const b = this.svg.getBoundingClientRect();
    if (this.dragging.routePoint !== undefined) {
      const d = this.dragging,
        i = 2 * d.routePoint;
      d.of.route.points[i] = (e.clientX - b.left - this.ox) / this.k;
      d.of.route.points[i + 1] = (e.clientY - b.top - this.oz) / this.k;
      this.moved = true;
      drawAll();
      return;
    }
    this.dragging.at = [
      (e.clientX - b.left - this.ox) / this.k,
      this.dragging.at[1],
      (e.clientY - b.top - this.oz) / this.k,
    ];
    this.dragging.held = true;
    this.moved = true;
    if (this.begun) {
      // The piece goes along until what was built there comes back.
      const p = this.dragging,
        dx = p.at[0] - this.begun[0],
        dz = p.at[2] - this.begun[2];
      for (const v of p.edges) {
        v[0] += dx;
        v[2] += dz;
        v[3] += dx;
        v[5] += dz;
      }
      for (let i = 0; i < p.xyz.length; i += 3) {
        p.xyz[i] += dx;
        p.xyz[i + 2] += dz;
      }
      this.begun = [...p.at];
    }
    drawAll();
  }

  /** Shift and drag chooses what lies under a box; shift and a press one point more. */
  boxed() {
    const [x0, y0, x1, y1] = this.box,
      l = Math.min(x0, x1),
      r = Math.max(x0, x1),
      t = Math.min(y0, y1),
      b = Math.max(y0, y1),
      near = 9;
    this.box = null;
    const all = this.s.data.points.map((p) => [p[0], this.at(p[1], p[3])]);
    if (r - l < 4 && b - t < 4) {
      const best = all.map((p) => [p[0], Math.hypot(p[1][0] - x0, p[1][1] - y0)]).sort((a, c) => a[1] - c[1])[0];
      if (best && best[1] < near) choose([best[0]], true);
    } else
      choose(
        all.filter((p) => p[1][0] > l && p[1][0] < r && p[1][1] > t && p[1][1] < b).map((p) => p[0]),
        true,
      );
    drawAll();
  }

  up() {
    if (this.dial.up()) return;
    if (this.box) {
      this.boxed();
      return;
    }
    const p = this.dragging,
      piece = !!this.begun;
    this.dragging = null;
    this.begun = null;
    if (this.stage.performers && p && p.routePoint !== undefined) {
      if (this.moved)
        post('edit', {
          action: 'route-draw',
          id: p.of.id,
          points: p.of.route.points.map((v) => v.toFixed(3)).join(','),
        });
      this.moved = false;
      return;
    }
    if (p && this.moved)
      post('edit', {
        ...(piece ? { action: 'piece-set' } : { action: 'move', frame: this.s.frame }),
        id: p.id,
        x: p.at[0].toFixed(4),
        z: p.at[2].toFixed(4),
      });
    this.moved = false;
  }
}
