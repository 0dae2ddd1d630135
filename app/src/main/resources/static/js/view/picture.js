// The picture: plate (or draft, comp, pass) with what the stage shows over it. Draws and collects gestures, decides
// nothing.
import { freshLabels, HAND, through } from '../base/draw.js';
import { choose } from '../page/choice.js';
import { busy } from '../page/net.js';
import { drawAll, shot } from '../page/state.js';
import { FrameCache } from './framecache.js';
import { Holding } from './holding.js';
import { Looking } from './looking.js';
import { Over } from './over.js';
import { Overlay } from './overlay.js';
import { readOut } from './readout.js';

/** Milliseconds after which a picture that was drawn is on the screen. */
const AFTER = 30;

export class Picture {
  /**
   * @param stage what of it depends on the stage: toggles (name -> on), hand (takes gestures), solid (performers in
   *   perspective), over (which picture lies over the plate), things (what can be chosen), overlay (draws what the
   *   stage shows), tools (further buttons), box (whether a box chooses), flips (whether the plate can be flipped to)
   */
  constructor(state, stage) {
    this.s = state;
    this.stage = stage;
    this.marks = new Overlay(this);
    this.el = document.getElementById('pic');
    this.canvas = document.getElementById('picture');
    this.g = this.canvas.getContext('2d');
    this.badge = document.getElementById('badge');
    this.frames = new FrameCache(() => {});
    this.over = new Over(this);
    this.zoom = 1;
    this.panX = 0;
    this.panY = 0;
    this.hidden = false;
    this.plateOnly = false;
    this.looking = new Looking(this);
    this.holding = new Holding(this);
    this.by = 0;
    this.hand = stage.hand ? stage.hand(this) : null;
    this.toggles = this.buttons();
    /** Performers in perspective; not there before the first picture is. */
    this.solid = null;
    // What is drawn over performers lies on a canvas of its own, above theirs.
    if (stage.solid) {
      this.upper = document.createElement('canvas');
      this.upper.setAttribute('aria-hidden', 'true');
      this.upper.style.cssText = 'z-index:2;pointer-events:none';
      this.el.append(this.upper);
    }
    this.gestures();
  }

  /** What can be switched on over the picture on this stage: name -> on. */
  buttons() {
    const of = { ...this.stage.toggles };
    const look = document.getElementById('look');
    for (const name of Object.keys(of)) {
      const b = document.createElement('button');
      b.type = 'button';
      b.textContent = name;
      b.dataset.toggle = name;
      b.setAttribute('aria-pressed', of[name]);
      b.addEventListener('click', () => {
        of[name] = !of[name];
        b.setAttribute('aria-pressed', of[name]);
        drawAll();
      });
      look.append(b);
    }
    if (this.hand) this.hand.buttons(look);
    if (this.stage.tools) this.stage.tools(this, look);
    const r = this.looking.span;
    const flip = document.createElement('button');
    flip.type = 'button';
    flip.textContent = 'flip with plate';
    flip.id = 'flip';
    flip.setAttribute('aria-pressed', 'false');
    flip.addEventListener('click', () => this.flip());
    if (this.stage.flips) r.prepend(flip);
    look.append(r);
    this.el.append(Object.assign(document.createElement('output'), { id: 'read' }));
    r.querySelector('#by').addEventListener('change', (e) => {
      this.by = Number(e.target.value);
      this.frames.clear();
      this.frameChanged();
      this.draw();
    });
    return of;
  }

  flip() {
    this.plateOnly = !this.plateOnly;
    const b = document.getElementById('flip');
    if (b) b.setAttribute('aria-pressed', this.plateOnly);
    this.draw();
  }

  fit() {
    this.zoom = 1;
    this.panX = this.panY = 0;
    drawAll();
    this.over.moved();
  }

