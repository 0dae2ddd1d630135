// The picture: plate (or draft, comp, pass) with what the stage shows over it. Draws and collects gestures, decides nothing.
import { errorColour } from './camera.js';
import { shot, go, choose, post, drawAll } from './shot.js';
import { Solid } from './solid.js';
import { Hand, byHand } from './hand.js';
import { Lines } from './lines.js';
import { SetHand, drawPieces } from './setdraw.js';
import { BlockHand } from './blockhand.js';

const HAND = '#d4e157';
const AHEAD = 30;
const TRAIL = 12;
const MOST_STICKS = 5;

/** Text that can be read on any picture. */
export function label(g, text, x, y) {
  g.save();
  g.lineJoin = 'round'; g.lineWidth = 3; g.strokeStyle = 'rgba(0,0,0,.7)'; g.setLineDash([]);
  g.strokeText(text, x, y);
  g.fillText(text, x, y);
  g.restore();
}

/** A point through a 3x3 map, row-major. */
export function through(h, q) {
  const d = h[6] * q[0] + h[7] * q[1] + h[8];
  return [(h[0] * q[0] + h[1] * q[1] + h[2]) / d, (h[3] * q[0] + h[4] * q[1] + h[5]) / d];
}

function inverse(m) {
  return [m[4] * m[8] - m[5] * m[7], m[2] * m[7] - m[1] * m[8], m[1] * m[5] - m[2] * m[4], m[5] * m[6] - m[3] * m[8], m[0] * m[8] - m[2] * m[6], m[2] * m[3] - m[0] * m[5],
    m[3] * m[7] - m[4] * m[6], m[1] * m[6] - m[0] * m[7], m[0] * m[4] - m[1] * m[3]];
}

export class Picture {
  constructor(state, stage) {
    this.s = state;
    this.stage = stage;
    this.el = document.getElementById('pic');
    this.canvas = document.getElementById('picture');
    this.g = this.canvas.getContext('2d');
    this.badge = document.getElementById('badge');
    this.images = new Map();
    this.over = null;
    this.zoom = 1; this.panX = 0; this.panY = 0;
    this.hidden = false; this.plateOnly = false;
    this.exposure = 0; this.gamma = 1; this.by = 0;
    this.hand = stage === 'tracks' ? new Hand(this) : stage === 'camera' ? new Lines(this) : stage === 'set' ? new SetHand(this) : stage === 'blocking' ? new BlockHand(this) : null;
    this.toggles = this.buttons();
    this.solid = ['blocking'].includes(stage) ? new Solid(document.getElementById('solid'), state) : null;
    // What is drawn over performers lies on a canvas of its own, above theirs.
    if (this.solid) { this.upper = document.createElement('canvas'); this.upper.setAttribute('aria-hidden', 'true'); this.upper.style.cssText = 'z-index:2;pointer-events:none'; this.el.append(this.upper); }
    this.gestures();
  }

