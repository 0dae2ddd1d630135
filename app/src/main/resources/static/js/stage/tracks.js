// What a hand does on the Tracks stage: puts and moves marks, draws and moves masks; and the loupe that shows how well
// a mark is held.
import { errorColour } from '../base/camera.js';
import { HAND } from '../base/draw.js';
import { byHand, choose, onChoice } from '../page/choice.js';
import { deletes } from '../page/deleting.js';
import { maskKeys, maskSteps } from '../page/maskkeys.js';
import { onLoad, post } from '../page/net.js';
import { drawAll, onDraw, shot, state } from '../page/state.js';
import { go } from '../page/time.js';
import { Graph } from '../view/graph.js';
import { List } from '../view/list.js';
import { Loupe } from '../view/loupe.js';
import { MaskHand } from '../view/maskhand.js';
import { tracksAt } from '../view/overlay.js';
import { Placing } from '../view/placing.js';

export class Hand {
  constructor(picture) {
    this.p = picture;
    this.s = picture.s;
    this.tool = 'choose';
    this.masks = new MaskHand(this);
    this.loupe = new Loupe(this);
    setInterval(() => this.watch(), 700);
  }

  /** While marks are being found, what has been found so far is shown in the frame it was found in. */
  async watch() {
    const running = document.getElementById('running');
    if (!running || !running.textContent.trim().startsWith('Tracks') || document.hidden) {
      // Back to where somebody was looking.
      if (this.live) {
        this.live = null;
        go(this.was);
      }
      return;
    }
    const answer = await fetch(`/shots/${shot}/tracks/live.json`);
    if (answer.status !== 200) return;
    if (!this.live) this.was = this.s.frame;
    this.live = await answer.json();
    go(this.live.frame, true);
  }

  /** One of several buttons is down: what a click in the picture does. */
  buttons(look) {
    for (const [name, title] of [
      ['choose', 'click or Shift-drag chooses tracks'],
      ['put mark', 'a click puts a mark to follow, or sets the chosen one in this frame'],
      ['mask', 'click around the moving thing, Enter closes; Alt-drag a point for its feather'],
      ['surface', 'click around a flat surface to follow, Enter closes'],
    ]) {
      const b = document.createElement('button');
      b.type = 'button';
      b.textContent = name;
      b.title = title;
      b.dataset.tool = name;
      b.setAttribute('aria-pressed', name === this.tool);
      b.addEventListener('click', () => this.take(name));
      look.prepend(b);
      look.prepend(...look.querySelectorAll('[data-tool]'));
    }
    const order = ['choose', 'put mark', 'mask', 'surface'];
    look.prepend(
      ...[...look.querySelectorAll('[data-tool]')].sort(
        (a, b) => order.indexOf(a.dataset.tool) - order.indexOf(b.dataset.tool),
      ),
    );
    this.placing = new Placing(look, '[data-tool="put mark"]', byHand, () => this.tool === 'put mark');
  }

  take(name) {
    this.tool = name;
    this.masks.drawing = [];
    document.querySelectorAll('[data-tool]').forEach((b) => b.setAttribute('aria-pressed', b.dataset.tool === name));
    this.placing.show();
    drawAll();
  }

  /** A mark's place in the present frame: as followed, or as put. */
  place(m) {
    const t = this.s.tracks.find((k) => k.id === m.id),
      i = t ? this.s.frame - t.first : -1;
    if (t && i >= 0 && i < t.n && t.xy[2 * i] !== null) return [t.xy[2 * i], t.xy[2 * i + 1]];
    const f = m.fixes.find((x) => x.frame === this.s.frame);
    return f ? [f.x, f.y] : null;
  }

