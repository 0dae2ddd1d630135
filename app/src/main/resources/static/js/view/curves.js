// Curves of the chosen performer: keys are dragged, their passing is chosen, values or speeds are shown.
import { HAND } from '../base/draw.js';
import { chosenOne } from '../page/cast.js';
import { post } from '../page/net.js';
import { drawAll } from '../page/state.js';
import { go } from '../page/time.js';
import { ends, kind, reach, together } from './scales.js';

const LEFT = 46,
  RIGHT = 12,
  TOP = 8,
  /** Below the curves: frames, and the row in which a key's numbers are typed. */
  LOW = 38,
  ROW = 22;
const COLOURS = ['#8fa8b8', '#e0a458', '#9cc48a', '#cfcfcf', '#c58fb8', '#b8a98f', '#7fb0d0', '#d08f7f'];
const EASES = [
  ['HOLD', 'hold', 'stays until the next key'],
  ['LINEAR', 'straight', 'straight towards its neighbours'],
  ['EASED', 'eased', 'comes to rest'],
  ['FREE', 'free', 'by its own slopes: drag its handles'],
];

/** Between keys as core/scene/Curve has it. */
export function keyed(keys, f) {
  let k = 0;
  while (k < keys.length && keys[k].frame <= f) k++;
  if (k === 0) return keys[0].value;
  if (k === keys.length) return keys[k - 1].value;
  const a = keys[k - 1],
    b = keys[k];
  if (a.ease === 'HOLD') return a.value;
  const span = b.frame - a.frame,
    u = (f - a.frame) / span,
    chord = (b.value - a.value) / span,
    slope = (q, own) => (q.ease === 'EASED' ? 0 : q.ease === 'FREE' ? own : chord),
    o = slope(a, a.out),
    n = slope(b, b.in),
    u2 = u * u,
    u3 = u2 * u;
  return (
    (2 * u3 - 3 * u2 + 1) * a.value + (u3 - 2 * u2 + u) * span * o + (3 * u2 - 2 * u3) * b.value + (u3 - u2) * span * n
  );
}

export class Curves {
  constructor(canvas, bar, state) {
    this.s = state;
    this.canvas = canvas;
    this.bar = bar;
    this.fields = document.createElement('div');
    this.fields.className = 'keynums';
    this.fields.hidden = true;
    canvas.after(this.fields);
    this.off = new Set();
    this.speed = false;
    canvas.addEventListener('pointerdown', (e) => this.down(e));
    canvas.addEventListener('pointermove', (e) => this.move(e));
    canvas.addEventListener('pointerup', () => this.up());
    canvas.addEventListener('dblclick', (e) => this.add(e));
    canvas.tabIndex = 0;
    canvas.addEventListener('keydown', (e) => {
      if ((e.key === 'Delete' || e.key === 'Backspace') && this.key) {
        e.preventDefault();
        e.stopPropagation();
        this.drop();
      }
    });
  }

  drop() {
    const p = chosenOne(this.s),
      k = this.key;
    this.key = null;
    if (p && k) post('edit', { action: 'key-delete', id: p.id, channel: k.channel, frame: k.frame });
  }

  /** Channels of the chosen one that have curves. */
  channels() {
    const p = chosenOne(this.s);
    return p ? Object.keys(p.curves) : [];
  }

  shown() {
    return this.channels().filter((c) => !this.off.has(c));
  }

  /** The chosen key. */
  get key() {
    return this.s.key;
  }

  set key(k) {
    this.s.key = k;
  }

  colour(c) {
    return COLOURS[this.channels().indexOf(c) % COLOURS.length];
  }

