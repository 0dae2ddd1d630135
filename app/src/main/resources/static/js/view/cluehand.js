// What the light is found by, marked in the plate: shadows by foot, top and tip; ground in the sun and in the shade.
import { HAND, label } from '../base/draw.js';
import { post } from '../page/net.js';
import { drawAll, state } from '../page/state.js';
import { handles, nearest } from './handles.js';
import { MapBehind, turnNow } from './mapbehind.js';
import { direction, sunsNow } from './suns.js';

const REAL = '#7fb2e5',
  LIT = '#f2d06b',
  SHADE = '#8d8fd6';

const STEPS = ['foot', 'top', 'tip of the shadow'];
/** What is marked on the plate by so many places, and what is said meanwhile. */
const MARKS = {
  shadow: STEPS.map((k) => `click the ${k}`),
  lit: ['click ground in the sun'],
  shade: ['click that ground in the shade'],
  chart: Array(4).fill("click the chart's four corners, going round"),
  edge: ["click in the sun beside a shadow's edge", 'click in the shade, straight across the edge'],
  grey: ['click the middle of the grey ball', 'click its rim'],
  pair: ['now click the same thing in the plate'],
};

/** What is put into the set by a click on the ground. */
const PUT = {
  lamp: { say: 'click the ground under the lamp', fields: { action: 'lamp-add', kind: 'SPOT' } },
  leaves: { say: 'click where their shadow is to fall', fields: { action: 'blocker-add', kind: 'LEAVES' } },
  flag: { say: 'click where its shadow is to fall', fields: { action: 'blocker-add', kind: 'FLAG' } },
  greyball: { say: 'click the ground where the ball is to lie', fields: { action: 'stand', mirror: 'no' } },
  mirrorball: { say: 'click the ground where the ball is to lie', fields: { action: 'stand', mirror: 'yes' } },
};

export class ClueHand {
  constructor(picture) {
    this.p = picture;
    this.tool = '';
    this.clicks = [];
    this.behind = new MapBehind(drawAll);
    this.moving = null;
  }

  /** A light goes where what is clicked next says. @param of a lamp's number, or sun */
  place(tool, of) {
    this.of = of;
    this.take(tool);
  }

  /** The next place that is clicked shows what the map shows at this azimuth and elevation. */
  pair(inMap) {
    this.take('pair');
    this.inMap = inMap;
  }

  /** Marks are made on the plate alone: they are drawn over it, too. */
  get onPlate() {
    return this.tool in MARKS || this.tool === 'turn';
  }

  buttons(look) {
    for (const [tool, text, title] of [
      ['shadow', 'shadow', 'click the foot of something upright, its top, then the tip of its shadow on the ground'],
      ['lit', 'sunlit', 'click ground that lies in the sun'],
      ['shade', 'shaded', 'click the same ground in a shadow that is open to the sky'],
      ['lamp', 'lamp', 'click the ground under a new lamp'],
      ['turn', 'turn map', 'lay the map over the plate and drag it sideways'],
    ]) {
      const b = document.createElement('button');
      b.type = 'button';
      b.textContent = text;
      b.title = title;
      b.dataset.clueTool = tool;
      b.setAttribute('aria-pressed', false);
      b.addEventListener('click', () => this.take(this.tool === tool ? '' : tool));
      look.append(b);
    }
  }

  take(tool) {
    this.tool = tool;
    this.clicks = [];
    this.top = null;
    document
      .querySelectorAll('[data-clue-tool]')
      .forEach((k) => k.setAttribute('aria-pressed', k.dataset.clueTool === tool));
    this.behind.turn = null;
    if (tool === 'turn' && state.data.map) this.behind.show(turnNow());
    // Real shadows are found in the plate, not under what was put there.
    if (this.onPlate !== this.p.plateOnly) this.p.flip();
    this.say();
    drawAll();
  }

  say() {
    const marks = MARKS[this.tool];
    this.p.said = marks
      ? marks[this.clicks.length]
      : this.tool in PUT
        ? PUT[this.tool].say
        : {
            highlight: 'click the performer where the highlight is to be seen',
            tip: this.top ? "click the ground where its shadow's tip is to lie" : 'click what casts the shadow',
            aim: 'click the ground that it is to light',
            turn: `drag the map sideways until its horizon fits: ${(this.behind.turn ?? turnNow()).toFixed(1)} deg`,
          }[this.tool];
  }

  key(e) {
    if (e.key !== 'Escape' || !this.tool) return false;
    if (this.clicks.length) {
      this.clicks = [];
      this.say();
      drawAll();
    } else this.take('');
    return true;
  }

  down(e) {
    if (e.button !== 0 || e.shiftKey) return false;
    if (!this.tool) {
      const handle = this.handle(e);
      if (handle) this.moving = { handle };
      return !!handle;
    }
    const q = this.p.toPlate(e).map((v) => Number(v.toFixed(2)));
    if (this.tool === 'turn') {
      this.moving = { x: q[0], turn: turnNow() };
      return true;
    }
    if (this.tool in PUT || this.tool === 'aim' || this.tool === 'highlight' || this.tool === 'tip') {
      this.put(q);
      return true;
    }
    this.clicks.push(q);
    if (this.clicks.length === MARKS[this.tool].length) {
      const at = this.clicks;
      this.clicks = [];
      this.marked(at);
    }
    this.say();
    drawAll();
    return true;
  }

