// Frames that were fetched, as files, and unpacked to the size at which they are shown, so that they are drawn as they
// are. Both are bounded by their bytes; what was not used for longest goes first.
import { Bounded, pixels } from './bounded.js';

const MOST_FILES = 300e6,
  MOST_PIXELS = 500e6,
  AT_ONCE = 3,
  /** Frames that are unpacked ahead of being played. */
  AHEAD = 12;

export class FrameCache {
  /** @param filled called when there is one more */
  constructor(filled) {
    this.filled = filled;
    this.files = new Bounded(MOST_FILES, (file) => file.size);
    // The garbage collector is left to close them: one may be kept, or on the screen.
    this.pictures = new Bounded(MOST_PIXELS, pixels);
    this.coming = new Map();
    this.asked = new Map();
    this.wanted = [];
    this.filling = 0;
    this.missing = new Set();
    /** Pixels across at which frames are shown; 0 as they are. */
    this.wide = 0;
  }

  has(url) {
    return this.files.has(url);
  }

  key(url) {
    return `${url} ${this.wide}`;
  }

  /** The picture, when it is unpacked already. */
  now(url) {
    return this.pictures.get(this.key(url));
  }

  /** Unpacks a file that is there. */
  unpack(url) {
    const there = this.now(url);
    if (there) return Promise.resolve(there);
    const file = this.files.get(url),
      key = this.key(url);
    if (!file) return Promise.resolve(null);
    if (!this.coming.has(key)) {
      const size = this.wide ? { resizeWidth: this.wide, resizeQuality: 'medium' } : {};
      this.coming.set(
        key,
        createImageBitmap(file, size)
          .then((im) => {
            this.pictures.put(key, im);
            return im;
          })
          .catch(() => null)
          .finally(() => this.coming.delete(key)),
      );
    }
    return this.coming.get(key);
  }

  put(url, file) {
    if (this.files.has(url)) return;
    this.files.put(url, file);
    this.filled();
  }

  /** Fetches one. @return whether it is there */
  fetch(url, priority = 'high') {
    if (this.files.has(url)) return Promise.resolve(true);
    if (!this.asked.has(url))
      this.asked.set(
        url,
        this.fetched(url, priority).finally(() => this.asked.delete(url)),
      );
    return this.asked.get(url);
  }

  async fetched(url, priority) {
    try {
      const answer = await fetch(url, { priority });
      if (!answer.ok || answer.status === 204) return false;
      this.put(url, await answer.blob());
      return true;
    } catch {
      return false;
    }
  }

  /** Fetches these in their order, a few at once, until others are wanted. */
  fill(urls) {
    this.wanted = urls;
    for (let k = this.filling; k < AT_ONCE; k++) this.take();
  }

  /** What is played next: fetched, and the first few of it unpacked. */
  prepare(urls) {
    this.fill(urls);
    for (const url of urls.slice(0, AHEAD)) this.unpack(url);
  }

  async take() {
    this.filling++;
    try {
      for (;;) {
        const open = (u) => !this.files.has(u) && !this.asked.has(u) && !this.missing.has(u),
          url = document.hidden ? null : this.wanted.find(open);
        if (!url) return;
        if (!(await this.fetch(url, 'low'))) this.missing.add(url);
      }
    } finally {
      this.filling--;
    }
  }

  stop() {
    this.wanted = [];
  }

  clear() {
    this.stop();
    this.files.clear();
    this.pictures.clear();
    this.coming.clear();
    this.missing.clear();
  }
}