  /** Buttons for what can be seen and for the chosen key; made anew only when they change. */
  buttons() {
    const all = this.channels(),
      k = this.key,
      said = JSON.stringify([
        chosenOne(this.s) && chosenOne(this.s).name,
        all,
        [...this.off],
        this.speed,
        k && [k.channel, k.now && k.now.frame, k.now && k.now.ease],
      ]);
    if (said === this.was) return;
    this.was = said;
    const title = document.createElement('span');
    title.className = 'of';
    title.textContent = chosenOne(this.s) ? `Curves: ${chosenOne(this.s).name}` : 'Curves';
    this.bar.replaceChildren(title);
    const b = (text, title, on, of, colour) => {
      const e = document.createElement('button');
      e.type = 'button';
      e.textContent = text;
      e.title = title;
      if (on !== null) e.setAttribute('aria-pressed', on);
      if (colour) e.style.setProperty('--curve', colour);
      e.addEventListener('click', of);
      this.bar.append(e);
      return e;
    };
    for (const c of all)
      b(
        chosenOne(this.s).called[c] || c,
        'show or hide this curve',
        !this.off.has(c),
        () => {
          if (this.off.has(c)) this.off.delete(c);
          else this.off.add(c);
          this.draw();
        },
        this.colour(c),
      );
    if (all.length)
      b(
        'speed',
        'how fast each changes, a second, instead of what it is',
        this.speed,
        () => {
          this.speed = !this.speed;
          this.draw();
        },
        HAND,
      ).classList.add('act');
    if (k && k.now) {
      for (const [v, n, t] of EASES)
        b(
          n,
          t,
          k.now.ease === v,
          () =>
            post('edit', {
              action: 'key-set',
              id: chosenOne(this.s).id,
              channel: k.channel,
              frame: k.frame,
              ease: v,
            }),
          this.colour(k.channel),
        );
    }
  }

  /** Frame and value of the chosen key, to be typed; made anew only for another key. */
  numbers() {
    const k = this.key,
      said = k && k.now ? `${k.channel} ${k.now.frame}` : '';
    if (said !== this.typed) {
      this.typed = said;
      this.fields.replaceChildren();
      this.fields.hidden = !said;
      if (said) {
        const n = document.createElement('span');
        n.textContent = `${chosenOne(this.s).called[k.channel]} in frame`;
        const away = document.createElement('button');
        away.type = 'button';
        away.textContent = 'take away';
        away.title = 'takes this key away';
        away.addEventListener('click', () => this.drop());
        this.fields.append(n, this.field('frame'), this.field('value'), away);
      }
    }
    for (const e of this.fields.querySelectorAll('input'))
      if (e !== document.activeElement)
        e.value = e.name === 'frame' ? k.now.frame : String(Math.round(k.now.value * 1000) / 1000);
  }

  field(name) {
    const { channel, frame } = this.key,
      e = document.createElement('input');
    e.name = name;
    e.inputMode = 'decimal';
    e.autocomplete = 'off';
    e.title = name === 'frame' ? 'frame of this key' : 'value of this key';
    e.setAttribute('aria-label', e.title);
    e.addEventListener('keydown', (x) => {
      x.stopPropagation();
      if (x.key === 'Enter') e.blur();
    });
    e.addEventListener('change', async () => {
      const v = e.value.trim().replace(',', '.');
      await post('edit', {
        action: 'key-set',
        id: chosenOne(this.s).id,
        channel,
        frame,
        ...(name === 'frame' ? { to: v } : { value: v }),
      });
      const c = (chosenOne(this.s) || { curves: {} }).curves[channel],
        to = name === 'frame' ? Number(v) : frame;
      if (c && c.keys.some((q) => q.frame === to)) this.key = { channel, frame: to };
      drawAll();
    });
    return e;
  }

  samples(p, c) {
    const rate = this.s.data.plate.rate,
      first = this.s.data.plate.first,
      own = this.drag && this.drag.channel === c ? this.drag.keys : null;
    // While a key is dragged its curve follows; waves come back with the answer.
    const v = own ? p.sampled[c].map((_, i) => keyed(own, first + i)) : p.sampled[c];
    return this.speed
      ? v.map(
          (x, i) =>
            (rate * (v[Math.min(i + 1, v.length - 1)] - v[Math.max(i - 1, 0)])) /
            (Math.min(i + 1, v.length - 1) - Math.max(i - 1, 0) || 1),
        )
      : v;
  }

