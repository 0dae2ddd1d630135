// The chosen tracks as curves over the frames: where they are, how fast, how well matched, how far from the solve.
// Spans are chosen here and cut.
import { post } from '../page/net.js';
import { go } from '../page/time.js';
import { AFTER, BEFORE } from './ribbon.js';

const HAND = '#d4e157',
  TOP = 6,
  LOW = 15,
  MOST = 40;
const CURVES = [
  ['x', '#8fa8b8'],
  ['y', '#e0a458'],
  ['speed', '#cfcfcf'],
  ['residual', '#f0379b'],
  ['match', '#9cc48a'],
];

export class Graph {
  constructor(state) {
    this.s = state;
    this.canvas = document.getElementById('graph');
    this.left = this.right = 0;
    this.on = new Set(['speed', 'residual']);
    const bar = document.getElementById('curves');
    for (const [name, colour] of CURVES) {
      const b = document.createElement('button');
      b.type = 'button';
      b.textContent = name;
      b.style.setProperty('--curve', colour);
      b.setAttribute('aria-pressed', this.on.has(name));
      b.dataset.curve = name;
      b.addEventListener('click', () => {
        if (this.on.has(name)) this.on.delete(name);
        else this.on.add(name);
        b.setAttribute('aria-pressed', this.on.has(name));
        this.draw();
      });
      bar.append(b);
    }
    const act = (text, title, of) => {
      const b = document.createElement('button');
      b.type = 'button';
      b.textContent = text;
      b.title = title;
      b.className = 'act';
      b.addEventListener('click', of);
      bar.append(b);
      return b;
    };
    this.buttons = [
      act('cut span', 'take the chosen frames out of the chosen tracks', () => this.cut(true)),
      act('keep only span', 'take all other frames out', () => this.cut(false)),
    ];
    this.canvas.addEventListener('pointerdown', (e) => {
      if (!this.s.data || !this.s.data.plate) return;
      this.canvas.setPointerCapture(e.pointerId);
      this.from = this.frameAt(e);
      this.span = null;
      go(this.from);
    });
    this.canvas.addEventListener('pointermove', (e) => {
      if (this.from === undefined) return;
      const f = this.frameAt(e);
      if (f !== this.from) this.span = [Math.min(f, this.from), Math.max(f, this.from)];
      this.draw();
    });
    this.canvas.addEventListener('pointerup', () => {
      this.from = undefined;
    });
  }

  frameAt(e) {
    const p = this.s.data.plate,
      b = this.canvas.getBoundingClientRect(),
      w = this.canvas.clientWidth - this.left - this.right;
    return Math.max(
      p.first,
      Math.min(p.last, p.first + Math.floor(((e.clientX - b.left - this.left) / w) * (p.last - p.first + 1))),
    );
  }

  async cut(inside) {
    const ids = [...this.s.chosen].join(','),
      p = this.s.data.plate,
      [a, b] = this.span;
    this.span = null;
    if (inside) {
      await post('edit', { action: 'cut', ids, from: a, to: b });
      return;
    }
    if (a > p.first) await post('edit', { action: 'cut', ids, from: p.first, to: a - 1 });
    if (b < p.last) await post('edit', { action: 'cut', ids, from: b + 1, to: p.last });
  }

  /** Values of one curve of a track by frame; null where there is none. */
  values(t, name) {
    const p = this.s.data.plate,
      out = [],
      points = new Map((this.s.data.points || []).map((q) => [q[0], q]));
    for (let f = p.first; f <= p.last; f++) {
      const i = f - t.first,
        x = t.xy[2 * i],
        y = t.xy[2 * i + 1],
        seen = i >= 0 && i < t.n && x !== null;
      let v = null;
      if (seen && name === 'x') v = x;
      else if (seen && name === 'y') v = y;
      else if (seen && name === 'speed' && i > 0 && t.xy[2 * i - 2] !== null)
        v = Math.hypot(x - t.xy[2 * i - 2], y - t.xy[2 * i - 1]);
      else if (seen && name === 'match' && this.s.match && this.s.chosen.size === 1) v = this.s.match.get(f) ?? null;
      else if (seen && name === 'residual' && this.s.camera && points.has(t.id)) {
        const q = this.s.camera.project(f, points.get(t.id).slice(1, 4));
        if (q) v = Math.hypot(q[0] - x, q[1] - y);
      }
      out.push(v);
    }
    return out;
  }