  /** What can be switched on over the picture on this stage: name -> on. */
  buttons() {
    const of = {
      tracks: { marks: true, trails: true }, camera: { marks: true, 'residuals x 20': true, points: false, 'grid': false, horizon: false, 'stick': false, 'hold still': false },
      set: { points: true, pieces: true, 'grid': true, horizon: false, 'stick': true, catcher: true }, blocking: { performers: true, pieces: false, 'grid': false, points: false, routes: true },
      light: { 'grid': false }, passes: {}, comp: {}, presence: {}, output: {}, plate: {},
    }[this.stage];
    const look = document.getElementById('look');
    for (const name of Object.keys(of)) {
      const b = document.createElement('button');
      b.type = 'button'; b.textContent = name; b.dataset.toggle = name; b.setAttribute('aria-pressed', of[name]);
      b.addEventListener('click', () => { of[name] = !of[name]; b.setAttribute('aria-pressed', of[name]); drawAll(); });
      look.append(b);
    }
    if (this.hand) this.hand.buttons(look);
    if (this.stage === 'tracks') {
      this.holding = '';
      const sel = document.createElement('select');
      sel.id = 'hold'; sel.setAttribute('aria-label', 'what the picture is held still on');
      sel.addEventListener('change', () => { this.holding = sel.value; this.images.clear(); this.frameChanged(); drawAll(); });
      look.append(sel);
    }
    if (this.stage === 'plate') {
      const sel = document.createElement('select');
      sel.setAttribute('aria-label', 'what to look at');
      for (const [v, n] of [['', 'colour'], ['red', 'red'], ['green', 'green'], ['blue', 'blue'], ['light', 'brightness'], ['clipped', 'clipped']]) sel.add(new Option(n, v));
      sel.addEventListener('change', () => { this.channel = sel.value; this.images.clear(); this.last = null; this.frameChanged(); this.draw(); });
      look.append(sel);
    }
    if (this.stage === 'passes') {
      const sel = document.createElement('select');
      sel.setAttribute('aria-label', 'what to show');
      for (const n of ['draft', 'comp', 'beauty', 'alpha', 'shadow', 'bounce', 'reflection', 'ao', 'depth', 'normal', 'motion']) sel.add(new Option(n, n));
      sel.addEventListener('change', () => { this.pass = sel.value; this.frameChanged(); this.draw(); });
      this.pass = 'draft';
      look.append(sel);
    }
    const r = document.createElement('span');
    r.className = 'r';
    r.innerHTML = '<span>exposure <input type="range" id="exposure" min="-3" max="3" step="0.25" value="0" aria-label="exposure for looking"></span><span>gamma <input type="range" id="gamma" min="0.4" max="2.5" step="0.05" value="1" aria-label="gamma for looking"></span><select id="by" aria-label="size of the plate\'s picture"><option value="1">full</option><option value="2">half</option><option value="4">quarter</option></select><output id="zoomed"></output>';
    const flip = document.createElement('button');
    flip.type = 'button'; flip.textContent = 'flip with plate'; flip.id = 'flip'; flip.setAttribute('aria-pressed', 'false');
    flip.addEventListener('click', () => this.flip());
    if (['light', 'passes', 'comp', 'presence', 'output', 'blocking'].includes(this.stage)) r.prepend(flip);
    look.append(r);
    this.el.append(Object.assign(document.createElement('output'), { id: 'read' }));
    r.querySelector('#exposure').addEventListener('input', e => { this.exposure = Number(e.target.value); this.draw(); });
    r.querySelector('#gamma').addEventListener('input', e => { this.gamma = Number(e.target.value); this.draw(); });
    r.querySelector('#by').addEventListener('change', e => { this.by = Number(e.target.value); this.images.clear(); this.frameChanged(); this.draw(); });
    return of;
  }

  flip() {
    this.plateOnly = !this.plateOnly;
    const b = document.getElementById('flip');
    if (b) b.setAttribute('aria-pressed', this.plateOnly);
    this.draw();
  }

  fit() { this.zoom = 1; this.panX = this.panY = 0; drawAll(); }

  /** Canvas pixels for a plate pixel: scale, left, top. */
  view() {
    const p = this.s.data.plate, w = this.el.clientWidth, h = this.el.clientHeight;
    const scale = Math.min((w - 16) / p.width, (h - 16) / p.height) * this.zoom;
    const still = this.held();
    return { scale, x: (w - p.width * scale) / 2 + this.panX + still[0] * scale, y: (h - p.height * scale) / 2 + this.panY + still[1] * scale };
  }

  /** How the picture is shifted, in plate pixels, so that the one chosen track stands still: whatever it drifts is seen as a slide. */
  held() {
    if (this.stage === 'camera' && this.toggles && this.toggles['hold still'] && this.s.camera && this.s.chosen.size) {
      // On a solved point: what the plate does against it is seen as a slide.
      const p = this.s.data.points.find(k => this.s.chosen.has(k[0])), q = p && this.s.camera.project(this.s.frame, p.slice(1, 4)), o = p && this.s.camera.project(this.s.camera.first, p.slice(1, 4));
      return q && o ? [o[0] - q[0], o[1] - q[1]] : [0, 0];
    }
    if (this.holding !== 'track' || this.s.chosen.size !== 1) return [0, 0];
    const t = this.s.tracks.find(k => this.s.chosen.has(k.id)), i = t ? this.s.frame - t.first : -1;
    if (!t || i < 0 || i >= t.n || t.xy[2 * i] === null) return [0, 0];
    return [t.xy[0] - t.xy[2 * i], t.xy[1] - t.xy[2 * i + 1]];
  }

  toPlate(e) {
    const b = this.canvas.getBoundingClientRect(), v = this.view(), q = [(e.clientX - b.left - v.x) / v.scale, (e.clientY - b.top - v.y) / v.scale], h = this.heldMap();
    return h ? through(h, q) : q;
  }

