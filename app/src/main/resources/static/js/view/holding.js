// What the picture is held still on: a track, what carries a mask, or a performer's feet. Whatever drifts against it is
// seen as a slide.
import { inverse, through } from '../base/draw.js';

export class Holding {
  constructor(picture) {
    this.p = picture;
    this.s = picture.s;
    /** 'track', the number of a mask, 'feet' and the number of a performer; nothing when it moves as it is. */
    this.on = '';
  }

  /** How the picture is shifted, in plate pixels. */
  shift() {
    const toggles = this.p.toggles;
    if (toggles && toggles['hold still'] && this.s.camera && this.s.chosen.size) {
      // On a solved point: what the plate does against it is seen as a slide.
      const p = this.s.data.points.find((k) => this.s.chosen.has(k[0])),
        q = p && this.s.camera.project(this.s.frame, p.slice(1, 4)),
        o = p && this.s.camera.project(this.s.camera.first, p.slice(1, 4));
      return q && o ? [o[0] - q[0], o[1] - q[1]] : [0, 0];
    }
    if (this.on.startsWith('feet')) return this.feet(Number(this.on.slice(4)));
    if (this.on !== 'track' || this.s.chosen.size !== 1) return [0, 0];
    const t = this.s.tracks.find((k) => this.s.chosen.has(k.id)),
      i = t ? this.s.frame - t.first : -1;
    if (!t || i < 0 || i >= t.n || t.xy[2 * i] === null) return [0, 0];
    return [t.xy[0] - t.xy[2 * i], t.xy[1] - t.xy[2 * i + 1]];
  }

  /** So that a performer stands where it stood when it was first held. */
  feet(id) {
    const k = (this.s.data.feet || []).find((f) => f.id === id),
      at = k && k.places[this.s.frame - k.first];
    if (!at) return [0, 0];
    if (!this.stood || this.stood.id !== id) this.stood = { id, at };
    return [this.stood.at[0] - at[0], this.stood.at[1] - at[1]];
  }

  /** From the picture that stands still on a carried mask to the plate's frame; null when it moves as it is. */
  map() {
    const m = Number(this.on);
    return m ? (this.s.data.planes[m] || {})[this.s.frame] || null : null;
  }

  back() {
    const m = this.map();
    return m && inverse(m);
  }

  toPlate(q) {
    const m = this.map();
    return m ? through(m, q) : q;
  }

  /** What of the address of a frame depends on it. */
  address() {
    return Number(this.on) ? `&hold=${this.on}&rev=${this.s.data.revision}` : '';
  }

  /** Fills the choice of what it can be held still on, where there is one. */
  fill() {
    const sel = document.getElementById('hold');
    if (!sel) return;
    const of = [
      ['', 'picture moves'],
      ...(sel.dataset.tracks ? [['track', 'held on the chosen track']] : []),
      ...(this.s.data.feet || []).map((f) => ['feet' + f.id, 'held on the feet of ' + f.name]),
      ...(sel.dataset.tracks
        ? (this.s.data.masks || [])
            .filter((m) => (this.s.data.planes || {})[m.id])
            .map((m) => [String(m.id), 'held on ' + m.name])
        : []),
    ];
    if (!of.some((o) => o[0] === this.on)) this.on = '';
    sel.replaceChildren(...of.map((o) => new Option(o[1], o[0])));
    sel.value = this.on;
  }

  /** @param tracks whether tracks and masks are offered, too */
  choice(look, tracks) {
    const sel = document.createElement('select');
    sel.id = 'hold';
    if (tracks) sel.dataset.tracks = 'yes';
    sel.setAttribute('aria-label', 'what the picture is held still on');
    sel.addEventListener('change', () => {
      this.on = sel.value;
      this.stood = null;
      this.p.frames.clear();
      this.p.frameChanged();
      this.p.draw();
    });
    look.append(sel);
  }
}
