// What lies over the picture: marks, points, ground, sticks, performers' feet. Draws what it is asked for and decides
// nothing.
import { errorColour } from '../base/camera.js';
import { HAND, label } from '../base/draw.js';
import { byHand } from '../page/choice.js';
import { state } from '../page/state.js';

const TRAIL = 12;
const MOST_STICKS = 5;

/** Lines of one look are drawn in one stroke: hundreds of single ones take longer than a frame may. */
class Strokes {
  constructor() {
    this.paths = new Map();
  }

  of(colour, wide, opaque) {
    const key = `${colour} ${wide} ${opaque}`;
    if (!this.paths.has(key)) this.paths.set(key, { colour, wide, opaque, path: new Path2D() });
    return this.paths.get(key).path;
  }

  draw(g) {
    for (const { colour, wide, opaque, path } of this.paths.values()) {
      g.strokeStyle = colour;
      g.lineWidth = wide;
      g.globalAlpha = opaque;
      g.stroke(path);
    }
    g.globalAlpha = 1;
  }
}

/** More than so many chosen ones are not named: nobody could read it. */
const MOST_NAMED = 20;

export class Overlay {
  /** @param picture over which it lies */
  constructor(picture) {
    this.p = picture;
    this.s = picture.s;
  }

  marks(g, at) {
    const colours = new Map((this.s.data.groups || []).flatMap((k) => k.tracks.map((t) => [t, k.colour])));
    const f = this.s.frame,
      gone = new Set(this.s.data.deleted),
      rms = new Map((this.s.data.points || []).map((p) => [p[0], p])),
      t = this.p.toggles,
      rings = new Strokes(),
      trails = new Strokes(),
      off = new Strokes(),
      names = [];
    for (const k of this.s.tracks) {
      const i = f - k.first;
      if (i < 0 || i >= k.n || gone.has(k.id) || byHand(k.id) || k.xy[2 * i] === null) continue;
      const c = at([k.xy[2 * i], k.xy[2 * i + 1]]),
        point = rms.get(k.id),
        err = point ? point[4] : 0,
        mine = this.s.chosen.has(k.id),
        solved = this.p.stage.solved;
      const colour = mine ? HAND : solved ? (point ? errorColour(err) : '#8a8a8a') : colours.get(k.id) || '#f2f2f2',
        wide = mine ? 2 : 1.3;
      if (t.trails) {
        const path = trails.of(colour, wide, mine ? 1 : 0.55);
        for (let j = Math.max(0, i - TRAIL), pen = false; j <= i; j++) {
          if (k.xy[2 * j] === null) {
            pen = false;
            continue;
          }
          const q = at([k.xy[2 * j], k.xy[2 * j + 1]]);
          if (pen) path.lineTo(...q);
          else path.moveTo(...q);
          pen = true;
        }
      }
      const r = mine ? 5.5 : solved && err > 0.6 ? 4.6 : 3.4,
        ring = rings.of(colour, wide, 1);
      ring.moveTo(c[0] + r, c[1]);
      ring.arc(c[0], c[1], r, 0, 7);
      if (solved && t['residuals x 20'] && point && this.s.camera) {
        const q = this.s.camera.project(f, [point[1], point[2], point[3]]);
        if (q) {
          const x = k.xy[2 * i],
            y = k.xy[2 * i + 1],
            path = off.of(colour, wide, 1);
          path.moveTo(...c);
          path.lineTo(...at([x + 20 * (q[0] - x), y + 20 * (q[1] - y)]));
        }
      }
      if (mine) names.push([k.id, c]);
    }
    for (const k of [trails, rings, off]) k.draw(g);
    g.fillStyle = HAND;
    g.font = '11px "Archivo Variable"';
    if (names.length <= MOST_NAMED) for (const [id, c] of names) label(g, id, c[0] + 8, c[1] - 6);
  }

  points(g, world) {
    const ground = new Set(this.s.data.ground ? this.s.data.ground.points : []);
    for (const p of this.s.data.points) {
      const q = world([p[1], p[2], p[3]]);
      if (!q) continue;
      const mine = this.s.chosen.has(p[0]),
        on = ground.has(p[0]);
      g.fillStyle = mine ? HAND : on ? '#ffffff' : 'rgba(230,230,230,.55)';
      g.strokeStyle = 'rgba(0,0,0,.55)';
      g.lineWidth = 1;
      g.beginPath();
      if (on && !mine) g.rect(q[0] - 2, q[1] - 2, 4, 4);
      else g.arc(q[0], q[1], mine ? 4.5 : 2.2, 0, 7);
      g.fill();
      g.stroke();
      if (mine && this.s.chosen.size <= MOST_NAMED) {
        g.fillStyle = HAND;
        g.font = '11px "Archivo Variable"';
        label(g, p[0], q[0] + 7, q[1] - 5);
      }
    }
    for (const y of this.s.data.yardsticks || []) {
      const a = this.s.data.points.find((p) => p[0] === y.from),
        b = this.s.data.points.find((p) => p[0] === y.to);
      if (!a || !b) continue;
      const u = world(a.slice(1, 4)),
        w = world(b.slice(1, 4));
      if (!u || !w) continue;
      g.strokeStyle = '#ececec';
      g.lineWidth = 1.5;
      g.beginPath();
      g.moveTo(...u);
      g.lineTo(...w);
      g.stroke();
      g.fillStyle = '#ececec';
      g.font = '11px "Archivo Variable"';
      label(g, `${y.metres} m`, (u[0] + w[0]) / 2 + 6, (u[1] + w[1]) / 2);
    }
  }

