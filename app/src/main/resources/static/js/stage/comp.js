// Comp: the finished frame; sliders stand as they are in the frame that is shown, and can be keyed there.
import { keyedFrames, keyslides } from '../page/keyslides.js';
import { onLoad, post } from '../page/net.js';
import { drawAll, onDraw, shot, state } from '../page/state.js';
import { Compare } from '../view/compare.js';
import { MaskHand } from '../view/maskhand.js';
import { rendered } from '../view/rendered.js';
import { Scopes } from '../view/scopes.js';

const moving = () => state.data && state.data.comp;

/**
 * As long as its button is held, by hand or by key, the frame is shown without what stands under a heading; with Shift,
 * what that changes.
 */
function without(picture) {
  const show = (key, alone) => {
    if ((picture.without || '') === key) return;
    picture.compare.influence = key && alone && picture.over.shown ? picture.over.shown.im : null;
    picture.without = key;
    picture.frameChanged();
    picture.draw();
  };
  const of = (e) => e.target.closest && e.target.closest('[data-without]');
  document.body.addEventListener('pointerdown', (e) => of(e) && show(of(e).dataset.without, e.shiftKey));
  for (const end of ['pointerup', 'pointercancel', 'blur']) window.addEventListener(end, () => show(''));
  document.body.addEventListener('keydown', (e) => {
    if (of(e) && (e.key === ' ' || e.key === 'Enter') && !e.repeat) show(of(e).dataset.without, e.shiftKey);
  });
  document.body.addEventListener('keyup', () => show(''));
}

const TOOLS = [
  ['look', 'look only'],
  [
    'comp mask',
    'click around something, Enter closes; drag a point to move it in this frame, Alt-drag for its feather',
  ],
  ['brush', 'paint over what is to be covered; the stroke becomes a mask'],
];

/** What a hand does here: draws masks, paints strokes, and drags the place that a patch is taken from. */
class Hand {
  constructor(picture) {
    this.p = picture;
    this.s = picture.s;
    this.tool = 'look';
    this.moving = null;
    this.masks = new MaskHand(this, (m) => this.tool !== 'look' && (m.use === 'COMP' || this.used(m.id)));
    this.picking = null;
  }

  used(mask) {
    const d = this.s.data;
    return (
      d.repairs.some((r) => r.mask === mask || r.moves === mask) ||
      d.fronts.some((f) => f.within === mask || f.hold === mask || f.away === mask)
    );
  }

  buttons(look) {
    for (const [name, title] of TOOLS) {
      const b = Object.assign(document.createElement('button'), { type: 'button', textContent: name, title });
      b.dataset.tool = name;
      b.setAttribute('aria-pressed', name === this.tool);
      b.addEventListener('click', () => this.take(name));
      look.append(b);
    }
    const size = document.createElement('span');
    size.id = 'brush';
    size.hidden = true;
    size.innerHTML = '<input type="range" min="2" max="120" value="14" aria-label="brush, px">';
    look.append(size);
  }

  take(name) {
    this.tool = name;
    this.masks.drawing = [];
    document.getElementById('brush').hidden = name !== 'brush';
    document.querySelectorAll('[data-tool]').forEach((b) => b.setAttribute('aria-pressed', b.dataset.tool === name));
    drawAll();
  }

  /** Radius of the brush, pixels of the plate. */
  brush() {
    return Number(document.querySelector('#brush input').value);
  }

  cursor() {
    return this.tool === 'look' && !this.picking ? '' : 'crosshair';
  }

  /** Where a repair's patch is, and where it is taken from; null where it is not in this frame. */
  patch(r) {
    const m = this.s.data.masks.find((k) => k.id === r.mask),
      points = m ? this.masks.at(m) : [];
    if (r.source !== 'BESIDE' || !r.on || !points.length) return null;
    const x = points.reduce((a, q) => a + q[0], 0) / points.length,
      y = points.reduce((a, q) => a + q[1], 0) / points.length,
      d = this.moving && this.moving.repair === r.id ? this.moving.by : [r.dx, r.dy];
    return { at: [x, y], from: [x + d[0], y + d[1]] };
  }

  draw(g, at) {
    this.masks.draw(g, at);
    if (this.tool === 'look') return;
    for (const r of this.s.data.repairs || []) {
      const k = this.patch(r);
      if (!k) continue;
      const [a, b] = [at(k.at), at(k.from)];
      g.strokeStyle = '#d4e157';
      g.lineWidth = 1.5;
      g.beginPath();
      g.moveTo(...a);
      g.lineTo(...b);
      g.stroke();
      g.beginPath();
      g.arc(b[0], b[1], 7, 0, 7);
      g.stroke();
    }
  }