  draw() {
    const k = window.devicePixelRatio || 1,
      w = this.canvas.clientWidth,
      h = this.canvas.clientHeight,
      g = this.canvas.getContext('2d');
    this.canvas.width = w * k;
    this.canvas.height = h * k;
    g.setTransform(k, 0, 0, k, 0, 0);
    if (!this.s.data || !this.s.data.plate) return;
    const p = chosenOne(this.s),
      d = this.s.data.plate,
      n = d.last - d.first + 1;
    if (this.key && p) {
      const c = this.key.channel;
      this.key.now = (p.curves[c] && this.keys(p, c).find((q) => q.frame === this.key.frame)) || null;
      if (!this.key.now) this.key = null;
    }
    if (!p && this.s.blocking) this.key = null;
    this.buttons();
    this.numbers();
    this.px = (f) => LEFT + ((f - d.first + 0.5) / n) * (w - LEFT - RIGHT);
    this.fx = (x) => d.first + ((x - LEFT) / (w - LEFT - RIGHT)) * n - 0.5;
    g.font = '10px "Archivo Variable"';
    g.fillStyle = '#202020';
    g.fillRect(LEFT, TOP, w - LEFT - RIGHT, h - TOP - LOW);
    g.fillStyle = '#969696';
    const every = [1, 2, 5, 10, 20, 50, 100, 200, 500].find((q) => (q / n) * (w - LEFT - RIGHT) > 34) || 1000;
    for (let f = d.first; f <= d.last; f++)
      if (f === d.first || (f % every === 0 && f - d.first >= every)) g.fillText(f, this.px(f) - 3, h - ROW - 4);
    const shown = this.shown();
    if (!p) {
      g.fillText('Choose a performer to see its curves.', LEFT + 10, TOP + 18);
      return;
    }
    this.scales = new Map();
    if (!shown.length) {
      g.fillText(
        this.channels().length ? 'All its curves are hidden.' : 'Nothing is keyed yet: press "key" beside a number.',
        LEFT + 10,
        TOP + 18,
      );
      return;
    }
    for (const [q, v] of together(shown, (c) => this.samples(p, c)))
      // A drag keeps the scale it began in.
      this.scales.set(q, this.drag && this.drag.scale[0] === q ? this.drag.scale[1] : reach(v));
    this.y = (c, v) => {
      const [a, b] = this.scales.get(kind(c));
      return h - LOW - ((v - a) / (b - a)) * (h - TOP - LOW);
    };
    this.v = (c, y) => {
      const [a, b] = this.scales.get(kind(c));
      return a + ((h - LOW - y) / (h - TOP - LOW)) * (b - a);
    };
    ends(this, g, shown);
    g.save();
    g.beginPath();
    g.rect(LEFT, TOP, w - LEFT - RIGHT, h - TOP - LOW);
    g.clip();
    for (const c of shown) {
      g.strokeStyle = this.colour(c);
      g.lineWidth = 1.5;
      g.beginPath();
      this.samples(p, c).forEach((v, i) => {
        const x = this.px(d.first + i),
          y = this.y(c, v);
        if (i) g.lineTo(x, y);
        else g.moveTo(x, y);
      });
      g.stroke();
      if (this.speed) continue;
      for (const q of this.keys(p, c)) {
        const mine = this.key && this.key.channel === c && this.key.frame === q.frame,
          x = this.px(q.frame),
          y = this.y(c, q.value);
        if (mine && q.ease === 'FREE')
          for (const [dx, s] of [
            [-1, q.in],
            [1, q.out],
          ]) {
            const e = this.handle(c, q, dx, s);
            g.strokeStyle = '#969696';
            g.lineWidth = 1;
            g.beginPath();
            g.moveTo(x, y);
            g.lineTo(...e);
            g.stroke();
            g.fillStyle = HAND;
            g.beginPath();
            g.arc(...e, 3, 0, 7);
            g.fill();
          }
        g.fillStyle = mine ? HAND : this.colour(c);
        g.strokeStyle = '#171717';
        g.lineWidth = 1;
        g.beginPath();
        if (q.ease === 'HOLD') g.rect(x - 3.5, y - 3.5, 7, 7);
        else if (q.ease === 'LINEAR') {
          g.moveTo(x, y - 5);
          g.lineTo(x + 4.5, y + 3.5);
          g.lineTo(x - 4.5, y + 3.5);
          g.closePath();
        } else g.arc(x, y, 4, 0, 7);
        g.fill();
        g.stroke();
      }
    }
    g.restore();
    g.fillStyle = HAND;
    g.fillRect(this.px(this.s.frame) - 0.75, TOP, 1.5, h - TOP - LOW);
  }

  keys(p, c) {
    return this.drag && this.drag.channel === c ? this.drag.keys : p.curves[c].keys;
  }