  /** Things that move by themselves: their points and axes where they are now. */
  moved(g, world) {
    for (const o of this.s.data.moved || []) {
      const m = o.frames[this.s.frame];
      if (!m) continue;
      const put = (p) => [0, 4, 8].map((r) => m[r] * p[0] + m[r + 1] * p[1] + m[r + 2] * p[2] + m[r + 3]),
        far = o.points.map((p) => Math.hypot(p[1], p[2], p[3])).sort((a, b) => a - b),
        size = 1.5 * far[far.length >> 1] || 1;
      g.fillStyle = '#f0a35e';
      for (const p of o.points) {
        const q = world(put(p.slice(1, 4))),
          mine = this.s.chosen.has(p[0]);
        if (!q) continue;
        g.fillStyle = mine ? HAND : '#f0a35e';
        g.beginPath();
        g.arc(q[0], q[1], mine ? 4.5 : 2.6, 0, 7);
        g.fill();
      }
      const c = world(put([0, 0, 0]));
      [
        ['#d98880', [size, 0, 0]],
        ['#9cc48a', [0, size, 0]],
        ['#7fb0d0', [0, 0, size]],
      ].forEach(([colour, a]) => {
        const q = world(put(a));
        if (!c || !q) return;
        g.strokeStyle = colour;
        g.lineWidth = 2;
        g.beginPath();
        g.moveTo(...c);
        g.lineTo(...q);
        g.stroke();
      });
      if (c) {
        g.fillStyle = '#f0a35e';
        g.font = '11px "Archivo Variable"';
        label(g, o.name, c[0] + 8, c[1] - 8);
      }
    }
  }