  down(e) {
    if (e.button !== 0) return false;
    if (this.tool !== 'look') {
      const q = this.p.toPlate(e),
        near = 9 / this.p.view().scale;
      for (const r of this.s.data.repairs || []) {
        const k = this.patch(r);
        if (!k || Math.hypot(k.from[0] - q[0], k.from[1] - q[1]) > near) continue;
        this.moving = { repair: r.id, at: k.at, by: [r.dx, r.dy] };
        return true;
      }
    }
    if (!this.masks.down(e)) return false;
    this.moving = this.masks.moving;
    return true;
  }

  move(e) {
    if (!this.moving.repair) {
      this.masks.move(e);
      return;
    }
    const q = this.p.toPlate(e);
    this.moving.by = [q[0] - this.moving.at[0], q[1] - this.moving.at[1]];
    drawAll();
  }

  async up() {
    const m = this.moving;
    if (m.repair)
      for (const [name, v] of [
        ['dx', m.by[0]],
        ['dy', m.by[1]],
      ])
        await post('edit', { action: 'repair-set', id: m.repair, [name]: v.toFixed(0) });
    else await this.masks.up();
    if (this.moving === m) this.moving = null;
    drawAll();
  }

  click(e) {
    const q = this.p.toPlate(e),
      p = this.s.data.plate;
    if (q[0] < 0 || q[1] < 0 || q[0] > p.width || q[1] > p.height) return false;
    if (this.picking) {
      this.pick(e);
      return true;
    }
    if (this.tool !== 'comp mask') return false;
    this.masks.click(q);
    return true;
  }

  /** The colour of the plate there becomes that of a key. */
  pick(e) {
    const v = this.p.view(),
      [x, y] = this.p.toPlate(e),
      im = this.p.image(this.s.frame),
      c = Object.assign(document.createElement('canvas'), { width: 5, height: 5 }),
      g = c.getContext('2d'),
      k = im.naturalWidth / this.s.data.plate.width;
    if (!v || !k) return;
    g.drawImage(im, x * k - 2.5, y * k - 2.5, 5, 5, 0, 0, 5, 5);
    const d = g.getImageData(0, 0, 5, 5).data,
      mean = [0, 1, 2].map((i) => {
        let s = 0;
        for (let n = i; n < d.length; n += 4) s += d[n] / 25;
        return Math.round(s).toString(16).padStart(2, '0');
      });
    post('edit', { action: 'front-set', id: this.picking, colour: '#' + mean.join('') });
    this.picking = null;
  }

  key(e) {
    if (this.picking && e.key === 'Escape') {
      this.picking = null;
      return true;
    }
    return this.masks.key(e);
  }
}

/** What is to be said of the frame beside its picture: what was lost in it, and which headings do nothing there. */
let asked = '';
async function said() {
  if (!state.data || !state.data.plate || state.playing) return;
  const key = `${state.frame} ${state.data.revision}`;
  if (asked === key) return;
  asked = key;
  const answer = await fetch(`/shots/${shot}/comp/${state.frame}/said.json`);
  if (!answer.ok || asked !== key) return;
  const s = await answer.json(),
    lost = document.getElementById('lost');
  if (lost) {
    lost.textContent = s.lost.join(' ');
    lost.hidden = !s.lost.length;
  }
  for (const p of document.querySelectorAll('[data-idle]')) {
    p.textContent = s.idle[p.dataset.idle] || '';
    p.hidden = !p.textContent;
  }
}

let scopes = null,
  there = () => false;

export const view = {
  toggles: {},
  over: () => 'comp',
  flips: true,
  vivid: true,
  hand: (picture) => new Hand(picture),
  values: () =>
    state.data.rendered.includes(state.frame) ? `/shots/${shot}/pass/${state.frame}/values?pass=comp` : null,
  strip: () => rendered(there),
  tools: (picture, look) => {
    picture.compare = new Compare(picture, look, () => state.data.revision);
    picture.holding.choice(look, false);
    scopes = new Scopes(picture, look);
    there = (f) => picture.over.cache.has(picture.over.address(f, 'comp'));
    without(picture);
  },
  keyed: () => keyedFrames(moving()),
};

export function open({ picture }) {
  keyslides(moving);
  onDraw(said);
  onDraw(() => scopes.draw());
  onLoad(said);
  document.body.addEventListener('panel-exchanged', () => {
    asked = '';
    said();
  });
  document.body.addEventListener('click', async (e) => {
    const pick = e.target.closest('[data-pick-front]');
    if (pick) picture.hand.picking = Number(pick.dataset.pickFront);
    const version = e.target.closest('[data-compare]');
    if (version) picture.compare.against(null, version.dataset.compare, 'kept: ' + version.dataset.name);
    const b = e.target.closest('[data-match]');
    if (!b || b.disabled) return;
    const text = b.textContent;
    b.disabled = true;
    b.textContent = 'measuring…';
    await post('edit', { action: 'match', which: b.dataset.match, frame: state.frame });
    b.disabled = false;
    b.textContent = text;
  });
}
