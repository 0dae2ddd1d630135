// What lies over the plate: a draft, the comp, a pass. It is asked for when somebody has stopped at a frame; what was
// asked for before is then no longer wanted.
import { say } from '../page/net.js';
import { drawAll, page, shot } from '../page/state.js';
import { FrameCache } from './framecache.js';

/** How drafts of this stage are looked at. */
const looked = (picture, part) =>
  (part ? `&part=${part}` : '') + (picture.stage.drafts ? `&stands=true&alone=${picture.s.alone || ''}` : '');
const LEVELS = 4;

export class Over {
  /** @param picture which it lies in */
  constructor(picture) {
    this.p = picture;
    this.shown = null;
    this.of = null;
    this.cache = new FrameCache(() => drawAll());
  }

  clear() {
    this.shown = null;
  }

  /** Whether something else is wanted than what was asked for; then it counts as asked for. */
  stale() {
    const key = this.key(),
      other = key !== this.of;
    this.of = key;
    return other;
  }

  askSoon() {
    clearTimeout(this.timer);
    if (this.leave) this.leave.abort();
    if (!this.p.s.playing) this.cache.stop();
    const at = this.wanted() === 'comp' && this.cache.now(this.address(this.p.s.frame, 'comp'));
    if (at && this.finished()) {
      // It is there already: nothing flickers.
      this.of = this.key();
      this.shown = { im: at, said: this.p.without ? `comp, without ${this.p.without}` : 'comp' };
      if (!this.p.s.playing) this.fillSoon();
      return;
    }
    if (!this.p.s.playing) this.timer = setTimeout(() => this.ask(), 40);
    else if (this.wanted() === 'comp') this.ask();
  }

  /**
   * Which picture is to lie over the plate: draft, comp, a pass; null for none. A finished frame is better than a
   * draft.
   */
  wanted() {
    if (!this.p.stage.over) return null;
    const want = this.p.stage.over(this.p);
    if (!this.p.s.camera) return want === 'comp' && this.plain() ? want : null;
    const only = this.p.stage.drafts && this.p.stage.drafts();
    return want === 'draft' && this.finished() && !only ? 'comp' : want;
  }

  finished() {
    return (this.p.s.data.rendered || []).includes(this.p.s.frame);
  }

  /** Whether the comp has something to show without performers: what is done to the plate alone. */
  plain() {
    return this.p.stage.plain && this.p.s.data.plainly;
  }

  /** What decides on the picture over the plate. */
  key() {
    const s = this.p.s;
    return [
      this.wanted(),
      s.data.revision,
      s.frame,
      this.finished(),
      s.alone || '',
      !!this.p.raw,
      this.p.without || '',
      this.part(),
    ].join(' ');
  }

  /** What of the plate is looked at closely: left, top, right, bottom from 0 to 1; nothing for all of it. */
  part() {
    if (this.p.zoom < 1.4 || this.wanted() !== 'draft') return '';
    const q = this.inView();
    if (q[2] - q[0] < 0.03 || q[3] - q[1] < 0.03) return '';
    return q.map((k) => k.toFixed(3)).join(',');
  }

  /** What of the plate can be seen: left, top, right, bottom from 0 to 1. */
  inView() {
    const v = this.p.view(),
      d = this.p.s.data.plate,
      from = [-v.x / v.scale / d.width, -v.y / v.scale / d.height],
      to = [(this.p.el.clientWidth - v.x) / v.scale / d.width, (this.p.el.clientHeight - v.y) / v.scale / d.height];
    return [...from, ...to].map((k) => Math.max(0, Math.min(1, k)));
  }

  /** The picture was moved or enlarged: soon what is looked at now is drawn for itself. */
  moved() {
    clearTimeout(this.settling);
    this.settling = setTimeout(() => {
      if (this.p.s.data && this.p.s.data.plate && this.wanted() === 'draft' && this.stale()) this.askSoon();
    }, 250);
  }