  /** From the picture that stands still on a carried mask to the plate's frame; null when it moves as it is. */
  heldMap() {
    const m = Number(this.holding);
    return m ? (this.s.data.planes[m] || {})[this.s.frame] || null : null;
  }

  /** What the picture can be held still on. */
  holds() {
    const sel = document.getElementById('hold');
    if (!sel) return;
    const of = [['', 'picture moves'], ['track', 'held on the chosen track'], ...(this.s.data.masks || []).filter(m => (this.s.data.planes || {})[m.id]).map(m => [String(m.id), 'held on ' + m.name])];
    if (!of.some(o => o[0] === this.holding)) this.holding = '';
    sel.replaceChildren(...of.map(o => new Option(o[1], o[0])));
    sel.value = this.holding;
  }

  changed(samePlate) {
    this.holds();
    if (Number(this.holding)) this.images.clear();
    const by = document.getElementById('by');
    if (!this.by && this.s.data.plate) by.value = this.s.data.plate.width > 960 ? 2 : 1;
    if (!samePlate) this.images.clear();
    if (this.solid) this.solid.changed();
    this.frameChanged();
  }

  url(f) { const p = this.s.data.plate; return `/shots/${shot}/plate/${f}.jpg?by=${this.by || (p.width > 960 ? 2 : 1)}&v=${p.print}${this.channel ? '&channel=' + this.channel : ''}${Number(this.holding) ? '&hold=' + this.holding + '&rev=' + this.s.data.revision : ''}`; }

  image(f) {
    let im = this.images.get(f);
    if (!im) {
      im = new Image();
      im.src = this.url(f);
      im.onload = () => { if (f === this.s.frame) { this.draw(); if (this.stage === 'set') drawAll(); } };
      this.images.set(f, im);
      if (this.images.size > 400) this.images.delete(this.images.keys().next().value);
    }
    return im;
  }

  ready(f) { const im = this.image(f); return im.complete && im.naturalWidth > 0; }

  fetchAhead(f) { for (let k = 0; k < AHEAD && f + k <= this.s.data.plate.last; k++) this.image(f + k); }

  frameChanged() {
    if (!this.s.data || !this.s.data.plate) return;
    this.image(this.s.frame);
    if (this.s.playing) this.fetchAhead(this.s.frame);
    this.over = null;
    clearTimeout(this.asking);
    if (!this.s.playing) this.asking = setTimeout(() => this.ask(), 40);
    else if (['comp', 'presence', 'output'].includes(this.stage)) this.ask();
  }

  stopped() { this.frameChanged(); }

  /** Fetches what the stage shows instead of the plate. */
  async ask() {
    const f = this.s.frame, rev = this.s.data.revision, want = this.stage === 'light' ? 'draft' : this.stage === 'passes' ? this.pass : ['comp', 'presence', 'output'].includes(this.stage) ? 'comp' : null;
    if (!want || !this.s.camera) return;
    if (want === 'draft') {
      if (!this.s.data.performers.length) return;
      for (let level = 0; level < 4; level++) {
        const t = performance.now();
        const im = await this.fetchImage(`/shots/${shot}/draft/${f}.jpg?level=${level}&rev=${rev}`);
        if (f !== this.s.frame || rev !== this.s.data.revision || (this.stage === 'passes' && this.pass !== 'draft')) return;
        if (!im) return;
        this.over = { im, said: level < 3 ? `draft, getting better (${((performance.now() - t) / 1000).toFixed(1)} s)` : 'draft' };
        this.draw();
      }
      return;
    }
    if (!this.s.data.rendered.includes(f)) { this.over = null; this.draw(); return; }
    const im = await this.fetchImage(want === 'comp' ? `/shots/${shot}/comp/${f}.jpg?rev=${rev}` : `/shots/${shot}/pass/${f}.jpg?pass=${want}&rev=${rev}`);
    if (!im || f !== this.s.frame || rev !== this.s.data.revision) return;
    this.over = { im, said: want };
    this.draw();
  }

  async fetchImage(url) {
    const a = await fetch(url);
    if (a.status === 422) { document.getElementById('say').innerHTML = await a.text(); return null; }
    if (!a.ok || a.status === 204) return null;
    return createImageBitmap(await a.blob());
  }