  draw(g, at) {
    if (this.live && this.live.frame === this.s.frame) {
      g.strokeStyle = '#f2f2f2';
      g.lineWidth = 1.3;
      for (let i = 0; i < this.live.xy.length; i += 2) {
        const [x, y] = at([this.live.xy[i], this.live.xy[i + 1]]);
        g.beginPath();
        g.arc(x, y, 3.4, 0, 7);
        g.stroke();
      }
    }
    this.masks.draw(g, at);
    for (const m of this.s.data.marks || []) {
      const q = this.moving && this.moving.mark === m.id ? this.moving.at : this.place(m);
      if (!q) continue;
      const [x, y] = at(q),
        near = m.fixes.reduce((a, b) => (Math.abs(b.frame - this.s.frame) < Math.abs(a.frame - this.s.frame) ? b : a)),
        [rx, ry] = at([q[0] + (near.aside || 0), q[1] + (near.asideY || 0)]),
        r = m.region * this.p.view().scale,
        mine = this.s.chosen.has(m.id),
        put = m.fixes.some((f) => f.frame === this.s.frame);
      g.strokeStyle = mine ? HAND : '#f2f2f2';
      g.lineWidth = mine ? 2 : 1.4;
      g.strokeRect(rx - r, ry - r, 2 * r, 2 * r);
      if (near.aside || near.asideY) {
        g.setLineDash([3, 3]);
        g.beginPath();
        g.moveTo(x, y);
        g.lineTo(rx, ry);
        g.stroke();
        g.setLineDash([]);
      }
      g.beginPath();
      g.moveTo(x - 4, y);
      g.lineTo(x + 4, y);
      g.moveTo(x, y - 4);
      g.lineTo(x, y + 4);
      g.stroke();
      // A frame in which it was put by hand has its corner filled.
      if (put) {
        g.fillStyle = g.strokeStyle;
        g.beginPath();
        g.moveTo(rx - r, ry - r);
        g.lineTo(rx - r + 7, ry - r);
        g.lineTo(rx - r, ry - r + 7);
        g.fill();
      }
    }
  }

  /** Takes a press when it is on a mark or a mask's point; true when it was taken. */
  down(e) {
    if (e.button !== 0) return false;
    const q = this.p.toPlate(e),
      near = 9 / this.p.view().scale;
    for (const m of this.s.data.marks || []) {
      const c = this.place(m);
      if (c && Math.hypot(c[0] - q[0], c[1] - q[1]) < near) {
        this.moving = { mark: m.id, at: c, from: q, was: c };
        choose([m.id], e.shiftKey);
        return true;
      }
    }
    if (this.masks.down(e)) {
      this.moving = this.masks.moving;
      return true;
    }
    return false;
  }

  move(e) {
    if (!this.moving) return;
    const m = this.moving;
    if (!m.mark) {
      this.masks.move(e);
      return;
    }
    const q = this.p.toPlate(e);
    m.moved = true;
    m.at = [m.was[0] + q[0] - m.from[0], m.was[1] + q[1] - m.from[1]];
    drawAll();
  }

  async up() {
    const m = this.moving;
    if (!m.mark) await this.masks.up();
    else if (m.moved)
      await post('edit', {
        action: 'mark-fix',
        id: m.mark,
        frame: this.s.frame,
        x: m.at[0].toFixed(3),
        y: m.at[1].toFixed(3),
      });
    // The next one may be moved already while this one is kept.
    if (this.moving === m) this.moving = null;
    drawAll();
  }

  /** A click that nothing else took; true when a tool used it. */
  click(e) {
    const q = this.p.toPlate(e),
      p = this.s.data.plate;
    if (q[0] < 0 || q[1] < 0 || q[0] > p.width || q[1] > p.height) return false;
    if (this.aside) {
      this.putAside(q);
      return true;
    }
    if (this.tool === 'put mark') {
      this.put(q);
      return true;
    }
    if (this.masks.has(this.tool)) {
      this.masks.click(q);
      return true;
    }
    return false;
  }

  /** The chosen mark, which may be lost here, or a new one. */
  async put(q) {
    const id = this.placing.one(),
      at = { frame: this.s.frame, x: q[0].toFixed(3), y: q[1].toFixed(3) };
    await post('edit', id ? { action: 'mark-fix', id, ...at } : { action: 'mark-add', ...at });
    const all = this.s.data.marks;
    if (!id && all.length) choose([all[all.length - 1].id], false);
  }

  key(e) {
    if (this.aside && e.key === 'Escape') {
      this.aside = null;
      document.getElementById('say').replaceChildren();
      return true;
    }
    return this.masks.key(e) || this.placing.key(e);
  }

  /** The next click says what is to be followed instead of the mark itself, from this frame on. */
  beside(id) {
    const m = this.s.data.marks.find((k) => k.id === id);
    if (!this.place(m)) return;
    this.aside = id;
    document.getElementById('say').replaceChildren(
      Object.assign(document.createElement('p'), {
        textContent: `Click what ${m.name} is to be carried by from this frame on. Esc leaves it.`,
      }),
    );
  }