  /** Something is put onto the ground, or light to where it is wanted. */
  put(q) {
    const frame = state.frame,
      light = this.of === 'sun' ? { action: `sun-` } : { action: 'lamp-', id: this.of },
      on = { px: q[0], py: q[1], frame };
    if (this.tool === 'highlight') {
      post('edit', { ...light, ...on, action: light.action + 'highlight' });
      this.take('');
      return;
    }
    if (this.tool === 'tip' && !this.top) {
      this.top = on;
      this.say();
      drawAll();
      return;
    }
    const g = state.camera && state.camera.onLevel(frame, ...q, 0);
    if (!g) return;
    const place = { x: g[0].toFixed(3), z: g[2].toFixed(3), frame };
    if (this.tool === 'tip') post('edit', { ...light, ...this.top, ...place, action: light.action + 'shadow' });
    else if (this.tool === 'aim') post('edit', { ...light, ...place, action: light.action + 'aim' });
    else post('edit', { ...PUT[this.tool].fields, ...place });
    this.take('');
  }

  /** The point of a mark under the pointer, or null. */
  handle(e) {
    const c = state.data && state.data.clues;
    if (!c || !this.p.toggles.marks) return null;
    return nearest(handles(c, state.frame), this.p.toPlate(e), 9 / this.p.view().scale);
  }

  cursor(e) {
    return this.tool ? 'crosshair' : this.handle(e) ? 'move' : '';
  }

  /** A pixel sideways is an angle by the lens. */
  move(e) {
    if (this.moving.handle) {
      this.moving.handle.to(this.p.toPlate(e).map((v) => Number(v.toFixed(2))));
      this.moving.moved = true;
      drawAll();
      return;
    }
    const c = state.camera && state.camera.at(state.frame);
    if (!c) return;
    const degrees = (Math.atan((this.p.toPlate(e)[0] - this.moving.x) / c.focal) * 180) / Math.PI;
    this.behind.show(((this.moving.turn + degrees + 540) % 360) - 180);
    this.say();
    drawAll();
  }

  up() {
    if (!this.moving) return;
    const { handle, moved } = this.moving;
    this.moving = null;
    if (handle) {
      if (moved) post('edit', handle.fields());
      return;
    }
    if (this.behind.turn !== null)
      post('edit', { action: 'settings', turnDeg: this.behind.turn.toFixed(2), frame: state.frame });
  }

  /** All places of a mark were clicked. Ground and shadows go on, the others are done one at a time. */
  marked(at) {
    const [a, b, c] = at,
      frame = state.frame;
    if (this.tool === 'shadow')
      post('edit', {
        action: 'shadow',
        frame,
        footX: a[0],
        footY: a[1],
        topX: b[0],
        topY: b[1],
        tipX: c[0],
        tipY: c[1],
      });
    else if (this.tool === 'lit' || this.tool === 'shade')
      post('edit', { action: 'patch', frame, x: a[0], y: a[1], lit: this.tool === 'lit' ? 'yes' : 'no' });
    else {
      if (this.tool === 'chart') post('edit', { action: 'chart', frame, corners: at.flat().join(',') });
      if (this.tool === 'pair')
        post('edit', {
          action: 'pair',
          frame,
          x: a[0],
          y: a[1],
          azimuthDeg: this.inMap[0].toFixed(3),
          elevationDeg: this.inMap[1].toFixed(3),
        });
      if (this.tool === 'edge') post('edit', { action: 'edge', frame, x: a[0], y: a[1], toX: b[0], toY: b[1] });
      if (this.tool === 'grey')
        post('edit', { action: 'grey', frame, x: a[0], y: a[1], r: Math.hypot(b[0] - a[0], b[1] - a[1]).toFixed(2) });
      this.take('');
    }
  }

  draw(g, at) {
    this.behind.draw(g, at);
    const c = state.data && state.data.clues;
    if (!c || !this.p.toggles.marks) return;
    g.font = '11px "Archivo Variable"';
    for (const s of c.shadows) this.shadow(g, at, s);
    for (const k of c.charts) if (k.of === 'plate' && k.frame === state.frame) this.chart(g, at, k.corners);
    for (const e of c.edges) if (e.frame === state.frame) this.edge(g, at, e);
    for (const k of c.pairs) this.thing(g, at, k);
    for (const b of c.greys) if (b.frame === state.frame) this.ball(g, at, b);
    for (const p of c.patches) {
      if (p.frame !== state.frame) continue;
      const q = at([p.x, p.y]);
      g.strokeStyle = p.lit ? LIT : SHADE;
      g.lineWidth = 2;
      g.strokeRect(q[0] - 5, q[1] - 5, 10, 10);
      g.fillStyle = g.strokeStyle;
      label(g, p.lit ? 'sunlit' : 'shaded', q[0] + 9, q[1] + 4);
    }
    g.fillStyle = HAND;
    for (const q of this.clicks) {
      const k = at(q);
      g.beginPath();
      g.arc(k[0], k[1], 4, 0, 7);
      g.fill();
    }
  }