  /** Exposure and gamma for looking only; stops are taken on codes of about gamma 2.2. */
  look() {
    if (!this.exposure && this.gamma === 1) return 'none';
    for (const f of document.querySelectorAll('#looking feComponentTransfer > *')) { f.setAttribute('amplitude', Math.pow(2, this.exposure / 2.2 / this.gamma)); f.setAttribute('exponent', 1 / this.gamma); }
    return 'url(#looking)';
  }

  size() {
    const k = window.devicePixelRatio || 1, w = Math.round(this.el.clientWidth * k), h = Math.round(this.el.clientHeight * k);
    if (this.canvas.width !== w || this.canvas.height !== h) { this.canvas.width = w; this.canvas.height = h; }
    this.g.setTransform(k, 0, 0, k, 0, 0);
  }

  cleared(c) {
    const k = window.devicePixelRatio || 1;
    c.width = Math.round(this.el.clientWidth * k); c.height = Math.round(this.el.clientHeight * k);
    c.getContext('2d').setTransform(k, 0, 0, k, 0, 0);
  }

  draw() {
    this.size();
    if (this.upper) this.cleared(this.upper);
    const g = this.g, w = this.el.clientWidth, h = this.el.clientHeight;
    g.clearRect(0, 0, w, h);
    if (!this.s.data || !this.s.data.plate) return;
    const p = this.s.data.plate, v = this.view(), im = this.image(this.s.frame);
    const shown = this.over && !this.plateOnly ? this.over.im : im.complete && im.naturalWidth ? im : this.last;
    document.getElementById('zoomed').textContent = Math.round(100 * v.scale) + ' %';
    this.badge.hidden = true;
    if (shown) {
      g.imageSmoothingQuality = 'high';
      g.filter = this.look();
      g.drawImage(shown, v.x, v.y, p.width * v.scale, p.height * v.scale);
      g.filter = 'none';
      if (shown === im) this.last = im;
    }
    const said = [this.said || '', this.plateOnly ? 'plate' : this.over ? this.over.said : ['comp', 'passes'].includes(this.stage) && this.pass !== 'draft' && this.s.camera ? 'plate: this frame is not rendered' : '', this.exposure ? `exposure ${this.exposure > 0 ? '+' : ''}${this.exposure} for looking` : '', this.gamma !== 1 ? `gamma ${this.gamma} for looking` : ''].filter(Boolean).join(', ');
    if (said) { this.badge.hidden = false; this.badge.textContent = said; }
    if (this.solid) this.solid.draw(v, this.el.clientWidth, this.el.clientHeight, this.toggles.performers && !this.hidden && !this.plateOnly, shown);
    if (this.hidden || this.plateOnly) return;
    const top = this.upper ? this.upper.getContext('2d') : g;
    top.save();
    top.beginPath(); top.rect(0, 0, w, h); top.clip();
    this.overlay(top, v);
    top.restore();
  }

  overlay(g, v) {
    const t = this.toggles, held = this.heldMap(), back = held && inverse(held), at = q => { if (q && back) q = through(back, q); return q && [v.x + q[0] * v.scale, v.y + q[1] * v.scale]; };
    const world = q => at(this.s.camera.project(this.s.frame, q));
    if (this.s.camera && t['grid']) this.grid(g, world);
    if (this.s.camera && t.horizon) this.horizon(g, at);
    if (this.s.camera && t.catcher) this.catcher(g, world);
    if (this.s.camera && t.pieces) drawPieces(g, this.s, world);
    if (t.marks) this.marks(g, at);
    if (this.hand && (this.stage !== 'blocking' || t.routes)) this.hand.draw(g, at);
    if (this.s.camera && t.points) this.points(g, world);
    if (this.s.camera && t['stick']) this.stick(g, world);
    if (this.s.camera && this.stage === 'camera' && t.points) this.moved(g, world);
    if (this.s.camera && this.stage === 'blocking') this.handles(g, world);
    if (this.box) { g.strokeStyle = HAND; g.setLineDash([4, 3]); g.strokeRect(...this.box); g.setLineDash([]); }
  }

