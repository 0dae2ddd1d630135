// Where the light of plate and shot lies, in one drawing: by columns (waveform), by columns and colour (parade), by how
// much there is of it (histogram), and by colour (vectorscope). Of what is shown, in its code values.
import { label } from '../base/draw.js';

const KINDS = [
  ['', 'no scope'],
  ['waveform', 'waveform'],
  ['parade', 'parade'],
  ['histogram', 'histogram'],
  ['vectorscope', 'vectorscope'],
];
/** Pictures are looked at in so many columns. */
const COLUMNS = 256;
const SHOT = [224, 164, 88],
  PLATE = [143, 168, 184];

export class Scopes {
  /** @param picture whose plate and shot are looked at; @param look where the choice stands */
  constructor(picture, look) {
    this.p = picture;
    this.kind = '';
    const sel = document.createElement('select');
    sel.id = 'scope';
    sel.setAttribute('aria-label', 'scope of plate and shot');
    sel.append(...KINDS.map(([value, text]) => new Option(text, value)));
    sel.addEventListener('change', () => {
      this.kind = sel.value;
      this.draw();
    });
    look.append(sel);
    this.canvas = Object.assign(document.createElement('canvas'), { className: 'scope', hidden: true });
    this.canvas.setAttribute('aria-label', 'scope: plate blue, shot orange');
    picture.el.append(this.canvas);
  }

  /** Pixels of a picture, small; one that was looked at last is not read again. */
  pixels(im, slot) {
    if (this[slot] && this[slot].im === im) return this[slot].data;
    const w = COLUMNS,
      h = Math.max(1, Math.round((w * im.height) / im.width)),
      c = Object.assign(document.createElement('canvas'), { width: w, height: h }),
      g = c.getContext('2d', { willReadFrequently: true });
    g.drawImage(im, 0, 0, w, h);
    const { data } = g.getImageData(0, 0, w, h);
    this[slot] = { im, data };
    return data;
  }

  draw() {
    this.canvas.hidden = !this.kind;
    if (!this.kind || !this.p.s.data || !this.p.s.data.plate) return;
    const plate = this.p.image(this.p.s.frame),
      over = this.p.over.shown;
    if (!plate) return;
    const w = this.kind === 'parade' ? 420 : this.kind === 'vectorscope' ? 220 : COLUMNS + 28,
      h = 220;
    this.canvas.width = w;
    this.canvas.height = h;
    const g = this.canvas.getContext('2d');
    g.fillStyle = 'rgba(16,16,16,.9)';
    g.fillRect(0, 0, w, h);
    const of = [[this.pixels(plate, 'plate'), PLATE, 'plate']];
    if (over && over.im) of.push([this.pixels(over.im, 'shot'), SHOT, 'shot']);
    const out = g.getImageData(0, 0, w, h);
    for (const [data, colour] of of) this[this.kind](data, colour, out);
    g.putImageData(out, 0, 0);
    this.scale(g, w, h);
    g.font = '10.5px "Archivo Variable"';
    of.forEach(([, c, name], i) => {
      g.fillStyle = `rgb(${c})`;
      label(g, name, 8 + 40 * i, 14);
    });
  }

  /** Lines at quarters of the code values. */
  scale(g, w, h) {
    g.strokeStyle = 'rgba(255,255,255,.18)';
    g.fillStyle = '#b3b3b3';
    g.font = '9.5px "Archivo Variable"';
    if (this.kind === 'vectorscope') {
      g.beginPath();
      g.arc(w / 2, h / 2, h / 2 - 12, 0, 7);
      g.moveTo(w / 2, 8);
      g.lineTo(w / 2, h - 8);
      g.moveTo(8, h / 2);
      g.lineTo(w - 8, h / 2);
      g.stroke();
      return;
    }
    for (let k = 0; k <= 4; k++) {
      const x = 20 + ((w - 28) * k) / 4,
        y = h - 8 - ((h - 28) * k) / 4;
      g.beginPath();
      if (this.kind === 'histogram') {
        g.moveTo(x, 20);
        g.lineTo(x, h - 8);
      } else {
        g.moveTo(20, y);
        g.lineTo(w - 8, y);
        g.fillText(25 * k, 3, y + 3);
      }
      g.stroke();
    }
  }

  static add(out, x, y, c, by) {
    if (x < 0 || y < 0 || x >= out.width || y >= out.height) return;
    const i = 4 * (y * out.width + x);
    for (let k = 0; k < 3; k++) out.data[i + k] = Math.min(255, out.data[i + k] + (by * c[k]) / 255);
  }

  waveform(data, colour, out) {
    const w = out.width - 28,
      h = out.height - 28;
    for (let i = 0; i < data.length; i += 4) {
      const y = 0.2126 * data[i] + 0.7152 * data[i + 1] + 0.0722 * data[i + 2],
        x = (i / 4) % COLUMNS;
      Scopes.add(out, 20 + Math.floor((x * w) / COLUMNS), out.height - 8 - Math.round((y * h) / 255), colour, 60);
    }
  }

  parade(data, colour, out) {
    const w = (out.width - 28) / 3,
      h = out.height - 28,
      tint = [
        [255, 90, 80],
        [90, 230, 90],
        [100, 140, 255],
      ],
      shot = colour === SHOT;
    for (let i = 0; i < data.length; i += 4)
      for (let c = 0; c < 3; c++) {
        // Plate at the left of each colour's part, shot at its right.
        const x = 20 + c * w + ((shot ? 0.5 : 0) + ((i / 4) % COLUMNS) / COLUMNS / 2) * (w - 6);
        Scopes.add(out, Math.floor(x), out.height - 8 - Math.round((data[i + c] * h) / 255), tint[c], 70);
      }
  }

  histogram(data, colour, out) {
    const n = new Float64Array(256);
    for (let i = 0; i < data.length; i += 4)
      n[Math.round(0.2126 * data[i] + 0.7152 * data[i + 1] + 0.0722 * data[i + 2])]++;
    const w = out.width - 28,
      h = out.height - 28,
      // By the root, so that a few bright pixels are seen beside a wall.
      top = Math.sqrt(0.06 * (data.length / 4));
    for (let x = 0; x < w; x++) {
      const k = Math.min(h, Math.round((Math.sqrt(n[Math.round((255 * x) / (w - 1))]) / top) * h));
      for (let y = 0; y < k; y++) Scopes.add(out, 20 + x, out.height - 8 - y, colour, y === k - 1 ? 255 : 70);
    }
  }

  /** Differences of blue and red to luma, Rec. 709. */
  vectorscope(data, colour, out) {
    const r = out.height / 2 - 12;
    for (let i = 0; i < data.length; i += 4) {
      const y = 0.2126 * data[i] + 0.7152 * data[i + 1] + 0.0722 * data[i + 2],
        b = (data[i + 2] - y) / 1.8556 / 128,
        k = (data[i] - y) / 1.5748 / 128;
      Scopes.add(out, Math.round(out.width / 2 + r * b), Math.round(out.height / 2 - r * k), colour, 70);
    }
  }
}
