// The loupe: a mark as it was put, as it is here, and the difference of both.
import { HAND } from '../base/draw.js';
import { shot } from '../page/state.js';

export class Loupe {
  /** @param hand which marks are put and moved with: its state, what is moving, and where a mark by hand is */
  constructor(hand) {
    this.hand = hand;
    this.full = new Map();
  }

  /** The plate's frame in full size, for the loupe. */
  picture(f) {
    let im = this.full.get(f);
    if (!im) {
      im = new Image();
      im.src = `/shots/${shot}/plate/${f}.jpg?by=1&v=${this.hand.s.data.plate.print}`;
      im.onload = () => this.draw();
      this.full.set(f, im);
      if (this.full.size > 24) this.full.delete(this.full.keys().next().value);
    }
    return im.complete && im.naturalWidth ? im : null;
  }

  /** The one chosen track's reference region, its present region, and their difference: drift is seen. */
  draw() {
    const c = document.getElementById('loupe');
    if (!c || !this.hand.s.data) return;
    const id = this.hand.s.chosen.size === 1 ? [...this.hand.s.chosen][0] : null,
      t = id === null ? null : this.hand.s.tracks.find((k) => k.id === id),
      m = (this.hand.s.data.marks || []).find((k) => k.id === id);
    c.hidden = id === null || !(t || m);
    document.querySelector('.under-loupe').hidden = c.hidden;
    if (c.hidden || this.hand.s.playing) return;
    const r = m ? m.region : 10,
      f = this.hand.s.frame,
      g = c.getContext('2d', { willReadFrequently: true }),
      size = 86,
      gap = 7;
    const fix = m ? m.fixes.reduce((a, b) => (Math.abs(b.frame - f) < Math.abs(a.frame - f) ? b : a)) : null;
    const off = m ? [fix.aside || 0, fix.asideY || 0] : [0, 0],
      ref = m ? [fix.frame, fix.x + off[0], fix.y + off[1]] : [t.first, t.xy[0], t.xy[1]],
      i = t ? f - t.first : -1;
    const now =
      this.hand.moving && this.hand.moving.mark === id
        ? this.hand.moving.at
        : m
          ? this.hand.place(m)
          : i >= 0 && i < t.n && t.xy[2 * i] !== null
            ? [t.xy[2 * i], t.xy[2 * i + 1]]
            : null;
    g.fillStyle = '#1e1e1e';
    g.fillRect(0, 0, c.width, c.height);
    const cut = (frame, x, y, k) => {
      const im = this.picture(frame);
      if (!im) return false;
      g.imageSmoothingEnabled = true;
      g.imageSmoothingQuality = 'low';
      g.drawImage(im, x - r - 0.5, y - r - 0.5, 2 * r + 1, 2 * r + 1, k * (size + gap), 0, size, size);
      return true;
    };
    const a = cut(...ref, 0),
      b = now && cut(f, now[0] + off[0], now[1] + off[1], 1);
    if (a && b) {
      const p = g.getImageData(0, 0, size, size),
        q = g.getImageData(size + gap, 0, size, size);
      // Brightness changes are taken out, as tracking does; what is left is seen four times as strong.
      let mp = 0,
        mq = 0;
      for (let k = 0; k < p.data.length; k += 4) {
        mp += p.data[k + 1];
        mq += q.data[k + 1];
      }
      for (let k = 0; k < p.data.length; k += 4) {
        const d = 128 + 4 * (q.data[k + 1] - mq / (size * size) - p.data[k + 1] + mp / (size * size));
        p.data[k] = p.data[k + 1] = p.data[k + 2] = d;
        p.data[k + 3] = 255;
      }
      g.putImageData(p, 2 * (size + gap), 0);
    }
    g.strokeStyle = HAND;
    g.lineWidth = 1;
    for (const k of [0, 1]) {
      const x = k * (size + gap) + size / 2;
      g.beginPath();
      g.moveTo(x - 6, size / 2);
      g.lineTo(x + 6, size / 2);
      g.moveTo(x, size / 2 - 6);
      g.lineTo(x, size / 2 + 6);
      g.stroke();
    }
  }
}