  marks(g, at) {
    const colours = new Map((this.s.data.groups || []).flatMap(k => k.tracks.map(t => [t, k.colour])));
    const f = this.s.frame, gone = new Set(this.s.data.deleted), rms = new Map((this.s.data.points || []).map(p => [p[0], p]));
    for (const k of this.s.tracks) {
      const i = f - k.first;
      if (i < 0 || i >= k.n || gone.has(k.id) || byHand(k.id) || k.xy[2 * i] === null) continue;
      const c = at([k.xy[2 * i], k.xy[2 * i + 1]]), point = rms.get(k.id), err = point ? point[4] : 0, mine = this.s.chosen.has(k.id);
      g.strokeStyle = mine ? HAND : this.stage === 'camera' ? point ? errorColour(err) : '#8a8a8a' : colours.get(k.id) || '#f2f2f2';
      g.lineWidth = mine ? 2 : 1.3;
      if (this.toggles.trails) {
        g.globalAlpha = mine ? 1 : 0.55;
        g.beginPath();
        for (let j = Math.max(0, i - TRAIL), pen = false; j <= i; j++) {
          if (k.xy[2 * j] === null) { pen = false; continue; }
          const q = at([k.xy[2 * j], k.xy[2 * j + 1]]);
          if (pen) g.lineTo(...q); else g.moveTo(...q);
          pen = true;
        }
        g.stroke();
        g.globalAlpha = 1;
      }
      g.beginPath(); g.arc(c[0], c[1], mine ? 5.5 : this.stage === 'camera' && err > 0.6 ? 4.6 : 3.4, 0, 7); g.stroke();
      if (this.stage === 'camera' && this.toggles['residuals x 20'] && point && this.s.camera) {
        const q = this.s.camera.project(f, [point[1], point[2], point[3]]);
        if (q) { const x = k.xy[2 * i], y = k.xy[2 * i + 1], e = at([x + 20 * (q[0] - x), y + 20 * (q[1] - y)]); g.beginPath(); g.moveTo(...c); g.lineTo(...e); g.stroke(); }
      }
      if (mine) { g.fillStyle = HAND; g.font = '11px "Archivo Variable"'; label(g, k.id, c[0] + 8, c[1] - 6); }
    }
  }

  points(g, world) {
    const ground = new Set(this.s.data.ground ? this.s.data.ground.points : []);
    for (const p of this.s.data.points) {
      const q = world([p[1], p[2], p[3]]);
      if (!q) continue;
      const mine = this.s.chosen.has(p[0]), on = ground.has(p[0]);
      g.fillStyle = mine ? HAND : on ? '#ffffff' : 'rgba(230,230,230,.55)';
      g.strokeStyle = 'rgba(0,0,0,.55)'; g.lineWidth = 1;
      g.beginPath(); if (on && !mine) g.rect(q[0] - 2, q[1] - 2, 4, 4); else g.arc(q[0], q[1], mine ? 4.5 : 2.2, 0, 7);
      g.fill(); g.stroke();
      if (mine) { g.fillStyle = HAND; g.font = '11px "Archivo Variable"'; label(g, p[0], q[0] + 7, q[1] - 5); }
    }
    for (const y of this.s.data.yardsticks || []) {
      const a = this.s.data.points.find(p => p[0] === y.from), b = this.s.data.points.find(p => p[0] === y.to);
      if (!a || !b) continue;
      const u = world(a.slice(1, 4)), w = world(b.slice(1, 4));
      if (!u || !w) continue;
      g.strokeStyle = '#ececec'; g.lineWidth = 1.5; g.beginPath(); g.moveTo(...u); g.lineTo(...w); g.stroke();
      g.fillStyle = '#ececec'; g.font = '11px "Archivo Variable"'; label(g, `${y.metres} m`, (u[0] + w[0]) / 2 + 6, (u[1] + w[1]) / 2);
    }
  }

  /** Things that move by themselves: their points and axes where they are now. */
  moved(g, world) {
    for (const o of this.s.data.moved || []) {
      const m = o.frames[this.s.frame];
      if (!m) continue;
      const put = p => [0, 4, 8].map(r => m[r] * p[0] + m[r + 1] * p[1] + m[r + 2] * p[2] + m[r + 3]), far = o.points.map(p => Math.hypot(p[1], p[2], p[3])).sort((a, b) => a - b), size = 1.5 * far[far.length >> 1] || 1;
      g.fillStyle = '#f0a35e';
      for (const p of o.points) { const q = world(put(p.slice(1, 4))); if (q) { g.beginPath(); g.arc(q[0], q[1], 2.6, 0, 7); g.fill(); } }
      const c = world(put([0, 0, 0]));
      [['#d98880', [size, 0, 0]], ['#9cc48a', [0, size, 0]], ['#7fb0d0', [0, 0, size]]].forEach(([colour, a]) => {
        const q = world(put(a));
        if (!c || !q) return;
        g.strokeStyle = colour; g.lineWidth = 2; g.beginPath(); g.moveTo(...c); g.lineTo(...q); g.stroke();
      });
      if (c) { g.fillStyle = '#f0a35e'; g.font = '11px "Archivo Variable"'; label(g, o.name, c[0] + 8, c[1] - 8); }
    }
  }

