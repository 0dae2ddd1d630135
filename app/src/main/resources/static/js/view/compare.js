// A picture, or a version of the comp, that is kept and held against what is shown now: on the left of a line that can
// be moved, laid over it by half, or as what differs, amplified.
import { say } from '../page/net.js';

const WAYS = [
  ['wipe', 'wipe'],
  ['onion', 'half over it'],
  ['difference', 'difference x 8'],
  ['beside', 'side by side'],
];
const AMPLIFIED = 8;

export class Compare {
  /**
   * @param picture in which it is compared; @param look where its buttons stand
   * @param version the number of what is shown, where other frames of it can be had; then it is compared in all of them
   */
  constructor(picture, look, version) {
    this.p = picture;
    this.version = version;
    this.kept = null;
    this.way = 'wipe';
    this.at = 0.5;
    /** The frame with a step, while it is shown without it and what that changes is asked for. */
    this.influence = null;
    this.button = Object.assign(document.createElement('button'), { type: 'button', id: 'keep' });
    this.button.addEventListener('click', () => (this.kept ? this.drop() : this.keep()));
    this.ways = document.createElement('select');
    this.ways.setAttribute('aria-label', 'how it is compared');
    this.ways.append(...WAYS.map(([value, text]) => new Option(text, value)));
    this.ways.addEventListener('change', () => {
      this.way = this.ways.value;
      this.say();
      this.p.draw();
    });
    look.append(this.button, this.ways);
    this.line = Object.assign(document.createElement('div'), { className: 'wipe', hidden: true });
    this.line.append(document.createElement('span'));
    this.line.addEventListener('pointerdown', (e) => this.line.setPointerCapture(e.pointerId));
    this.line.addEventListener('pointermove', (e) => this.line.hasPointerCapture(e.pointerId) && this.move(e));
    picture.el.append(this.line);
    this.say();
  }

  say() {
    this.button.textContent = this.kept ? 'stop comparing' : 'keep to compare';
    this.button.setAttribute('aria-pressed', !!this.kept);
    this.ways.hidden = !this.kept;
    this.line.hidden = !this.kept;
    this.line.classList.toggle('only-said', this.way !== 'wipe');
    this.line.classList.toggle('at-left', this.way === 'beside');
  }

  keep() {
    if (!this.p.drawn) return;
    const said = this.p.badge.hidden ? 'plate' : this.p.badge.textContent,
      version = this.version && this.p.over.shown && !this.p.plateOnly ? this.version() : null;
    this.against(
      this.p.drawn,
      version,
      version ? `kept: ${said} as it is now, in every frame` : `kept: frame ${this.p.s.frame}, ${said}`,
    );
  }

  /** @param version whose other frames can be had, or null: then the picture alone is kept */
  against(im, version, said) {
    this.kept = { im, version, frame: this.p.s.frame };
    this.line.firstChild.textContent = said;
    this.say();
    this.p.draw();
  }

  drop() {
    this.kept = null;
    this.say();
    this.p.draw();
  }

  move(e) {
    const box = this.p.el.getBoundingClientRect();
    this.at = Math.max(0.02, Math.min(0.98, (e.clientX - box.left) / box.width));
    this.p.draw();
  }

  /** What is kept, as it is in the frame that is shown. */
  picture() {
    const k = this.kept;
    if (!k.version) return k.im;
    if (k.frame === this.p.s.frame && k.im) return k.im;
    const over = this.p.over,
      url = over.address(this.p.s.frame, 'comp', k.version),
      im = over.cache.now(url);
    if (im) return im;
    if (this.asked !== url) {
      this.asked = url;
      this.fetch(url);
    }
    return null;
  }

  async fetch(url, f = this.p.s.frame) {
    const { cache } = this.p.over;
    try {
      const answer = await fetch(url);
      if (answer.ok) cache.put(url, await answer.blob());
      else if (answer.status === 404) {
        this.none = f;
        say('The version that is kept is not rendered in this frame.');
      }
      if (await cache.unpack(url)) this.p.draw();
    } catch {
      say('The picture could not be fetched: Dasein does not answer.');
    }
  }

  /** Whether a frame of what is kept can be shown; it is asked for where it is not: both play in step. */
  ready(f) {
    const k = this.kept;
    if (!k || !k.version || this.none === f || !this.p.s.data.rendered.includes(f)) return true;
    const over = this.p.over,
      url = over.address(f, 'comp', k.version);
    if (over.cache.now(url)) return true;
    if (over.cache.has(url)) over.cache.unpack(url);
    else if (this.asked !== url) {
      this.asked = url;
      this.fetch(url, f);
    }
    return false;
  }

  /** Over what is shown, at the same place and size. @param v where the plate lies; @param p the plate */
  draw(g, v, p, shown) {
    if (this.influence && this.p.over.shown && shown === this.p.over.shown.im && shown !== this.influence)
      g.drawImage(differing(this.influence, shown), v.x, v.y, p.width * v.scale, p.height * v.scale);
    if (!this.kept) return;
    const kept = this.picture(),
      box = [v.x, v.y, p.width * v.scale, p.height * v.scale];
    if (!kept) return;
    g.save();
    if (this.way === 'wipe') {
      const x = this.at * this.p.el.clientWidth;
      this.line.style.left = `${x}px`;
      g.beginPath();
      g.rect(0, 0, x, this.p.el.clientHeight);
      g.clip();
      g.drawImage(kept, ...box);
    } else if (this.way === 'onion') {
      g.globalAlpha = 0.5;
      g.drawImage(kept, ...box);
    } else if (this.way === 'beside') {
      const w = this.p.el.clientWidth,
        h = this.p.el.clientHeight;
      g.clearRect(0, 0, w, h);
      [kept, shown].forEach((im, side) => half(g, im, box, w, h, side));
    } else g.drawImage(differing(kept, shown), ...box);
    g.restore();
  }
}

/** A picture in one half of what is seen, half as large, about the same middle. @param side 0 left, 1 right */
function half(g, im, [x, y, wide, high], w, h, side) {
  g.save();
  g.beginPath();
  g.rect((side * w) / 2, 0, w / 2 - (side ? 0 : 2), h);
  g.clip();
  g.drawImage(im, (side * w) / 2 + x / 2, h / 4 + y / 2, wide / 2, high / 2);
  g.restore();
}

let sheet = null;
/** What differs between two pictures, amplified; black where nothing does. */
export function differing(a, b) {
  const w = b.naturalWidth || b.width,
    h = b.naturalHeight || b.height;
  sheet = sheet || [document.createElement('canvas'), document.createElement('canvas')];
  for (const c of sheet) {
    c.width = w;
    c.height = h;
  }
  const g = sheet[0].getContext('2d');
  g.drawImage(b, 0, 0, w, h);
  g.globalCompositeOperation = 'difference';
  g.drawImage(a, 0, 0, w, h);
  const out = sheet[1].getContext('2d');
  out.filter = `brightness(${AMPLIFIED})`;
  out.drawImage(sheet[0], 0, 0);
  return sheet[1];
}

/** A button that shows frames as they were sampled, before their noise was filtered. */
export function rawButton(picture, look) {
  const b = document.createElement('button');
  b.type = 'button';
  b.id = 'raw';
  b.textContent = 'before the filter';
  b.setAttribute('aria-pressed', 'false');
  b.addEventListener('click', () => {
    if (!picture.s.data.overFrames) {
      say('Frames are kept as they were sampled only where they are filtered over their neighbours.');
      return;
    }
    picture.raw = !picture.raw;
    b.setAttribute('aria-pressed', picture.raw);
    picture.frameChanged();
    picture.draw();
  });
  look.append(b);
}
