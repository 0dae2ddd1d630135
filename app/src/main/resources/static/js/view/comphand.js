// What a hand does in Comp: draws masks, paints strokes, drags the place that a patch is taken from, picks places.
import { HAND, label } from '../base/draw.js';
import { post, say } from '../page/net.js';
import { drawAll } from '../page/state.js';
import { MaskHand } from './maskhand.js';

const TOOLS = [
  ['look', 'look only'],
  [
    'comp mask',
    'click around something, Enter closes; drag a point to move it in this frame, Alt-drag for its feather',
  ],
  ['brush', 'paint over what is to be covered; the stroke becomes a mask'],
];

/** What a hand does here: draws masks, paints strokes, and drags the place that a patch is taken from. */
export class CompHand {
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
    if (this.tool !== 'look' || this.picking) this.picks(g, at);
    if (this.tool === 'look') return;
    for (const r of this.s.data.repairs || []) {
      const k = this.patch(r);
      if (!k) continue;
      const [a, b] = [at(k.at), at(k.from)];
      g.strokeStyle = HAND;
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
      await post('edit', { action: 'repair-set', id: m.repair, dx: m.by[0].toFixed(0), dy: m.by[1].toFixed(0) });
    else await this.masks.up();
    if (this.moving === m) this.moving = null;
    drawAll();
  }

  click(e) {
    const q = this.p.toPlate(e),
      p = this.s.data.plate;
    if (q[0] < 0 || q[1] < 0 || q[0] > p.width || q[1] > p.height) return false;
    if (this.picking) {
      this.picked(q);
      return true;
    }
    if (this.tool !== 'comp mask') return false;
    this.masks.click(q);
    return true;
  }

  /** The next click picks something. @param what 'key' for the colour of a key, 'pair', 'haze' */
  pick(what, id) {
    this.picking = { what, id };
    say(
      {
        key: 'Click the colour of what lies behind. Esc leaves it.',
        pair: 'Click a place of the plate, then one of a performer that is to have the same colour. Esc leaves it.',
        tint: 'Click the place whose colour is to be mixed into performers. Esc leaves it.',
        haze: 'Click a dark place of the plate. Esc leaves it.',
      }[what],
    );
    drawAll();
  }

  picked([x, y]) {
    const k = this.picking,
      frame = this.s.frame;
    if (k.what === 'pair' && !k.at) {
      k.at = [x, y];
      drawAll();
      return;
    }
    if (k.what === 'key') this.colour(k.id, x, y);
    else if (k.what === 'pair')
      post('edit', { action: 'pair-add', frame, x: k.at[0], y: k.at[1], ownX: x.toFixed(1), ownY: y.toFixed(1) });
    else if (k.what === 'tint') post('edit', { action: 'tint-pick', frame, x: x.toFixed(1), y: y.toFixed(1) });
    else post('edit', { action: 'haze-add', frame, x: x.toFixed(1), y: y.toFixed(1) });
    this.leave();
  }

  leave() {
    this.picking = null;
    document.getElementById('say').replaceChildren();
    drawAll();
  }

  /** Places that were picked in this frame. */
  picks(g, at) {
    const ring = (q, text) => {
      const [x, y] = at(q);
      g.strokeStyle = g.fillStyle = HAND;
      g.lineWidth = 1.5;
      g.beginPath();
      g.arc(x, y, 5, 0, 7);
      g.stroke();
      g.font = '11px "Archivo Variable"';
      label(g, text, x + 8, y - 6);
      return [x, y];
    };
    for (const p of this.s.data.pairs || []) {
      if (p.frame !== this.s.frame) continue;
      const a = ring([p.x, p.y], p.id),
        b = ring([p.ownX, p.ownY], p.id);
      g.setLineDash([3, 3]);
      g.beginPath();
      g.moveTo(...a);
      g.lineTo(...b);
      g.stroke();
      g.setLineDash([]);
    }
    for (const p of this.s.data.hazes || []) if (p.frame === this.s.frame) ring([p.x, p.y], `${p.metres.toFixed(0)} m`);
    if (this.picking && this.picking.at) ring(this.picking.at, '');
  }

  /** The colour of the plate there becomes that of a key. */
  colour(id, x, y) {
    const im = this.p.image(this.s.frame),
      c = Object.assign(document.createElement('canvas'), { width: 5, height: 5 }),
      g = c.getContext('2d'),
      k = im ? im.width / this.s.data.plate.width : 0;
    if (!k) return;
    g.drawImage(im, x * k - 2.5, y * k - 2.5, 5, 5, 0, 0, 5, 5);
    const d = g.getImageData(0, 0, 5, 5).data,
      mean = [0, 1, 2].map((i) => {
        let s = 0;
        for (let n = i; n < d.length; n += 4) s += d[n] / 25;
        return Math.round(s).toString(16).padStart(2, '0');
      });
    post('edit', { action: 'front-set', id, colour: '#' + mean.join('') });
  }

  key(e) {
    if (this.picking && e.key === 'Escape') {
      this.leave();
      return true;
    }
    return this.masks.key(e);
  }
}