  /** Canvas pixels for a plate pixel: scale, left, top. */
  view() {
    const p = this.s.data.plate,
      w = this.el.clientWidth,
      h = this.el.clientHeight;
    const scale = Math.min((w - 16) / p.width, (h - 16) / p.height) * this.zoom;
    const still = this.holding.shift();
    return {
      scale,
      x: (w - p.width * scale) / 2 + this.panX + still[0] * scale,
      y: (h - p.height * scale) / 2 + this.panY + still[1] * scale,
    };
  }

  toPlate(e) {
    const b = this.canvas.getBoundingClientRect(),
      v = this.view();
    return this.holding.toPlate([(e.clientX - b.left - v.x) / v.scale, (e.clientY - b.top - v.y) / v.scale]);
  }

  url(f) {
    const p = this.s.data.plate,
      channel = this.channel ? '&channel=' + this.channel : '';
    return `/shots/${shot}/plate/${f}.jpg?by=${this.by || p.by}&v=${p.print}${channel}${this.holding.address()}`;
  }

  /** The plate's frame; null while it is not there, which is asked for. */
  image(f) {
    const url = this.url(f),
      im = this.frames.now(url);
    if (!im) this.bring(f, url);
    return im;
  }

  async bring(f, url) {
    if ((await this.frames.fetch(url)) && (await this.frames.unpack(url)) && f === this.s.frame) drawAll();
  }

  ready(f) {
    return !!this.frames.now(this.url(f)) && this.over.ready(f);
  }

  /** @param order in which frames will be played, from the one that is shown */
  fetchAhead(order) {
    this.frames.prepare(order.map((f) => this.url(f)));
    this.over.prepare(order);
  }

  /** Another frame is looked at, or it shows something else. */
  frameChanged() {
    if (!this.s.data || !this.s.data.plate) return;
    if (!this.s.playing) this.image(this.s.frame);
    this.over.clear();
    this.over.askSoon();
  }

  /** While it is played frames are unpacked no larger than they are shown. */
  started() {
    const k = window.devicePixelRatio || 1,
      p = this.s.data.plate,
      shown = Math.round(p.width * this.view().scale * k);
    this.frames.wide = this.over.cache.wide = shown < p.width / (this.by || p.by) ? shown : 0;
  }

  stopped() {
    this.frames.stop();
    this.frames.wide = this.over.cache.wide = 0;
    this.frameChanged();
  }

  /** The shot was fetched anew. What lies over the plate stays while it is still what would be shown. */
  changed(samePlate) {
    this.holding.fill();
    // The same revision may look otherwise now: a frame was filtered, what carries a mask was followed.
    this.over.cache.clear();
    if (Number(this.holding.on)) this.frames.clear();
    const by = document.getElementById('by');
    if (!this.by && this.s.data.plate) by.value = this.s.data.plate.by;
    if (!samePlate) this.frames.clear();
    if (this.solid) this.solid.changed();
    if (samePlate && !this.over.stale()) {
      if (this.over.wanted() === 'comp') this.over.fillSoon();
      return;
    }
    if (samePlate && this.over.shown) this.over.askSoon();
    else this.frameChanged();
  }

  /** Begins to draw performers. It takes a second without a graphics card: the plate goes before. */
  perform() {
    if (this.performing) return;
    this.performing = true;
    busy(1);
    setTimeout(async () => {
      try {
        const solid = await this.stage.solid(document.getElementById('solid'), this.s);
        await solid.changed();
        this.solid = solid;
        drawAll();
      } finally {
        busy(-1);
      }
    }, AFTER);
  }

  size() {
    const k = window.devicePixelRatio || 1,
      w = Math.round(this.el.clientWidth * k),
      h = Math.round(this.el.clientHeight * k);
    if (this.canvas.width !== w || this.canvas.height !== h) {
      this.canvas.width = w;
      this.canvas.height = h;
    }
    this.g.setTransform(k, 0, 0, k, 0, 0);
  }