  /** Its frames lie under those of the ribbon. */
  align() {
    const own = this.canvas.getBoundingClientRect(),
      ribbon = document.getElementById('ribbon').getBoundingClientRect();
    this.left = ribbon.left + BEFORE - own.left;
    this.right = own.right - ribbon.right + AFTER;
  }

  draw() {
    this.align();
    const k = window.devicePixelRatio || 1,
      w = this.canvas.clientWidth,
      h = this.canvas.clientHeight,
      g = this.canvas.getContext('2d');
    this.canvas.width = w * k;
    this.canvas.height = h * k;
    g.setTransform(k, 0, 0, k, 0, 0);
    g.font = '10px "Archivo Variable"';
    if (!this.s.data || !this.s.data.plate) return;
    const p = this.s.data.plate,
      n = p.last - p.first + 1,
      px = (f) => this.left + ((f - p.first + 0.5) / n) * (w - this.left - this.right);
    const tracks = this.s.tracks.filter((t) => this.s.chosen.has(t.id)).slice(0, MOST);
    this.buttons.forEach((b) => {
      b.disabled = !this.span || !tracks.length;
    });
    g.fillStyle = '#2a2a2a';
    g.fillRect(this.left, TOP, w - this.left - this.right, h - TOP - LOW);
    if (this.span) {
      g.fillStyle = 'rgba(212,225,87,.16)';
      g.fillRect(px(this.span[0] - 0.5), TOP, px(this.span[1] + 0.5) - px(this.span[0] - 0.5), h - TOP - LOW);
    }
    g.fillStyle = '#969696';
    const every = [1, 2, 5, 10, 20, 50, 100, 200, 500].find((q) => (q / n) * (w - this.left - this.right) > 34) || 1000;
    for (let f = p.first; f <= p.last; f++)
      if (f === p.first || (f % every === 0 && f - p.first >= every)) g.fillText(f, px(f) - 3, h - 3);
    if (!tracks.length) {
      g.fillText('Choose a track to see its curves; drag over frames to choose a span.', this.left + 8, TOP + 16);
    }
    let row = 0;
    for (const [name, colour] of CURVES) {
      if (!this.on.has(name) || !tracks.length) continue;
      const all = tracks.map((t) => this.values(t, name)),
        seen = all.flat().filter((v) => v !== null);
      if (!seen.length) continue;
      const whole = name === 'x' || name === 'y',
        lo = whole ? Math.min(...seen) : name === 'match' ? Math.min(0.75, ...seen) : 0,
        hi = name === 'match' ? 1 : Math.max(...seen, lo + (whole ? 1 : 0.5));
      const y = (v) => h - LOW - ((v - lo) / (hi - lo)) * (h - TOP - LOW - 4);
      g.strokeStyle = colour;
      g.lineWidth = 1.3;
      g.globalAlpha = tracks.length > 4 ? 0.6 : 1;
      for (const line of all) {
        g.beginPath();
        line.forEach((v, i) => {
          if (v === null) return;
          if (i && line[i - 1] !== null) g.lineTo(px(p.first + i), y(v));
          else g.moveTo(px(p.first + i), y(v));
        });
        g.stroke();
      }
      g.globalAlpha = 1;
      g.fillStyle = colour;
      g.fillText(`${hi >= 100 ? hi.toFixed(0) : hi.toFixed(2)}`, 4, TOP + 10 + 11 * row);
      row++;
    }
    g.fillStyle = HAND;
    g.fillRect(px(this.s.frame) - 0.75, TOP, 1.5, h - TOP - LOW);
  }
}
