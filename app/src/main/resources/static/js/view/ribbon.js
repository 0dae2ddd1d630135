// The ribbon: frame ruler with one strip of the stage's own per-frame measurement.
import { go, range, setRange } from '../page/time.js';

const HAND = '#d4e157';

/** What is left free before the first frame and after the last, pixels. */
export const BEFORE = 8,
  AFTER = 52;
export class Ribbon {
  /**
   * @param stage its strip tells what there is by frame; null or nothing to tell: how many marks are alive; its keyed
   *   tells the frames in which something is keyed
   */
  constructor(state, stage) {
    this.s = state;
    this.stage = stage;
    this.canvas = document.getElementById('ribbon');
    this.g = this.canvas.getContext('2d');
    const pick = (e) => {
      const b = this.canvas.getBoundingClientRect(),
        p = this.s.data && this.s.data.plate;
      if (p) go(p.first + Math.floor((e.clientX - b.left - 8) / this.step()));
    };
    this.canvas.addEventListener('pointerdown', (e) => {
      this.canvas.setPointerCapture(e.pointerId);
      this.down = true;
      pick(e);
      // A range begins where it is pressed.
      this.begun = e.shiftKey ? this.s.frame : null;
    });
    this.canvas.addEventListener('pointermove', (e) => {
      if (!this.down) return;
      pick(e);
      if (this.begun !== null) setRange([Math.min(this.begun, this.s.frame), Math.max(this.begun, this.s.frame)]);
    });
    this.canvas.addEventListener('pointerup', () => {
      this.down = false;
    });
    this.canvas.addEventListener('dblclick', () => setRange(null));
  }

  step() {
    const p = this.s.data.plate;
    return (this.canvas.clientWidth - BEFORE - AFTER) / (p.last - p.first + 1);
  }

  /** What the strip shows: label, value in [0, 1] and colour for each frame, and a line with its name. */
  strip() {
    const d = this.s.data,
      p = d.plate;
    const own = this.stage.strip && this.stage.strip();
    if (own) return own;
    if (d.alive && d.alive.length) {
      const top = Math.max(...d.alive, 1);
      return {
        label: 'marks alive by frame',
        of: (f) => {
          const n = d.alive[f - p.first] || 0;
          return [n / top, n < 20 ? '#f0379b' : '#cfcfcf'];
        },
        line: [1, top],
      };
    }
    return { label: 'frames', of: () => [0.04, '#6a6a6a'] };
  }

  draw() {
    const k = window.devicePixelRatio || 1,
      w = this.canvas.clientWidth,
      h = 57,
      g = this.g;
    this.canvas.width = w * k;
    this.canvas.height = h * k;
    g.setTransform(k, 0, 0, k, 0, 0);
    if (!this.s.data || !this.s.data.plate) return;
    const p = this.s.data.plate,
      n = p.last - p.first + 1,
      step = this.step(),
      s = this.strip();
    g.font = '10.5px "Archivo Variable"';
    g.fillStyle = '#b3b3b3';
    g.fillText(s.label, 8, 11);
    if (s.line) {
      const y = 42 - 26 * Math.min(1, s.line[0]);
      g.strokeStyle = '#5a5a5a';
      g.setLineDash([2, 3]);
      g.beginPath();
      g.moveTo(8, y);
      g.lineTo(w - 50, y);
      g.stroke();
      g.setLineDash([]);
      g.fillStyle = '#969696';
      g.fillText(s.line[1], w - 46, y + 3);
    }
    for (let i = 0; i < n; i++) {
      const [v, c] = s.of(p.first + i),
        H = Math.max(1, 26 * Math.min(1, v));
      g.fillStyle = c;
      g.fillRect(8 + i * step, 42 - H, Math.max(1, step - 1.4), H);
    }
    if (s.under)
      for (let i = 0; i < n; i++) {
        const v = s.under(p.first + i);
        if (v > 0.002) {
          g.fillStyle = `rgba(255,255,255,${Math.min(0.8, 0.15 + 4 * v)})`;
          g.fillRect(8 + i * step, 43, Math.max(1, step - 1.4), 2);
        }
      }
    if (s.curve) {
      g.strokeStyle = '#8fa8b8';
      g.lineWidth = 1.2;
      g.beginPath();
      for (let i = 0; i < n; i++) {
        const x = 8 + (i + 0.5) * step,
          y = 42 - 26 * Math.max(0, Math.min(1, s.curve(p.first + i)));
        if (i) g.lineTo(x, y);
        else g.moveTo(x, y);
      }
      g.stroke();
    }
    if (this.stage.keyed) {
      g.fillStyle = HAND;
      for (const f of this.stage.keyed()) g.fillRect(8 + (f - p.first) * step, 14, Math.max(2, step - 1.4), 3);
    }
    // Handles are worked on, but not part of the cut.
    if (p.cut) {
      g.fillStyle = 'rgba(30,30,30,.62)';
      g.fillRect(8, 15, (p.cut[0] - p.first) * step, 30);
      g.fillRect(8 + (p.cut[1] - p.first + 1) * step, 15, (p.last - p.cut[1]) * step, 30);
    }
    const [a, b] = range();
    if (a > p.first || b < p.last) {
      g.fillStyle = HAND;
      g.fillRect(8 + (a - p.first) * step, 44, (b - a + 1) * step - 1.4, 2);
    }
    g.fillStyle = '#969696';
    g.font = '10px "Archivo Variable"';
    const every = Math.max(1, [1, 2, 5, 10, 20, 50, 100, 200, 500].find((q) => q * step > 34) || 1000);
    for (let f = p.first; f <= p.last; f++)
      if (f === p.first || (f % every === 0 && (f - p.first) * step > 34)) g.fillText(f, 8 + (f - p.first) * step, 54);
    const x = 8 + (this.s.frame - p.first + 0.5) * step;
    g.fillStyle = HAND;
    g.fillRect(x - 1, 14, 2, 30);
  }
}