  cleared(c) {
    const k = window.devicePixelRatio || 1;
    c.width = Math.round(this.el.clientWidth * k);
    c.height = Math.round(this.el.clientHeight * k);
    c.getContext('2d').setTransform(k, 0, 0, k, 0, 0);
  }

  draw() {
    this.size();
    if (this.upper) this.cleared(this.upper);
    const g = this.g,
      w = this.el.clientWidth,
      h = this.el.clientHeight;
    g.clearRect(0, 0, w, h);
    if (!this.s.data || !this.s.data.plate) return;
    const p = this.s.data.plate,
      v = this.view(),
      im = this.image(this.s.frame);
    const live = !!(this.stage.live && this.s.turning),
      over = this.plateOnly || live ? null : this.over.shown,
      part = over && over.part;
    const shown = over && !part ? over.im : over && over.whole ? over.whole : im || this.last;
    document.getElementById('zoomed').textContent = Math.round(100 * v.scale) + '\u00a0%';
    this.badge.hidden = true;
    if (shown) {
      // What was unpacked to this size is copied.
      g.imageSmoothingQuality = this.s.playing ? 'low' : 'high';
      g.filter = this.looking.filter();
      g.drawImage(shown, v.x, v.y, p.width * v.scale, p.height * v.scale);
      if (part)
        g.drawImage(
          over.im,
          v.x + part[0] * p.width * v.scale,
          v.y + part[1] * p.height * v.scale,
          (part[2] - part[0]) * p.width * v.scale,
          (part[3] - part[1]) * p.height * v.scale,
        );
      this.drawn = shown;
      if (this.compare) this.compare.draw(g, v, p, shown);
      g.filter = 'none';
      if (im && shown === im) this.last = im;
    }
    const said = [
      this.said || '',
      this.plateOnly
        ? 'plate'
        : live
          ? 'as it turns'
          : this.over.shown
            ? this.over.shown.said
            : this.s.camera && ![null, 'draft'].includes(this.over.wanted())
              ? 'plate: this frame is not rendered'
              : '',
      ...this.looking.said(),
    ]
      .filter(Boolean)
      .join(', ');
    if (said) {
      this.badge.hidden = false;
      this.badge.textContent = said;
    }
    if (this.solid)
      this.solid.draw(
        g,
        v,
        this.el.clientWidth,
        this.el.clientHeight,
        (this.stage.live ? live : this.toggles.performers) && !this.hidden && !this.plateOnly,
        shown,
      );
    else if (shown && this.stage.solid && this.s.data.performers.length) this.perform();
    if (this.hidden || (this.plateOnly && !(this.hand && this.hand.onPlate))) return;
    const top = this.upper ? this.upper.getContext('2d') : g;
    top.save();
    top.beginPath();
    top.rect(0, 0, w, h);
    top.clip();
    freshLabels(top);
    this.overlay(top, v);
    top.restore();
  }

  overlay(g, v) {
    const t = this.toggles,
      back = this.holding.back(),
      at = (q) => {
        if (q && back) q = through(back, q);
        return q && [v.x + q[0] * v.scale, v.y + q[1] * v.scale];
      };
    const world = (q) => at(this.s.camera.project(this.s.frame, q));
    if (this.s.camera && t.grid) this.marks.grid(g, world);
    if (this.s.camera && t.horizon) this.marks.horizon(g, at);
    if (this.s.camera && t.catcher) this.marks.catcher(g, world);
    if (this.s.camera && t.pieces) this.stage.pieces(g, world);
    if (t.marks) this.marks.marks(g, at);
    if (this.hand && t.routes !== false) this.hand.draw(g, at);
    if (this.s.camera && t.points) this.marks.points(g, world);
    if (this.s.camera && t.stick) this.marks.stick(g, world);
    if (this.s.camera && this.stage.overlay) this.stage.overlay(this.marks, g, world, t);
    if (this.box) {
      g.strokeStyle = HAND;
      g.setLineDash([4, 3]);
      g.strokeRect(...this.box);
      g.setLineDash([]);
    }
  }