  async putAside(q) {
    const m = this.s.data.marks.find((k) => k.id === this.aside),
      at = this.place(m);
    this.aside = null;
    document.getElementById('say').replaceChildren();
    await post('edit', {
      action: 'mark-aside',
      id: m.id,
      frame: this.s.frame,
      x: at[0].toFixed(3),
      y: at[1].toFixed(3),
      rx: q[0].toFixed(3),
      ry: q[1].toFixed(3),
    });
  }

  /** The mark itself is followed again from this frame on. */
  async onMark(id) {
    const at = this.place(this.s.data.marks.find((k) => k.id === id));
    if (at)
      await post('edit', {
        action: 'mark-aside',
        id,
        frame: this.s.frame,
        x: at[0].toFixed(3),
        y: at[1].toFixed(3),
        rx: at[0].toFixed(3),
        ry: at[1].toFixed(3),
      });
  }

  follow(id, to) {
    return post('edit', { action: 'mark-follow', id, to });
  }
}

export const view = {
  toggles: { marks: true, trails: true },
  hand: (picture) => new Hand(picture),
  box: true,
  things: () => tracksAt(state.frame),
  strip: matches,
  keyed: maskKeys,
  tools: (picture, look) => {
    picture.holding.choice(look, true);
  },
};

/** How well the one chosen track was matched, frame by frame. */
function matches() {
  if (!state.match) return null;
  return {
    label: 'how well the chosen track was matched',
    of: (f) => {
      const m = state.match.get(f);
      if (m === undefined) return [0, '#000'];
      if (m === null) return [0.5, '#6a6a6a'];
      return [Math.max(0.04, 4 * (m - 0.75)), m < 0.88 ? errorColour((2 * (1 - m)) / 0.12) : '#cfcfcf'];
    },
    line: [4 * 0.13, '0.88'],
  };
}

async function fetchMatch() {
  state.match = null;
  const [id] = state.chosen;
  if (state.chosen.size !== 1 || !state.tracks.some((k) => k.id === id)) return;
  const answer = await fetch(`/shots/${shot}/tracks/${id}.json`);
  if (!answer.ok || !state.chosen.has(id)) return;
  state.match = new Map(await answer.json());
  drawAll();
}

function cutChosen(side) {
  const p = state.data.plate;
  post('edit', {
    action: 'cut',
    ids: [...state.chosen].join(','),
    from: side === 'before' ? p.first : state.frame + 1,
    to: side === 'before' ? state.frame - 1 : p.last,
  });
}

export function open({ picture }) {
  const graph = new Graph(state),
    list = new List(state);
  maskSteps();
  onDraw(() => {
    if (picture.hand.loupe) picture.hand.loupe.draw();
    if (!state.playing) graph.draw();
    list.draw();
  });
  onChoice(fetchMatch);
  onLoad(() => {
    fetchMatch();
    list.load();
  });
  document.body.addEventListener('panel-exchanged', () => list.load());
  deletes('tracks');
  document.body.addEventListener('click', (e) => {
    const at = (selector) => e.target.closest(selector),
      chosen = [...state.chosen];
    const row = at('tr[data-track][data-frame]');
    if (row) go(Number(row.dataset.frame));
    if (at('[data-cut]')) cutChosen(at('[data-cut]').dataset.cut);
    if (at('[data-join]')) post('edit', { action: 'join', ids: chosen.join(',') });
    if (at('[data-group-add]')) post('edit', { action: 'group-add', ids: chosen.join(',') });
    const more = at('[data-group-more]');
    if (more) post('edit', { action: 'group-more', id: more.dataset.groupMore, ids: chosen.join(',') });
    const step = at('[data-follow]');
    if (step)
      picture.hand.follow(
        at('[data-mark]') ? at('[data-mark]').dataset.mark : chosen.filter(byHand).join(','),
        step.dataset.follow,
      );
    if (at('[data-beside]')) picture.hand.beside(Number(at('[data-beside]').dataset.beside));
    if (at('[data-on-mark]')) picture.hand.onMark(Number(at('[data-on-mark]').dataset.onMark));
    if (at('[data-choose-listed]') && list.ids) choose(list.ids, false);
  });
}
