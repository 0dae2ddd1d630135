// A look into the shot's map, over the picture: drag to look round, wheel to come nearer. What is clicked in it is
// marked: far things that the plate shows too, upright lines, the horizon.
import { HAND, label } from '../base/draw.js';
import { post } from '../page/net.js';
import { state } from '../page/state.js';
import { direction } from './suns.js';

const RAD = Math.PI / 180;
const TOOLS = {
  thing: 'click a far thing that the plate shows too, then the same in the plate',
  upright: 'click both ends of something that stands upright; two or more that stand apart',
  horizon: 'click places of the horizon that lie apart',
};

export class MapLook {
  /** @param picture whose hand takes the second click of a thing */
  constructor(picture) {
    this.p = picture;
    this.az = 0;
    this.up = 0;
    this.field = 80;
    this.stops = 0;
    this.tool = 'thing';
    this.lines = [];
    this.ends = [];
    this.horizon = [];
    const el = document.createElement('div');
    el.className = 'maplook';
    el.hidden = true;
    el.innerHTML = `<canvas tabindex="0" aria-label="a look into the map"></canvas>
      <div class="maplook-bar"><span data-tools></span>
      <button type="button" data-do="chart">Read the chart here</button>
      <button type="button" data-do="level">Bring the map upright</button>
      <label>stops
        <input type="range" min="-8" max="6" step="0.5" value="0" aria-label="brightness of the look"></label>
      <output></output><button type="button" data-do="close">Close</button></div>`;
    picture.el.append(el);
    this.el = el;
    this.canvas = el.querySelector('canvas');
    this.out = el.querySelector('output');
    for (const [name, title] of Object.entries(TOOLS)) {
      const b = document.createElement('button');
      b.type = 'button';
      b.textContent = name;
      b.title = title;
      b.dataset.tool = name;
      b.addEventListener('click', () => {
        this.tool = name;
        this.ends = [];
        this.draw();
      });
      el.querySelector('[data-tools]').append(b);
    }
    el.addEventListener('click', (e) => {
      const what = e.target.dataset.do;
      if (what === 'close') this.close();
      if (what === 'chart')
        post('edit', {
          action: 'chart-in-map',
          azimuthDeg: this.az.toFixed(3),
          elevationDeg: this.up.toFixed(3),
          fieldDeg: this.field.toFixed(2),
        });
      if (what === 'level') this.level();
    });
    el.querySelector('input').addEventListener('input', (e) => {
      this.stops = Number(e.target.value);
      this.ask();
    });
    el.addEventListener('keydown', (e) => {
      if (e.key !== 'Escape') return;
      e.stopPropagation();
      this.close();
    });
    this.gestures();
  }

  open(hash) {
    if (this.hash !== hash) {
      this.lines = [];
      this.ends = [];
      this.horizon = [];
    }
    this.hash = hash;
    this.image = null;
    this.el.hidden = false;
    this.canvas.focus();
    this.ask();
  }

  close() {
    this.el.hidden = true;
  }

  size() {
    const w = Math.max(16, Math.round(this.p.el.clientWidth)),
      h = Math.max(16, Math.round(this.p.el.clientHeight - this.el.querySelector('.maplook-bar').offsetHeight));
    return [Math.min(w, 1920), Math.min(h, 1200)];
  }

  /** One picture at a time is asked for; while it is made, what is shown is moved along. */
  ask() {
    const [w, h] = this.size();
    this.draw();
    if (this.asking) {
      this.again = true;
      return;
    }
    this.asking = true;
    const im = new Image(),
      of = { az: this.az, up: this.up, field: this.field };
    const done = () => {
      this.asking = false;
      if (this.again) {
        this.again = false;
        this.ask();
      }
    };
    im.onload = () => {
      this.image = im;
      this.of = of;
      this.draw();
      done();
    };
    im.onerror = done;
    im.src =
      `/shelf/${this.hash}-look.jpg?azimuth=${of.az.toFixed(2)}&elevation=${of.up.toFixed(2)}` +
      `&field=${of.field.toFixed(2)}&width=${w}&height=${h}&stops=${this.stops}`;
  }

  /** Pixels of a direction, or null behind. */
  at(az, up) {
    const [w, h] = this.size(),
      d = direction(az, up),
      [a, r, u] = axes(this.az, this.up),
      z = dot(d, a);
    if (z < 0.01) return null;
    const k = w / 2 / Math.tan((this.field / 2) * RAD);
    return [w / 2 + (k * dot(d, r)) / z, h / 2 - (k * dot(d, u)) / z];
  }

