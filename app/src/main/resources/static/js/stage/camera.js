// What a camera that stands still is matched by, drawn over the frame: lines along the set's axes, a rectangle, known
// places. While something is dragged the perspective it would give is asked for and its grid shown.
import { Camera, errorColour } from '../base/camera.js';
import { AXES, label } from '../base/draw.js';
import { choose } from '../page/choice.js';
import { deletes } from '../page/deleting.js';
import { post } from '../page/net.js';
import { drawAll, onDraw, shot, state } from '../page/state.js';
import { Outside } from '../view/outside.js';
import { tracksAt } from '../view/overlay.js';

const SHAPE = '#e8c56a',
  CORNERS = ['near left', 'near right', 'far right', 'far left'],
  UPRIGHT = ['bottom left', 'bottom right', 'top right', 'top left'];

export class Lines {
  constructor(picture) {
    this.p = picture;
    this.s = picture.s;
    this.tool = 'X';
    this.corners = [];
  }

  buttons(look) {
    const one = (tool, text, title, colour) => {
      const b = document.createElement('button');
      b.type = 'button';
      b.textContent = text;
      b.title = title;
      b.dataset.axis = tool;
      b.hidden = true;
      b.style.boxShadow = `inset 0 -2px ${colour}`;
      b.addEventListener('click', () => {
        this.tool = tool;
        this.corners = [];
        drawAll();
      });
      look.append(b);
    };
    one('X', 'x lines', 'draw along edges that run to the right', AXES.X);
    one('Y', 'y lines', 'draw along edges that stand upright', AXES.Y);
    one('Z', 'z lines', 'draw along edges that run in depth', AXES.Z);
    one('rect', 'rectangle', 'click the four corners of one whose proportions are known', SHAPE);
    one('place', 'known place', 'click a place whose numbers are known; they are typed at the right', SHAPE);
  }

  /** Only a locked camera has lines. */
  shown() {
    const on = !!(this.s.data && this.s.data.lines);
    document.querySelectorAll('[data-axis]').forEach((b) => {
      b.hidden = !on;
      b.setAttribute('aria-pressed', on && b.dataset.axis === this.tool);
    });
    // What is shown of solved marks means nothing here.
    for (const name of ['residuals x 20', 'points', 'stick', 'hold still']) {
      const b = document.querySelector(`[data-toggle="${name}"]`);
      if (b) b.hidden = on;
    }
    return on;
  }

  ends(l) {
    return [
      [l.fromX, l.fromY],
      [l.toX, l.toY],
    ];
  }

  rectangle() {
    const r = this.s.data.match.rectangle,
      c = r && r.corners;
    return this.moving && this.moving.rect
      ? this.moving.rect
      : c
        ? [0, 1, 2, 3].map((i) => [c[2 * i], c[2 * i + 1]])
        : this.corners;
  }

  draw(g, at) {
    if (!this.shown()) return;
    const dot = (q, colour) => {
      g.fillStyle = colour;
      g.beginPath();
      g.arc(q[0], q[1], 3.5, 0, 7);
      g.fill();
    };
    const one = (a, b, axis) => {
      const u = at(a),
        v = at(b);
      g.strokeStyle = AXES[axis];
      g.lineWidth = 2;
      g.beginPath();
      g.moveTo(...u);
      g.lineTo(...v);
      g.stroke();
      dot(u, AXES[axis]);
      dot(v, AXES[axis]);
    };
    this.s.data.lines.forEach((l, i) => {
      const e = this.moving && this.moving.index === i ? this.moving.ends : this.ends(l);
      one(...e, l.axis);
    });
    if (this.moving && this.moving.ends && this.moving.index === undefined) one(...this.moving.ends, this.tool);
    const r = this.rectangle().map(at),
      names = this.s.data.match.rectangle && this.s.data.match.rectangle.standing ? UPRIGHT : CORNERS;
    g.font = '11px "Archivo Variable"';
    g.strokeStyle = SHAPE;
    g.lineWidth = 1.6;
    if (r.length) {
      g.beginPath();
      r.forEach((q, i) => (i ? g.lineTo(...q) : g.moveTo(...q)));
      if (r.length === 4) g.closePath();
      g.stroke();
    }
    r.forEach((q, i) => {
      dot(q, SHAPE);
      label(g, names[i], q[0] + 7, q[1] + 4);
    });
    this.s.data.match.points.forEach((p, i) => {
      const q = at(this.moving && this.moving.place === i ? this.moving.at : [p.x, p.y]);
      dot(q, SHAPE);
      g.font = '11px "Archivo Variable"';
      label(g, `${p.position.x}, ${p.position.y}, ${p.position.z}`, q[0] + 7, q[1] - 5);
    });
    if (this.moving && this.live) {
      // The grid this would give: what the lines lie on must lie on it.
      const keep = this.s.camera;
      this.s.camera = this.live;
      this.p.grid(g, (q) => {
        const k = this.live.project(this.live.first, q);
        return k && at(k);
      });
      this.p.horizon(g, at, this.live.first);
      this.s.camera = keep;
    }
  }

