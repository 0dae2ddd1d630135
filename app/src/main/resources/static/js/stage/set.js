// The set drawn over the picture: points picked by hand, lines along real edges, and the set pieces.
import { AXES, HAND, label } from '../base/draw.js';
import { choose } from '../page/choice.js';
import { post } from '../page/net.js';
import { drawAll, onDraw, state } from '../page/state.js';
import { Outside } from '../view/outside.js';
import { pointsAt } from '../view/overlay.js';
import { drawPieces } from '../view/pieces.js';
import { Placing } from '../view/placing.js';

const PICKED = '#e8c56a',
  FIRST_PICKED = 2000000;

export class SetHand {
  constructor(picture) {
    this.p = picture;
    this.s = picture.s;
    this.tool = '';
  }

  buttons(look) {
    for (const [tool, text, title] of [
      [
        'pick',
        'pick',
        'click a place that was not tracked: in one frame it lies on the ground, in two or more where the views meet',
      ],
      ['X', 'x edge', 'draw along edges that run to the right'],
      ['Y', 'y edge', 'draw along edges that stand upright'],
      ['Z', 'z edge', 'draw along edges that run in depth'],
      [
        'fit',
        'by eye',
        'drag from a foot on the ground up to where the head of somebody 1.8 m tall would be ' +
          '(or as tall as is typed at the right): the grid shows the size it gives',
      ],
    ]) {
      const b = document.createElement('button');
      b.type = 'button';
      b.textContent = text;
      b.title = title;
      b.dataset.setTool = tool;
      b.setAttribute('aria-pressed', false);
      b.style.boxShadow = `inset 0 -2px ${AXES[tool] || PICKED}`;
      b.addEventListener('click', () => {
        this.tool = this.tool === tool ? '' : tool;
        document
          .querySelectorAll('[data-set-tool]')
          .forEach((k) => k.setAttribute('aria-pressed', k.dataset.setTool === this.tool));
        this.placing.show();
        drawAll();
      });
      look.append(b);
    }
    this.placing = new Placing(
      look,
      '[data-set-tool=pick]',
      (id) => id >= FIRST_PICKED,
      () => this.tool === 'pick',
    );
  }

  key(e) {
    return this.placing.key(e);
  }

  draw(g, at) {
    const d = this.s.data;
    if (!d || !d.edges) return;
    const line = (a, b, axis, faint) => {
      g.globalAlpha = faint ? 0.3 : 1;
      g.strokeStyle = AXES[axis];
      g.lineWidth = 2;
      g.beginPath();
      g.moveTo(...at(a));
      g.lineTo(...at(b));
      g.stroke();
      g.globalAlpha = 1;
    };
    for (const e of d.edges) line([e.fromX, e.fromY], [e.toX, e.toY], e.axis, e.frame !== this.s.frame);
    if (this.moving && this.tool !== 'fit') line(...this.moving, this.tool);
    if (this.moving && this.tool === 'fit') this.fit(g, at);
    // Where picked points were clicked, and where they lie: apart where they do not fit.
    for (const p of d.picked) {
      const mine = this.s.chosen.has(p.id),
        k = p.picks.find((q) => q.frame === this.s.frame),
        solved = d.points.find((q) => q[0] === p.id),
        q = solved && this.s.camera.project(this.s.frame, solved.slice(1, 4));
      g.strokeStyle = g.fillStyle = mine ? HAND : PICKED;
      g.lineWidth = 1.6;
      if (k) {
        const c = at([k.x, k.y]);
        g.strokeRect(c[0] - 4, c[1] - 4, 8, 8);
        if (q) {
          g.beginPath();
          g.moveTo(...c);
          g.lineTo(...at(q));
          g.stroke();
        }
      }
      if (q) {
        const c = at(q);
        g.beginPath();
        g.arc(c[0], c[1], 3, 0, 7);
        g.fill();
        g.font = '11px "Archivo Variable"';
        label(g, p.name, c[0] + 7, c[1] + 4);
      }
    }
  }

  down(e) {
    if (e.button !== 0 || e.shiftKey || !this.tool || !this.s.camera) return false;
    const q = this.p.toPlate(e);
    if (this.tool === 'pick') {
      const id = this.placing.one();
      post('edit', { action: 'pick', id, frame: this.s.frame, x: q[0].toFixed(2), y: q[1].toFixed(2) }).then(() => {
        const last = this.s.data.picked && this.s.data.picked[this.s.data.picked.length - 1];
        if (!id && last) choose([last.id], false);
      });
      return true;
    }
    this.moving = [q, q];
    return true;
  }

  /** Height in metres of the stick that is laid by eye. */
  tall() {
    const m = document.querySelector('#bench input[name=metres]');
    return Number(m && m.value.replace(',', '.')) || 1.8;
  }

  /** The stick and a metre grid as large as they would be with it. */
  fit(g, at) {
    const c = this.s.camera,
      f = this.s.frame,
      foot = c.onLevel(f, ...this.moving[0], 0);
    if (!foot) return;
    const h = c.heightOver(f, foot, ...this.moving[1]);
    if (!(h > 0.01)) return;
    const metre = h / this.tall(),
      world = (q) => {
        const p = c.project(f, q);
        return p && at(p);
      };
    g.lineWidth = 1;
    g.strokeStyle = 'rgba(212,225,87,.55)';
    for (let i = -6; i <= 6; i++) {
      this.p.line(
        g,
        world,
        [foot[0] + i * metre, 0, foot[2] - 6 * metre],
        [foot[0] + i * metre, 0, foot[2] + 6 * metre],
        30,
      );
      this.p.line(
        g,
        world,
        [foot[0] - 6 * metre, 0, foot[2] + i * metre],
        [foot[0] + 6 * metre, 0, foot[2] + i * metre],
        30,
      );
    }
    g.strokeStyle = HAND;
    g.lineWidth = 4;
    this.p.line(g, world, foot, [foot[0], h, foot[2]], 6);
    const top = world([foot[0], h, foot[2]]);
    if (top) {
      g.fillStyle = HAND;
      g.font = '11px "Archivo Variable"';
      label(g, `${this.tall()} m: all becomes ${(1 / metre).toFixed(2)} times as large`, top[0] + 8, top[1]);
    }
  }

  move(e) {
    this.moving[1] = this.p.toPlate(e);
    drawAll();
  }

  async up() {
    const mine = this.moving,
      [a, b] = mine;
    if (Math.hypot(a[0] - b[0], a[1] - b[1]) > 6)
      await post('edit', {
        ...(this.tool === 'fit' ? { action: 'fit', metres: this.tall() } : { action: 'edge-add', axis: this.tool }),
        frame: this.s.frame,
        fromX: a[0].toFixed(2),
        fromY: a[1].toFixed(2),
        toX: b[0].toFixed(2),
        toY: b[1].toFixed(2),
      });
    // The next one may be drawn already while this one is kept.
    if (this.moving === mine) this.moving = null;
    drawAll();
  }
}

export const view = {
  toggles: { points: true, pieces: true, grid: true, horizon: false, stick: true, catcher: true },
  hand: (picture) => new SetHand(picture),
  box: true,
  set: true,
  pieces: (g, world) => drawPieces(g, state, world),
  things: () => pointsAt(state.frame),
};

export function open({ picture }) {
  const outside = new Outside(
    document.getElementById('outside'),
    state,
    (f) => (picture.ready(f) ? picture.image(f) : null),
    true,
  );
  onDraw(() => state.data && !state.playing && outside.draw());
}