  gestures() {
    const c = this.canvas;
    c.addEventListener(
      'wheel',
      (e) => {
        e.preventDefault();
        if (!this.s.data || !this.s.data.plate) return;
        const b = c.getBoundingClientRect(),
          x = e.clientX - b.left,
          y = e.clientY - b.top,
          before = this.toPlate(e);
        this.zoom = Math.max(0.5, Math.min(24, this.zoom * Math.exp(-e.deltaY * 0.0015)));
        const v = this.view();
        this.panX += x - (v.x + before[0] * v.scale);
        this.panY += y - (v.y + before[1] * v.scale);
        this.draw();
        this.over.moved();
      },
      { passive: false },
    );
    c.addEventListener('pointerdown', (e) => {
      if (!this.s.data || !this.s.data.plate) return;
      c.setPointerCapture(e.pointerId);
      if (this.hand && this.hand.down(e)) return;
      const b = c.getBoundingClientRect();
      this.down = {
        x: e.clientX,
        y: e.clientY,
        cx: e.clientX - b.left,
        cy: e.clientY - b.top,
        panX: this.panX,
        panY: this.panY,
        moved: false,
      };
    });
    c.addEventListener('pointermove', (e) => {
      readOut(this, e);
      if (this.hand && this.hand.moving) {
        this.hand.move(e);
        return;
      }
      if (!this.down) {
        if (this.hand && this.hand.cursor && this.s.data) c.style.cursor = this.hand.cursor(e);
        return;
      }
      const dx = e.clientX - this.down.x,
        dy = e.clientY - this.down.y;
      if (!this.down.moved && Math.hypot(dx, dy) < 4) return;
      this.down.moved = true;
      if (e.shiftKey && this.stage.box) {
        this.box = [
          Math.min(this.down.cx, this.down.cx + dx),
          Math.min(this.down.cy, this.down.cy + dy),
          Math.abs(dx),
          Math.abs(dy),
        ];
        this.draw();
      } else {
        this.panX = this.down.panX + dx;
        this.panY = this.down.panY + dy;
        this.draw();
      }
    });
    const up = (e) => {
      if (this.hand && this.hand.moving) {
        this.hand.up();
        return;
      }
      const d = this.down;
      this.down = null;
      if (!d) return;
      if (this.box) {
        choose(this.inBox(), true);
        this.box = null;
        drawAll();
        return;
      }
      if (!d.moved) this.click(e);
      else this.over.moved();
    };
    c.addEventListener('pointerup', up);
    c.addEventListener('pointercancel', () => {
      this.down = null;
      this.box = null;
    });
    c.addEventListener('dblclick', () => this.fit());
  }

  /** Chooseable things: number and place in plate pixels. */
  things() {
    return this.stage.things ? this.stage.things(this) : [];
  }

  inBox() {
    const v = this.view(),
      [x, y, w, h] = this.box,
      back = this.holding.back();
    return this.things()
      .filter(([, p]) => {
        const q = back ? through(back, p) : p,
          px = v.x + q[0] * v.scale,
          py = v.y + q[1] * v.scale;
        return px >= x && px <= x + w && py >= y && py <= y + h;
      })
      .map((t) => t[0]);
  }

  click(e) {
    const q = this.toPlate(e),
      reach = 9 / this.view().scale;
    let best = null,
      near = reach;
    for (const [id, p] of this.things()) {
      const d = Math.hypot(p[0] - q[0], p[1] - q[1]);
      if (d < near) {
        near = d;
        best = id;
      }
    }
    if (this.hand && this.hand.click && (this.hand.tool !== 'choose' || this.hand.aside) && this.hand.click(e)) return;
    if (best !== null) choose([best], e.shiftKey);
    else if (!e.shiftKey && this.s.chosen.size) choose([], false);
  }
}