  /** Where the end of a slope is drawn: 36 pixels to the side. */
  handle(c, q, side, slope) {
    const x = this.px(q.frame),
      f = this.fx(x + 36) - q.frame;
    return [x + 36 * side, this.y(c, q.value + slope * f * side)];
  }

  at(e) {
    const b = this.canvas.getBoundingClientRect();
    return [e.clientX - b.left, e.clientY - b.top];
  }

  down(e) {
    const p = chosenOne(this.s);
    if (!this.px) return;
    this.canvas.setPointerCapture(e.pointerId);
    const [x, y] = this.at(e);
    if (p && this.y && !this.speed) {
      if (this.key && this.key.now && this.key.now.ease === 'FREE') {
        for (const side of [-1, 1]) {
          const q = this.key.now,
            h = this.handle(this.key.channel, q, side, side < 0 ? q.in : q.out);
          if (Math.hypot(h[0] - x, h[1] - y) < 7) {
            this.grab(p, this.key.channel, q, side);
            return;
          }
        }
      }
      let best = null,
        near = 8;
      for (const c of this.shown())
        for (const q of p.curves[c].keys) {
          const d = Math.hypot(this.px(q.frame) - x, this.y(c, q.value) - y);
          if (d < near) {
            near = d;
            best = [c, q];
          }
        }
      if (best) {
        this.key = { channel: best[0], frame: best[1].frame };
        this.grab(p, best[0], best[1], 0);
        drawAll();
        return;
      }
    }
    this.key = null;
    this.scrub = true;
    go(Math.round(this.fx(x)));
  }

  grab(p, c, q, side) {
    const keys = p.curves[c].keys.map((k) => ({ ...k }));
    this.drag = {
      channel: c,
      keys,
      of: keys.find((k) => k.frame === q.frame),
      from: q.frame,
      side,
      scale: [kind(c), this.scales.get(kind(c))],
    };
  }

  move(e) {
    const [x, y] = this.at(e);
    if (this.scrub) {
      go(Math.round(this.fx(x)));
      return;
    }
    const d = this.drag;
    if (!d) return;
    d.moved = true;
    if (d.side) {
      const f = Math.abs(this.fx(x) - d.of.frame) || 0.5,
        s = ((this.v(d.channel, y) - d.of.value) / f) * d.side;
      // Both sides turn together unless Alt parts them.
      if (d.side > 0 || !e.altKey) d.of.out = s;
      if (d.side < 0 || !e.altKey) d.of.in = s;
    } else {
      const i = d.keys.indexOf(d.of),
        lo = i ? d.keys[i - 1].frame + 1 : -Infinity,
        hi = i + 1 < d.keys.length ? d.keys[i + 1].frame - 1 : Infinity;
      d.of.frame = Math.max(0, lo, Math.min(hi, Math.round(this.fx(x))));
      if (!e.shiftKey) d.of.value = this.v(d.channel, y);
      this.key.frame = d.of.frame;
    }
    this.draw();
  }

  async up() {
    const d = this.drag,
      p = chosenOne(this.s);
    this.scrub = false;
    if (!d || !d.moved) {
      this.drag = null;
      return;
    }
    const q = d.of;
    await post('edit', {
      action: 'key-set',
      id: p.id,
      channel: d.channel,
      frame: d.from,
      to: q.frame,
      value: q.value.toFixed(5),
      ...(d.side ? { in: q.in.toFixed(6), out: q.out.toFixed(6) } : {}),
    });
    if (this.drag === d) this.drag = null;
    drawAll();
  }

  /** A new key where a curve is pressed twice. */
  add(e) {
    const p = chosenOne(this.s),
      [x, y] = this.at(e),
      f = Math.round(this.fx(x));
    if (!p || !this.y || this.speed) return;
    let best = null,
      near = 14;
    for (const c of this.shown()) {
      const v = p.sampled[c][f - this.s.data.plate.first];
      if (v === undefined) continue;
      const d = Math.abs(this.y(c, v) - y);
      if (d < near) {
        near = d;
        best = c;
      }
    }
    if (best && !p.curves[best].keys.some((k) => k.frame === f)) {
      this.key = { channel: best, frame: f };
      post('edit', { action: 'key', id: p.id, channel: best, frame: f, value: this.v(best, y).toFixed(5) });
    }
  }
}