  /** Takes a press: on an end, corner or place it is moved, elsewhere something begins. */
  down(e) {
    if (e.button !== 0 || e.shiftKey || !this.shown()) return false;
    const q = this.p.toPlate(e),
      near = 9 / this.p.view().scale,
      on = (c) => Math.hypot(c[0] - q[0], c[1] - q[1]) < near;
    for (const [i, l] of this.s.data.lines.entries()) {
      const ends = this.ends(l),
        k = ends.findIndex(on);
      if (k >= 0) {
        this.moving = { index: i, axis: l.axis, ends, end: k };
        return true;
      }
    }
    if (this.s.data.match.rectangle) {
      const rect = this.rectangle(),
        k = rect.findIndex(on);
      if (k >= 0) {
        this.moving = { rect, end: k };
        return true;
      }
    }
    const place = this.s.data.match.points.findIndex((p) => on([p.x, p.y]));
    if (place >= 0) {
      this.moving = { place, at: q };
      return true;
    }
    if (this.tool === 'rect') {
      if (this.s.data.match.rectangle) return false;
      this.corners.push(q);
      if (this.corners.length === 4)
        this.send({
          action: 'rect-set',
          corners: this.corners
            .flat()
            .map((v) => v.toFixed(2))
            .join(','),
        }).then(() => {
          this.corners = [];
          drawAll();
        });
      drawAll();
      return true;
    }
    if (this.tool === 'place') {
      this.send({ action: 'place-add', px: q[0].toFixed(2), py: q[1].toFixed(2) });
      return true;
    }
    this.moving = { ends: [q, q], end: 1 };
    return true;
  }

  move(e) {
    const q = this.p.toPlate(e),
      m = this.moving;
    if (m.ends) m.ends[m.end] = q;
    else if (m.rect) m.rect[m.end] = q;
    else m.at = q;
    this.ask();
    drawAll();
  }

  /** What is changing, as the form would send it; null while a line is too short. */
  fields() {
    const m = this.moving;
    if (m.rect)
      return {
        action: 'rect-set',
        corners: m.rect
          .flat()
          .map((v) => v.toFixed(2))
          .join(','),
      };
    if (m.place !== undefined)
      return { action: 'place-set', index: m.place, px: m.at[0].toFixed(2), py: m.at[1].toFixed(2) };
    const [a, b] = m.ends;
    if (Math.hypot(a[0] - b[0], a[1] - b[1]) <= 6) return null;
    const of = {
      fromX: a[0].toFixed(2),
      fromY: a[1].toFixed(2),
      toX: b[0].toFixed(2),
      toY: b[1].toFixed(2),
      axis: m.axis || this.tool,
    };
    return m.index === undefined ? { action: 'line-add', ...of } : { action: 'line-set', index: m.index, ...of };
  }

  /** One question at a time; the last position is always asked for. */
  async ask() {
    if (this.asking) {
      this.again = true;
      return;
    }
    const of = this.fields();
    if (!of) return;
    this.asking = true;
    try {
      const answer = await fetch(`/shots/${shot}/camera/perspective`, {
        method: 'POST',
        body: new URLSearchParams(of),
        headers: { 'X-CSRF-TOKEN': document.body.dataset.csrf },
      });
      const d = answer.ok ? await answer.json() : {};
      this.live = d.camera ? new Camera(d.camera) : null;
      this.p.badge.hidden = false;
      this.p.said = d.camera ? `would meet within ${d.rms.toFixed(2)} px` : d.trouble || '';
    } finally {
      this.asking = false;
    }
    if (!this.moving) {
      this.live = null;
      this.p.said = '';
      return;
    }
    drawAll();
    if (this.again) {
      this.again = false;
      this.ask();
    }
  }

  send(fields) {
    return post('edit', { ...fields });
  }

  async up() {
    const of = this.fields(),
      mine = this.moving;
    if (of) await this.send(of);
    // The next one may be drawn already while this one is kept.
    if (this.moving === mine) {
      this.moving = null;
      this.live = null;
      this.p.said = '';
    }
    drawAll();
  }
}

export const view = {
  toggles: {
    marks: true,
    'residuals x 20': true,
    points: false,
    grid: false,
    horizon: false,
    stick: false,
    'hold still': false,
  },
  hand: (picture) => new Lines(picture),
  box: true,
  solved: true,
  things: () => tracksAt(state.frame),
  overlay: (marks, g, world, toggles) => toggles.points && marks.moved(g, world),
  strip: errors,
};

/** The solve's error, frame by frame. */
function errors() {
  if (!state.camera) return null;
  const top = Math.max(1, 1.2 * Math.max(...[...state.camera.frames.values()].map((f) => f.rms)));
  return {
    label: 'reprojection error by frame, px',
    of: (f) => {
      const k = state.camera.frames.get(f);
      return k ? [k.rms / top, errorColour(k.rms)] : [0, '#000'];
    },
    line: [0.5 / top, '0.5'],
  };
}

function central() {
  const { width, height } = state.data.plate;
  let best = null,
    least = Infinity;
  for (const p of state.data.points) {
    const q = state.camera.project(state.frame, p.slice(1, 4)),
      d = q ? Math.hypot(q[0] - width / 2, q[1] - height / 2) : Infinity;
    if (d < least) [best, least] = [p[0], d];
  }
  return best;
}

export function open({ picture }) {
  const outside = new Outside(
    document.getElementById('outside'),
    state,
    (f) => (picture.ready(f) ? picture.image(f) : null),
    false,
  );
  onDraw(() => state.data && !state.playing && outside.draw());
  deletes('tracks');
  // Both are about a point: with none chosen, about the one nearest to the middle of the picture.
  for (const name of ['stick', 'hold still'])
    document.querySelector(`[data-toggle="${name}"]`).addEventListener('click', () => {
      const id = state.chosen.size || !state.camera ? null : central();
      if (id !== null) choose([id], false);
    });
}