  /** Fetches what the stage shows instead of the plate; what was asked for before is no longer wanted. */
  async ask() {
    const want = this.wanted(),
      key = this.key();
    this.of = key;
    this.leave = new AbortController();
    if (!want) return;
    if (want === 'draft') {
      await this.askDraft(key);
      return;
    }
    if (!this.finished() && !(want === 'comp' && this.plain())) {
      this.shown = null;
      this.p.draw();
      return;
    }
    const url = this.address(this.p.s.frame, want),
      file = this.cache.has(url) ? null : await this.fetchFile(url);
    if (file) this.cache.put(url, file);
    const im = await this.cache.unpack(url);
    if (!im || key !== this.key()) return;
    const alone = this.finished() ? want : 'plate, as the comp has it',
      said = this.p.without ? `${alone}, without ${this.p.without}` : alone;
    this.shown = { im, said: this.p.raw ? `${said}, before the filter` : said };
    this.p.draw();
    if (want === 'comp' && !this.p.s.playing) this.fillSoon();
  }

  /** Of a finished frame or one of its passes. @param other part of the address: which, if not what is worked on */
  address(f, want, other) {
    const of = want === 'comp' ? 'comp' : 'pass',
      version = other ? `&${other}` : `&rev=${this.p.s.data.revision}&without=${this.p.without || ''}`;
    return `/shots/${shot}/${of}/${f}.jpg?pass=${want}${version}&raw=${!!this.p.raw}`;
  }

  /** Finished frames are fetched ahead of being looked at, from this one on. */
  fillSoon() {
    clearTimeout(this.filling);
    this.filling = setTimeout(() => {
      const s = this.p.s,
        all = s.data.rendered || [],
        from = Math.max(
          0,
          all.findIndex((f) => f >= s.frame),
        );
      // While frames are rendered the machine has better to do.
      if (s.data.rendering || this.p.without) return;
      this.cache.fill([...all.slice(from), ...all.slice(0, from)].map((f) => this.address(f, 'comp')));
    }, 400);
  }

  /** Whether a frame can be played: what lies over the plate in it is there, too. */
  ready(f) {
    if (this.p.compare && !this.p.compare.ready(f)) return false;
    if (this.wanted() !== 'comp' || !(this.p.s.data.rendered || []).includes(f)) return true;
    return !!this.cache.now(this.address(f, 'comp'));
  }

  /** While it is played the next few are there and unpacked. @param order in which frames will be played */
  prepare(order) {
    if (this.wanted() !== 'comp') return;
    const there = new Set(this.p.s.data.rendered || []);
    this.cache.prepare(order.filter((f) => there.has(f)).map((f) => this.address(f, 'comp')));
  }

  /** Drafts, each better than the one before. */
  async askDraft(key) {
    if (!this.p.s.data.performers.length && !(this.p.stage.drafts && this.p.stage.drafts())) return;
    const part = this.part();
    for (let level = 0; level < LEVELS; level++) {
      const t = performance.now(),
        rev = this.p.s.data.revision;
      const im = await this.fetchImage(
        `/shots/${shot}/draft/${this.p.s.frame}.jpg?level=${level}&rev=${rev}&by=${page}` + looked(this.p, part),
      );
      if (!im || key !== this.key()) return;
      const seconds = ((performance.now() - t) / 1000).toFixed(1);
      const live = this.p.s.turning;
      if (live && !live.held && this.p.s.data.revision !== live.revision) this.p.s.turning = null;
      // Under a part lies what was there of the whole.
      const before = this.shown && !this.shown.part ? this.shown.im : this.shown && this.shown.whole;
      this.shown = {
        im,
        part: part && part.split(',').map(Number),
        whole: part ? before : null,
        said:
          (this.p.s.alone ? 'one light alone, ' : '') +
          (level < LEVELS - 1 ? `draft, getting better (${seconds} s)` : 'draft'),
      };
      this.p.draw();
      // While frames are rendered the machine has better to do than to polish drafts of them.
      if (this.p.s.data.rendering) return;
    }
  }

  async fetchImage(url) {
    const file = await this.fetchFile(url);
    return file && createImageBitmap(file);
  }

  async fetchFile(url) {
    try {
      const a = await fetch(url, { signal: this.leave.signal });
      if (a.status === 422) {
        document.getElementById('say').innerHTML = await a.text();
        return null;
      }
      if (!a.ok || a.status === 204) return null;
      return await a.blob();
    } catch (e) {
      if (e.name !== 'AbortError') say('The picture could not be fetched: Dasein does not answer.');
      return null;
    }
  }
}
