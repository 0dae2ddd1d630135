// Blocking: performers are dragged over the ground, routes drawn, curves bent.
import { errorColour } from '../base/camera.js';
import { HAND } from '../base/draw.js';
import { chosenOne, held, load as loadCast, pressed, showFields, stand, turned, way } from '../page/cast.js';
import { onLoad, post, say } from '../page/net.js';
import { drawAll, onDraw, state } from '../page/state.js';
import { Curves } from '../view/curves.js';
import { drawPieces } from '../view/pieces.js';
import { movedAt, pointsAt } from '../view/overlay.js';

export class BlockHand {
  constructor(picture) {
    this.p = picture;
    this.s = picture.s;
    this.s.drawing = null;
  }

  buttons(look) {
    const b = document.createElement('button');
    b.type = 'button';
    b.textContent = 'draw route';
    b.id = 'draw-route';
    b.setAttribute('aria-pressed', false);
    b.title =
      'click the way of the chosen performer over the ground, here or on the set plan; ' +
      'Enter ends it, Backspace takes a point back, Esc drops it';
    b.addEventListener('click', () => this.toggle());
    look.append(b);
  }

  toggle() {
    if (this.s.drawing) {
      this.finish();
      return;
    }
    if (!chosenOne(this.s)) {
      say('Choose a performer first.');
      return;
    }
    this.s.drawing = [];
    this.shown();
  }

  shown() {
    document.getElementById('draw-route').setAttribute('aria-pressed', !!this.s.drawing);
    drawAll();
  }

  /** A further point on the ground. */
  add(x, z) {
    this.s.drawing.push([x, z]);
    drawAll();
  }

  async finish() {
    const d = this.s.drawing,
      p = chosenOne(this.s);
    this.s.drawing = null;
    if (d && d.length > 1 && p)
      await post('edit', {
        action: 'route-draw',
        id: p.id,
        points: d
          .flat()
          .map((v) => v.toFixed(3))
          .join(','),
      });
    this.shown();
  }

  key(e) {
    if (!this.s.drawing) return false;
    if (e.key === 'Enter') this.finish();
    else if (e.key === 'Backspace') {
      this.s.drawing.pop();
      drawAll();
    } else if (e.key === 'Escape') {
      this.s.drawing = null;
      this.shown();
    } else return false;
    return true;
  }

  down(e) {
    if (e.button !== 0 || !this.s.camera) return false;
    if (!this.s.drawing) return this.grab(e);
    const q = this.s.camera.onLevel(this.s.frame, ...this.p.toPlate(e), 0);
    if (q) this.add(q[0], q[2]);
    return true;
  }

  /** A performer taken hold of: a press chooses it, a drag moves it over the ground. */
  grab(e) {
    const p = this.performerAt(e);
    if (!p) return false;
    this.s.performer = p.id;
    // Wherever it was taken hold of, its foot stays as far from the pointer as it was.
    const q = this.p.toPlate(e),
      foot = this.s.camera.project(this.s.frame, p.at) || q;
    this.moving = { performer: p, x: e.clientX, y: e.clientY, off: [foot[0] - q[0], foot[1] - q[1]], moved: false };
    drawAll();
    return true;
  }

  move(e) {
    const m = this.moving;
    if (!m.moved && Math.hypot(e.clientX - m.x, e.clientY - m.y) < 4) return;
    m.moved = true;
    const [x, y] = this.p.toPlate(e),
      q = this.s.camera.onLevel(this.s.frame, x + m.off[0], y + m.off[1], m.performer.at[1]);
    if (!q) return;
    m.performer.at = q;
    m.performer.held = true;
    drawAll();
  }

  up() {
    const { performer: p, moved } = this.moving;
    this.moving = null;
    if (moved)
      post('edit', { action: 'move', id: p.id, frame: this.s.frame, x: p.at[0].toFixed(4), z: p.at[2].toFixed(4) });
  }

  cursor(e) {
    return this.performerAt(e) ? 'move' : 'default';
  }