  line(g, world, a, b, steps = 12) {
    let drawing = false;
    g.beginPath();
    for (let i = 0; i <= steps; i++) {
      const t = i / steps, q = world([a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2])]);
      if (!q) { drawing = false; continue; }
      if (drawing) g.lineTo(...q); else g.moveTo(...q);
      drawing = true;
    }
    g.stroke();
  }

  grid(g, world) {
    const c = this.s.data.catcher, n = 8;
    g.lineWidth = 1;
    for (let i = -n; i <= n; i++) {
      g.strokeStyle = i === 0 ? 'rgba(255,255,255,.85)' : 'rgba(255,255,255,.32)';
      const x = Math.round(c.x), z = Math.round(c.z);
      this.line(g, world, [x + i, 0, z - n], [x + i, 0, z + n], 40);
      this.line(g, world, [x - n, 0, z + i], [x + n, 0, z + i], 40);
    }
  }

  /** Where level lines of sight end. */
  horizon(g, at, frame = this.s.frame) {
    const eye = this.s.camera.eye(frame);
    g.strokeStyle = HAND; g.lineWidth = 1.4; g.setLineDash([9, 5]);
    let pen = false;
    g.beginPath();
    for (let a = 0; a <= 360; a += 0.5) {
      const q = this.s.camera.project(frame, [eye[0] + 1e5 * Math.cos(a * Math.PI / 180), eye[1], eye[2] + 1e5 * Math.sin(a * Math.PI / 180)]), c = q && at(q);
      if (!c) { pen = false; continue; }
      if (pen) g.lineTo(...c); else g.moveTo(...c);
      pen = true;
    }
    g.stroke(); g.setLineDash([]);
  }

  catcher(g, world) {
    const c = this.s.data.catcher, x0 = c.x - c.width / 2, x1 = c.x + c.width / 2, z0 = c.z - c.depth / 2, z1 = c.z + c.depth / 2;
    g.strokeStyle = '#ececec'; g.lineWidth = 1.4; g.setLineDash([6, 4]);
    this.line(g, world, [x0, 0, z0], [x1, 0, z0], 60); this.line(g, world, [x1, 0, z0], [x1, 0, z1], 60); this.line(g, world, [x1, 0, z1], [x0, 0, z1], 60); this.line(g, world, [x0, 0, z1], [x0, 0, z0], 60);
    g.setLineDash([]);
  }

  /** A 1.8 m stick at the origin and at every chosen point's foot. */
  stick(g, world) {
    const onCamera = this.stage === 'camera', some = this.s.data.points.filter(p => this.s.chosen.has(p[0]));
    // On the Camera stage sticks stand in the points themselves, and say how far the plate slides against them.
    const feet = onCamera ? some.map(p => [p[1], p[2], p[3], p]) : [[0, 0, 0], ...some.slice(0, some.length > MOST_STICKS ? 0 : MOST_STICKS).map(p => [p[1], 0, p[3]])];
    if (onCamera) {
      for (const f of feet) {
        const a = world([f[0], f[1], f[2]]), b = world([f[0], f[1] + 0.5, f[2]]);
        if (!a || !b) continue;
        g.strokeStyle = HAND; g.lineWidth = 3; g.beginPath(); g.moveTo(...a); g.lineTo(...b); g.stroke();
        g.fillStyle = HAND; g.font = '11px "Archivo Variable"';
        label(g, `slides ${this.slide(f[3]).toFixed(1)} px`, b[0] + 6, b[1]);
      }
      return;
    }
    for (const f of feet) {
      for (let i = 0; i < 6; i++) {
        g.lineWidth = 4; g.strokeStyle = i % 2 ? '#1c1c1c' : HAND;
        this.line(g, world, [f[0], 0.3 * i, f[2]], [f[0], 0.3 * (i + 1), f[2]], 3);
      }
      const top = world([f[0], 1.8, f[2]]);
      if (top) { g.fillStyle = HAND; g.font = '11px "Archivo Variable"'; label(g, this.s.data.ground && this.s.data.ground.scaled ? '1.8 m' : '1.8 (no size yet)', top[0] + 7, top[1] + 4); }
    }
  }

  /** How far the plate's mark wanders about a solved point over the shot: the largest way from its mean place, pixels. */
  slide(p) {
    const t = this.s.tracks.find(k => k.id === p[0]), off = [];
    if (!t) return 0;
    for (let i = 0; i < t.n; i++) {
      const q = t.xy[2 * i] === null ? null : this.s.camera.project(t.first + i, p.slice(1, 4));
      if (q) off.push([t.xy[2 * i] - q[0], t.xy[2 * i + 1] - q[1]]);
    }
    if (!off.length) return 0;
    const mx = off.reduce((s, o) => s + o[0], 0) / off.length, my = off.reduce((s, o) => s + o[1], 0) / off.length;
    return Math.max(...off.map(o => Math.hypot(o[0] - mx, o[1] - my)));
  }

  /** A ring at the feet of every performer, with its heading: what is dragged. */
  handles(g, world) {
    for (const p of this.s.data.performers) {
      const r = 0.25 + 0.15 * p.heightMetres, mine = this.s.performer === p.id, h = p.headingDeg * Math.PI / 180;
      g.strokeStyle = mine ? HAND : '#f2f2f2'; g.lineWidth = 2;
      g.beginPath();
      for (let i = 0; i <= 40; i++) { const a = i / 40 * 2 * Math.PI, q = world([p.at[0] + r * Math.cos(a), p.at[1], p.at[2] + r * Math.sin(a)]); if (q) { if (i) g.lineTo(...q); else g.moveTo(...q); } }
      g.stroke();
      this.line(g, world, p.at, [p.at[0] + 1.5 * r * Math.sin(h), p.at[1], p.at[2] + 1.5 * r * Math.cos(h)], 2);
      const q = world(p.at);
      if (q) { g.fillStyle = g.strokeStyle; g.font = '600 12px "Archivo Variable"'; label(g, p.name, q[0] + 10, q[1] + 16); }
    }
  }

  gestures() {
    const c = this.canvas;
    c.addEventListener('wheel', e => {
      e.preventDefault();
      if (!this.s.data || !this.s.data.plate) return;
      const b = c.getBoundingClientRect(), x = e.clientX - b.left, y = e.clientY - b.top, before = this.toPlate(e);
      this.zoom = Math.max(0.5, Math.min(24, this.zoom * Math.exp(-e.deltaY * 0.0015)));
      const v = this.view();
      this.panX += x - (v.x + before[0] * v.scale); this.panY += y - (v.y + before[1] * v.scale);
      this.draw();
    }, { passive: false });
    c.addEventListener('pointerdown', e => {
      if (!this.s.data || !this.s.data.plate) return;
      c.setPointerCapture(e.pointerId);
      if (this.hand && this.hand.down(e)) return;
      const b = c.getBoundingClientRect();
      this.down = { x: e.clientX, y: e.clientY, cx: e.clientX - b.left, cy: e.clientY - b.top, panX: this.panX, panY: this.panY, moved: false, performer: e.button === 0 ? this.performerAt(e) : null };
      if (this.down.performer) { this.s.performer = this.down.performer.id; drawAll(); }
    });
    c.addEventListener('pointermove', e => {
      this.readOut(e);
      if (this.hand && this.hand.moving) { this.hand.move(e); return; }
      if (!this.down) { if (this.stage === 'blocking') c.style.cursor = this.s.data && this.performerAt(e) ? 'move' : 'default'; return; }
      const dx = e.clientX - this.down.x, dy = e.clientY - this.down.y;
      if (!this.down.moved && Math.hypot(dx, dy) < 4) return;
      this.down.moved = true;
      if (this.down.performer) {
        const q = this.s.camera.onLevel(this.s.frame, ...this.toPlate(e), this.down.performer.at[1]);
        if (q) { this.down.performer.at = q; this.down.performer.held = true; drawAll(); }
      } else if (e.shiftKey && ['tracks', 'camera', 'set'].includes(this.stage)) {
        this.box = [Math.min(this.down.cx, this.down.cx + dx), Math.min(this.down.cy, this.down.cy + dy), Math.abs(dx), Math.abs(dy)];
        this.draw();
      } else {
        this.panX = this.down.panX + dx; this.panY = this.down.panY + dy;
        this.draw();
      }
    });
    const up = e => {
      if (this.hand && this.hand.moving) { this.hand.up(); return; }
      const d = this.down;
      this.down = null;
      if (!d) return;
      if (d.performer && d.moved) { this.dropped(d.performer); return; }
      if (this.box) { choose(this.inBox(), true); this.box = null; drawAll(); return; }
      if (!d.moved) this.click(e);
    };
    c.addEventListener('pointerup', up);
    c.addEventListener('pointercancel', () => { this.down = null; this.box = null; });
    c.addEventListener('dblclick', () => this.fit());
  }

  dropped(p) { post('edit', { action: 'move', id: p.id, frame: this.s.frame, x: p.at[0].toFixed(4), z: p.at[2].toFixed(4), seen: this.s.data.revision }); }

  performerAt(e) {
    if (this.stage !== 'blocking' || !this.s.camera) return null;
    const q = this.toPlate(e);
    for (const p of [...this.s.data.performers].reverse()) {
      const g = this.s.camera.onLevel(this.s.frame, q[0], q[1], p.at[1]);
      if (g && Math.hypot(g[0] - p.at[0], g[2] - p.at[2]) < 0.4 + 0.2 * p.heightMetres) return p;
      const foot = this.s.camera.project(this.s.frame, p.at), head = this.s.camera.project(this.s.frame, [p.at[0], p.at[1] + p.heightMetres, p.at[2]]);
      if (foot && head && q[1] < foot[1] + 5 && q[1] > head[1] && Math.abs(q[0] - foot[0]) < 0.2 * (foot[1] - head[1])) return p;
    }
    return null;
  }

  /** Chooseable things of this stage: number and place in plate pixels. */
  things() {
    const f = this.s.frame;
    if (['set', 'blocking'].includes(this.stage) && this.s.camera && (this.stage === 'set' || this.toggles.points)) return this.s.data.points.map(p => [p[0], this.s.camera.project(f, p.slice(1, 4))]).filter(x => x[1]);
    if (['tracks', 'camera'].includes(this.stage)) {
      const gone = new Set(this.s.data.deleted);
      return this.s.tracks.filter(k => f >= k.first && f < k.first + k.n && k.xy[2 * (f - k.first)] !== null && !gone.has(k.id)).map(k => [k.id, [k.xy[2 * (f - k.first)], k.xy[2 * (f - k.first) + 1]]]);
    }
    return [];
  }

  inBox() {
    const v = this.view(), [x, y, w, h] = this.box, held = this.heldMap(), back = held && inverse(held);
    return this.things().filter(([, p]) => { const q = back ? through(back, p) : p, px = v.x + q[0] * v.scale, py = v.y + q[1] * v.scale; return px >= x && px <= x + w && py >= y && py <= y + h; }).map(t => t[0]);
  }

  click(e) {
    const q = this.toPlate(e), reach = 9 / this.view().scale;
    let best = null, near = reach;
    for (const [id, p] of this.things()) { const d = Math.hypot(p[0] - q[0], p[1] - q[1]); if (d < near) { near = d; best = id; } }
    if (this.hand && this.hand.click && (this.hand.tool !== 'choose' || this.hand.aside) && this.hand.click(e)) return;
    if (best !== null) choose([best], e.shiftKey);
    else if (!e.shiftKey && this.s.chosen.size) choose([], false);
  }

  readOut(e) {
    if (!this.s.data || !this.s.data.plate) return;
    const q = this.toPlate(e), p = this.s.data.plate, out = document.getElementById('read'), im = this.over && !this.plateOnly ? this.over.im : this.image(this.s.frame);
    if (q[0] < 0 || q[1] < 0 || q[0] >= p.width || q[1] >= p.height || !im || (im.complete === false)) { out.textContent = ''; return; }
    if (!this.probe) { this.probe = document.createElement('canvas'); this.probe.width = this.probe.height = 1; this.probeG = this.probe.getContext('2d', { willReadFrequently: true }); }
    const k = (im.naturalWidth || im.width) / p.width;
    this.probeG.drawImage(im, Math.floor(q[0] * k), Math.floor(q[1] * k), 1, 1, 0, 0, 1, 1);
    const [r, gg, b] = this.probeG.getImageData(0, 0, 1, 1).data;
    out.textContent = `${Math.floor(q[0])}, ${Math.floor(q[1])}: ${r} ${gg} ${b}`;
  }
}
