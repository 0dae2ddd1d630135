// A picture that is kept, and lies beside what is shown now: on the left of a line that can be moved. Two renders, two
// settings, the same before its noise was filtered.
import { say } from '../page/net.js';

export class Wipe {
  /** @param picture in which it is compared; @param look where its button stands */
  constructor(picture, look) {
    this.p = picture;
    this.kept = null;
    this.at = 0.5;
    this.button = Object.assign(document.createElement('button'), { type: 'button', id: 'keep' });
    this.button.addEventListener('click', () => (this.kept ? this.drop() : this.keep()));
    look.append(this.button);
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
  }

  keep() {
    if (!this.p.drawn) return;
    const said = this.p.badge.hidden ? 'plate' : this.p.badge.textContent;
    this.kept = this.p.drawn;
    this.line.firstChild.textContent = `kept: frame ${this.p.s.frame}, ${said}`;
    this.line.hidden = false;
    this.say();
    this.p.draw();
  }

  drop() {
    this.kept = null;
    this.line.hidden = true;
    this.say();
    this.p.draw();
  }

  move(e) {
    const box = this.p.el.getBoundingClientRect();
    this.at = Math.max(0.02, Math.min(0.98, (e.clientX - box.left) / box.width));
    this.p.draw();
  }

  /** Over what is shown, at the same place and size. @param v where the plate lies; @param p the plate */
  draw(g, v, p) {
    if (!this.kept) return;
    const x = this.at * this.p.el.clientWidth;
    this.line.style.left = `${x}px`;
    g.save();
    g.beginPath();
    g.rect(0, 0, x, this.p.el.clientHeight);
    g.clip();
    g.drawImage(this.kept, v.x, v.y, p.width * v.scale, p.height * v.scale);
    g.restore();
  }
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