  /** Azimuth and elevation of a pixel. */
  from(x, y) {
    const [w, h] = this.size(),
      [a, r, u] = axes(this.az, this.up),
      k = w / 2 / Math.tan((this.field / 2) * RAD),
      d = a.map((v, i) => v + ((x - w / 2) / k) * r[i] + ((h / 2 - y) / k) * u[i]),
      n = Math.hypot(...d);
    return [Math.atan2(d[0], -d[2]) / RAD, Math.asin(d[1] / n) / RAD];
  }

  draw() {
    const [w, h] = this.size(),
      c = this.canvas,
      g = c.getContext('2d');
    c.width = w;
    c.height = h;
    g.fillStyle = '#111';
    g.fillRect(0, 0, w, h);
    if (this.image) {
      // Until the new picture is there, the old one is moved to about where it belongs.
      const s = Math.tan((this.of.field / 2) * RAD) / Math.tan((this.field / 2) * RAD),
        q = this.at(this.of.az, this.of.up) || [w / 2, h / 2];
      g.drawImage(this.image, q[0] - (s * w) / 2, q[1] - (s * h) / 2, s * w, s * h);
    }
    g.font = '11px "Archivo Variable"';
    g.lineWidth = 2;
    g.strokeStyle = g.fillStyle = HAND;
    for (const l of this.lines) this.line(g, l.slice(0, 2), l.slice(2));
    for (const p of [...this.ends, ...this.horizon]) this.dot(g, p);
    for (const k of (state.data.clues || {}).pairs || []) {
      const q = this.at(k.azimuthDeg, k.elevationDeg);
      if (!q) continue;
      this.dot(g, [k.azimuthDeg, k.elevationDeg]);
      label(g, `thing ${k.id}`, q[0] + 8, q[1] + 4);
    }
    for (const b of this.el.querySelectorAll('[data-tool]'))
      b.setAttribute('aria-pressed', b.dataset.tool === this.tool);
    this.el.querySelector('[data-do=level]').disabled = this.lines.length < 2 && this.horizon.length < 2;
    this.out.textContent = `${Math.round(this.az)}, ${Math.round(this.up)} deg, field ${Math.round(this.field)}`;
  }

  dot(g, p) {
    const q = this.at(...p);
    if (!q) return;
    g.beginPath();
    g.arc(...q, 4, 0, 7);
    g.stroke();
  }

  line(g, a, b) {
    const p = this.at(...a),
      q = this.at(...b);
    if (!p || !q) return;
    g.beginPath();
    g.moveTo(...p);
    g.lineTo(...q);
    g.stroke();
  }

  clicked(x, y) {
    const d = this.from(x, y);
    if (this.tool === 'thing') {
      this.close();
      this.p.hand.pair(d);
    } else if (this.tool === 'horizon') this.horizon.push(d);
    else {
      this.ends.push(d);
      if (this.ends.length === 2) {
        this.lines.push(this.ends.flat());
        this.ends = [];
      }
    }
    this.draw();
  }

  level() {
    const text = (groups) => groups.map((k) => k.map((v) => v.toFixed(3)).join(',')).join(';');
    post('start', { what: 'upright', verticals: text(this.lines), horizon: text(this.horizon) });
    this.lines = [];
    this.horizon = [];
    this.close();
  }

  gestures() {
    const c = this.canvas;
    let down = null;
    const place = (e) => {
      const b = c.getBoundingClientRect();
      return [((e.clientX - b.left) * c.width) / b.width, ((e.clientY - b.top) * c.height) / b.height];
    };
    c.addEventListener('pointerdown', (e) => {
      c.setPointerCapture(e.pointerId);
      down = { at: place(e), az: this.az, up: this.up, moved: false };
    });
    c.addEventListener('pointermove', (e) => {
      if (!down) return;
      const q = place(e),
        dx = q[0] - down.at[0],
        dy = q[1] - down.at[1];
      if (!down.moved && Math.hypot(dx, dy) < 4) return;
      down.moved = true;
      const k = this.field / this.size()[0];
      this.az = ((down.az - dx * k + 540) % 360) - 180;
      this.up = Math.max(-90, Math.min(90, down.up + dy * k));
      this.ask();
    });
    c.addEventListener('pointerup', (e) => {
      if (down && !down.moved) this.clicked(...place(e));
      down = null;
    });
    c.addEventListener(
      'wheel',
      (e) => {
        e.preventDefault();
        this.field = Math.max(4, Math.min(130, this.field * Math.exp(e.deltaY * 0.0015)));
        this.ask();
      },
      { passive: false },
    );
  }
}

const dot = (a, b) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Ahead, right, up: as core/light/pano/MapView has them. */
function axes(az, up) {
  const a = az * RAD,
    d = direction(az, up),
    r = [Math.cos(a), 0, Math.sin(a)];
  return [d, r, [r[1] * d[2] - r[2] * d[1], r[2] * d[0] - r[0] * d[2], r[0] * d[1] - r[1] * d[0]]];
}