  /** From the sun into the shade. */
  edge(g, at, e) {
    const a = at([e.fromX, e.fromY]),
      b = at([e.toX, e.toY]);
    g.strokeStyle = g.fillStyle = REAL;
    g.lineWidth = 2;
    g.beginPath();
    g.moveTo(...a);
    g.lineTo(...b);
    g.stroke();
    g.beginPath();
    g.arc(...a, 3, 0, 7);
    g.fill();
    label(g, `edge ${e.id}`, b[0] + 7, b[1] + 4);
  }

  /** Where it is in the plate, and where the map as it is turned now has it. */
  thing(g, at, k) {
    const turn = turnNow(),
      c = state.camera;
    if (k.frame === state.frame) {
      const q = at([k.x, k.y]);
      g.strokeStyle = g.fillStyle = REAL;
      g.lineWidth = 2;
      g.beginPath();
      g.arc(...q, 5, 0, 7);
      g.stroke();
      label(g, `thing ${k.id}`, q[0] + 8, q[1] + 4);
    }
    if (!c) return;
    const eye = c.eye(state.frame),
      far = 1e4,
      q = c.project(
        state.frame,
        direction(k.azimuthDeg + turn, k.elevationDeg).map((v, i) => eye[i] + far * v),
      );
    if (!q) return;
    const s = at(q);
    g.strokeStyle = g.fillStyle = HAND;
    g.beginPath();
    g.moveTo(s[0] - 6, s[1]);
    g.lineTo(s[0] + 6, s[1]);
    g.moveTo(s[0], s[1] - 6);
    g.lineTo(s[0], s[1] + 6);
    g.stroke();
    label(g, `in the map ${k.id}`, s[0] + 8, s[1] - 6);
  }

  ball(g, at, k) {
    const a = at([k.x, k.y]),
      b = at([k.x + k.r, k.y]);
    g.strokeStyle = g.fillStyle = LIT;
    g.lineWidth = 1.5;
    g.beginPath();
    g.arc(...a, b[0] - a[0], 0, 7);
    g.stroke();
    label(g, 'grey ball', b[0] + 6, a[1] + 4);
  }

  /** The field of its cells. */
  chart(g, at, c) {
    const p = (u, v) => {
      // Straight between the corners: near enough to see whether the cells lie on the patches.
      const x = (k) => (1 - v) * ((1 - u) * c[k] + u * c[2 + k]) + v * ((1 - u) * c[6 + k] + u * c[4 + k]);
      return at([x(0), x(1)]);
    };
    g.strokeStyle = LIT;
    g.lineWidth = 1;
    g.beginPath();
    for (let i = 0; i <= 6; i++) {
      g.moveTo(...p(i / 6, 0));
      g.lineTo(...p(i / 6, 1));
    }
    for (let j = 0; j <= 4; j++) {
      g.moveTo(...p(0, j / 4));
      g.lineTo(...p(1, j / 4));
    }
    g.stroke();
  }

  /** The drawn one, in its own frame as it was drawn, and where the sun of now would throw it, dashed. */
  shadow(g, at, s) {
    const line = (a, b, colour, dash) => {
      if (!a || !b) return;
      g.strokeStyle = colour;
      g.lineWidth = 2;
      g.setLineDash(dash || []);
      g.beginPath();
      g.moveTo(...a);
      g.lineTo(...b);
      g.stroke();
      g.setLineDash([]);
    };
    if (s.frame === state.frame) {
      line(at([s.footX, s.footY]), at([s.topX, s.topY]), REAL);
      line(at([s.footX, s.footY]), at([s.tipX, s.tipY]), REAL);
      const q = at([s.tipX, s.tipY]);
      g.fillStyle = REAL;
      label(g, `real shadow ${s.id}`, q[0] + 7, q[1] + 4);
    }
    const c = state.camera,
      sun = sunsNow(state)[0];
    if (!c || !sun || sun.towards[1] < 0.02) return;
    const foot = c.onLevel(s.frame, s.footX, s.footY, 0),
      h = foot && c.heightOver(s.frame, foot, s.topX, s.topY);
    if (!(h > 0.01)) return;
    const k = h / sun.towards[1],
      tip = [foot[0] - k * sun.towards[0], 0, foot[2] - k * sun.towards[2]],
      a = c.project(state.frame, foot),
      b = c.project(state.frame, tip);
    line(a && at(a), b && at(b), HAND, [6, 4]);
    if (b) {
      g.fillStyle = HAND;
      label(g, 'as lit now', at(b)[0] + 7, at(b)[1] - 7);
    }
  }
}