  performerAt(e) {
    if (!this.s.camera) return null;
    const q = this.p.toPlate(e);
    for (const p of [...this.s.data.performers].reverse()) {
      const g = this.s.camera.onLevel(this.s.frame, q[0], q[1], p.at[1]);
      if (g && Math.hypot(g[0] - p.at[0], g[2] - p.at[2]) < 0.4 + 0.2 * p.heightMetres) return p;
      const foot = this.s.camera.project(this.s.frame, p.at),
        head = this.s.camera.project(this.s.frame, [p.at[0], p.at[1] + p.heightMetres, p.at[2]]);
      if (!foot || !head || q[1] >= foot[1] + 5 || q[1] <= head[1]) continue;
      if (Math.abs(q[0] - foot[0]) < 0.2 * (foot[1] - head[1])) return p;
    }
    return null;
  }

  draw(g, at) {
    const c = this.s.camera;
    if (!c || !this.s.blocking) return;
    const world = (q) => {
      const p = c.project(this.s.frame, q);
      return p && at(p);
    };
    const line = (points, colour) => {
      g.strokeStyle = colour;
      g.lineWidth = 2;
      g.beginPath();
      let pen = false;
      for (const q of points) {
        const s = world([q[0], 0, q[1]]);
        if (!s) {
          pen = false;
          continue;
        }
        if (pen) g.lineTo(...s);
        else g.moveTo(...s);
        pen = true;
      }
      g.stroke();
      for (const q of points) {
        const s = world([q[0], 0, q[1]]);
        if (s && points.length < 60) {
          g.fillStyle = colour;
          g.beginPath();
          g.arc(...s, 3, 0, 7);
          g.fill();
        }
      }
    };
    for (const b of this.s.blocking.values()) if (b.route) line(way(b), this.s.performer === b.id ? HAND : '#cfcfcf');
    if (this.s.drawing) line(this.s.drawing, HAND);
  }
}

export const view = {
  toggles: { performers: true, pieces: false, grid: false, points: false, routes: true },
  hand: (picture) => new BlockHand(picture),
  solid: async (canvas, state) => new (await import('../view/solid.js')).Solid(canvas, state),
  flips: true,
  performers: true,
  pieces: (g, world) => drawPieces(g, state, world),
  overlay: (marks, g, world, t) => {
    if (t.points) marks.moved(g, world);
    marks.handles(g, world);
  },
  things: (picture) => (picture.toggles.points ? [...pointsAt(state.frame), ...movedAt(state.frame)] : []),
  strip: slides,
};

/** How far feet slide, frame by frame. */
function slides() {
  const b = chosenOne(state),
    first = state.data.plate.first,
    seen = b ? b.slide.filter((v) => v !== null) : [],
    top = Math.max(2, ...seen);
  if (!seen.length) return { label: 'frames', of: () => [0.04, '#6a6a6a'] };
  return {
    label: `how far what touches the ground slides by frame, cm: ${b.name}`,
    of: (f) => {
      const v = b.slide[f - first];
      if (v === null || v === undefined) return [0.02, '#4a4a4a'];
      return [Math.max(0.03, v / top), v > 1 ? errorColour(v) : '#cfcfcf'];
    },
    line: [1 / top, '1'],
  };
}

export function open({ picture }) {
  const curves = new Curves(document.getElementById('curves'), document.getElementById('curvebar'), state);
  onLoad((before, now) => {
    const was = before && before.performers;
    // Whoever was just placed is the one that is worked on.
    const placed = was && now.performers && now.performers.filter((p) => !was.some((q) => q.id === p.id));
    if (placed && placed.length === 1) state.performer = placed[0].id;
    return now.plate && loadCast(state);
  });
  onDraw(() => curves.draw());
  document.body.addEventListener('panel-exchanged', () => showFields(state));
  document.body.addEventListener('click', (e) => pressed(e, state));
  document.body.addEventListener('pointermove', turned);
  for (const name of ['pointerdown', 'pointerup'])
    document.body.addEventListener(name, (e) =>
      held(e, state, () => {
        if (picture.solid) picture.solid.changed();
        drawAll();
      }),
    );
}

/** Everybody stands where the frame has them before anything is drawn. */
export function beforeDrawing() {
  stand(state);
  showFields(state);
}