  line(g, world, a, b, steps = 12) {
    let drawing = false;
    g.beginPath();
    for (let i = 0; i <= steps; i++) {
      const t = i / steps,
        q = world([a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2])]);
      if (!q) {
        drawing = false;
        continue;
      }
      if (drawing) g.lineTo(...q);
      else g.moveTo(...q);
      drawing = true;
    }
    g.stroke();
  }

  grid(g, world) {
    const c = this.s.data.catcher,
      n = 8;
    g.lineWidth = 1;
    for (let i = -n; i <= n; i++) {
      g.strokeStyle = i === 0 ? 'rgba(255,255,255,.85)' : 'rgba(255,255,255,.32)';
      const x = Math.round(c.x),
        z = Math.round(c.z);
      this.line(g, world, [x + i, 0, z - n], [x + i, 0, z + n], 40);
      this.line(g, world, [x - n, 0, z + i], [x + n, 0, z + i], 40);
    }
  }

  /** Where level lines of sight end. */
  horizon(g, at, frame = this.s.frame) {
    const eye = this.s.camera.eye(frame);
    g.strokeStyle = HAND;
    g.lineWidth = 1.4;
    g.setLineDash([9, 5]);
    let pen = false;
    g.beginPath();
    for (let a = 0; a <= 360; a += 0.5) {
      const q = this.s.camera.project(frame, [
          eye[0] + 1e5 * Math.cos((a * Math.PI) / 180),
          eye[1],
          eye[2] + 1e5 * Math.sin((a * Math.PI) / 180),
        ]),
        c = q && at(q);
      if (!c) {
        pen = false;
        continue;
      }
      if (pen) g.lineTo(...c);
      else g.moveTo(...c);
      pen = true;
    }
    g.stroke();
    g.setLineDash([]);
  }

  catcher(g, world) {
    const c = this.s.data.catcher,
      x0 = c.x - c.width / 2,
      x1 = c.x + c.width / 2,
      z0 = c.z - c.depth / 2,
      z1 = c.z + c.depth / 2;
    g.strokeStyle = '#ececec';
    g.lineWidth = 1.4;
    g.setLineDash([6, 4]);
    this.line(g, world, [x0, 0, z0], [x1, 0, z0], 60);
    this.line(g, world, [x1, 0, z0], [x1, 0, z1], 60);
    this.line(g, world, [x1, 0, z1], [x0, 0, z1], 60);
    this.line(g, world, [x0, 0, z1], [x0, 0, z0], 60);
    g.setLineDash([]);
  }

  /** A 1.8 m stick at the origin and at every chosen point's foot. */
  stick(g, world) {
    const onCamera = this.p.stage.solved,
      some = this.s.data.points.filter((p) => this.s.chosen.has(p[0]));
    // On the Camera stage sticks stand in the points themselves, and say how far the plate slides against them.
    const feet = onCamera
      ? some.map((p) => [p[1], p[2], p[3], p])
      : [[0, 0, 0], ...some.slice(0, some.length > MOST_STICKS ? 0 : MOST_STICKS).map((p) => [p[1], 0, p[3]])];
    if (onCamera) {
      for (const f of feet) {
        const a = world([f[0], f[1], f[2]]),
          b = world([f[0], f[1] + 0.5, f[2]]);
        if (!a || !b) continue;
        g.strokeStyle = HAND;
        g.lineWidth = 3;
        g.beginPath();
        g.moveTo(...a);
        g.lineTo(...b);
        g.stroke();
        g.fillStyle = HAND;
        g.font = '11px "Archivo Variable"';
        label(g, `slides ${this.slide(f[3]).toFixed(1)} px`, b[0] + 6, b[1]);
      }
      return;
    }
    for (const f of feet) {
      for (let i = 0; i < 6; i++) {
        g.lineWidth = 4;
        g.strokeStyle = i % 2 ? '#1c1c1c' : HAND;
        this.line(g, world, [f[0], 0.3 * i, f[2]], [f[0], 0.3 * (i + 1), f[2]], 3);
      }
      const top = world([f[0], 1.8, f[2]]);
      if (top) {
        g.fillStyle = HAND;
        g.font = '11px "Archivo Variable"';
        label(
          g,
          this.s.data.ground && this.s.data.ground.scaled ? '1.8 m' : '1.8 (no size yet)',
          top[0] + 7,
          top[1] + 4,
        );
      }
    }
  }

  /**
   * How far the plate's mark wanders about a solved point over the shot: the largest way from its mean place, pixels.
   */
  slide(p) {
    const t = this.s.tracks.find((k) => k.id === p[0]),
      off = [];
    if (!t) return 0;
    for (let i = 0; i < t.n; i++) {
      const q = t.xy[2 * i] === null ? null : this.s.camera.project(t.first + i, p.slice(1, 4));
      if (q) off.push([t.xy[2 * i] - q[0], t.xy[2 * i + 1] - q[1]]);
    }
    if (!off.length) return 0;
    const mx = off.reduce((s, o) => s + o[0], 0) / off.length,
      my = off.reduce((s, o) => s + o[1], 0) / off.length;
    return Math.max(...off.map((o) => Math.hypot(o[0] - mx, o[1] - my)));
  }

  /** A ring at the feet of every performer, with its heading: what is dragged. */
  handles(g, world) {
    for (const p of this.s.data.performers) {
      const r = 0.25 + 0.15 * p.heightMetres,
        mine = this.s.performer === p.id,
        h = (p.headingDeg * Math.PI) / 180;
      g.strokeStyle = mine ? HAND : '#f2f2f2';
      g.lineWidth = 2;
      g.beginPath();
      for (let i = 0; i <= 40; i++) {
        const a = (i / 40) * 2 * Math.PI,
          q = world([p.at[0] + r * Math.cos(a), p.at[1], p.at[2] + r * Math.sin(a)]);
        if (q) {
          if (i) g.lineTo(...q);
          else g.moveTo(...q);
        }
      }
      g.stroke();
      this.line(g, world, p.at, [p.at[0] + 1.5 * r * Math.sin(h), p.at[1], p.at[2] + 1.5 * r * Math.cos(h)], 2);
      const q = world(p.at);
      if (q) {
        g.fillStyle = g.strokeStyle;
        g.font = '600 12px "Archivo Variable"';
        label(g, p.name, q[0] + 10, q[1] + 16);
      }
    }
  }
}

/** Solved and picked points that can be chosen in a frame: number and place in plate pixels. */
export function pointsAt(frame) {
  if (!state.camera) return [];
  return state.data.points.map((p) => [p[0], state.camera.project(frame, p.slice(1, 4))]).filter((x) => x[1]);
}

/** The same of things that move. */
export function movedAt(frame) {
  if (!state.camera) return [];
  return (state.data.moved || []).flatMap((o) => {
    const m = o.frames[frame];
    if (!m) return [];
    return o.points
      .map((p) => [
        p[0],
        state.camera.project(
          frame,
          [0, 4, 8].map((r) => m[r] * p[1] + m[r + 1] * p[2] + m[r + 2] * p[3] + m[r + 3]),
        ),
      ])
      .filter((x) => x[1]);
  });
}

/** The same for tracks. */
export function tracksAt(frame) {
  const gone = new Set(state.data.deleted);
  return state.tracks
    .filter((k) => frame >= k.first && frame < k.first + k.n && k.xy[2 * (frame - k.first)] !== null && !gone.has(k.id))
    .map((k) => [k.id, [k.xy[2 * (frame - k.first)], k.xy[2 * (frame - k.first) + 1]]]);
}
