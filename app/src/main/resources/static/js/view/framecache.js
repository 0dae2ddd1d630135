// Finished frames that were fetched already, as files; the next few are kept unpacked. It fills in the background from
// the frame that is looked at, so that what is played is played at its rate.
const MOST_BYTES = 300e6,
  UNPACKED = 24;

export class FrameCache {
  /** @param filled called when there is one more */
  constructor(filled) {
    this.filled = filled;
    this.files = new Map();
    this.bytes = 0;
    this.unpacked = new Map();
    this.wanted = null;
  }

  has(url) {
    return this.files.has(url);
  }

  /** The picture, when it is unpacked already. */
  now(url) {
    return this.unpacked.get(url) || null;
  }

  /** Unpacks a file that is there. */
  async unpack(url) {
    if (this.unpacked.has(url)) return this.unpacked.get(url);
    const file = this.files.get(url);
    if (!file) return null;
    const im = await createImageBitmap(file);
    this.unpacked.set(url, im);
    // The garbage collector is left to close them: one may be kept, or on the screen.
    if (this.unpacked.size > UNPACKED) this.unpacked.delete(this.unpacked.keys().next().value);
    return im;
  }

  put(url, file) {
    if (this.files.has(url)) return;
    this.files.set(url, file);
    this.bytes += file.size;
    for (const [old, f] of this.files) {
      if (this.bytes <= MOST_BYTES) break;
      this.files.delete(old);
      this.bytes -= f.size;
    }
    this.filled();
  }

  /** Fetches these one after the other, until others are wanted. */
  async fill(urls) {
    const mine = (this.wanted = {});
    for (const url of urls) {
      if (this.wanted !== mine) return;
      if (this.files.has(url)) continue;
      if (document.hidden) return;
      try {
        const answer = await fetch(url, { priority: 'low' });
        if (answer.ok && answer.status !== 204) this.put(url, await answer.blob());
      } catch {
        return;
      }
    }
  }

  stop() {
    this.wanted = null;
  }

  clear() {
    this.stop();
    this.files.clear();
    this.unpacked.clear();
    this.bytes = 0;
  }
}
