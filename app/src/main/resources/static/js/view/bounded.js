// Things by their keys, bounded by their bytes: what was not used for longest goes first.
export class Bounded {
  /** @param most bytes of all; @param size of one */
  constructor(most, size) {
    this.most = most;
    this.size = size;
    this.clear();
  }

  has(key) {
    return this.of.has(key);
  }

  /** Null where there is none. */
  get(key) {
    const thing = this.of.get(key);
    if (thing === undefined) return null;
    this.of.delete(key);
    this.of.set(key, thing);
    return thing;
  }

  put(key, thing) {
    if (this.of.has(key)) return;
    this.of.set(key, thing);
    this.bytes += this.size(thing);
    for (const [old, o] of this.of) {
      if (this.bytes <= this.most) break;
      this.of.delete(old);
      this.bytes -= this.size(o);
    }
  }

  clear() {
    this.of = new Map();
    this.bytes = 0;
  }
}

/** Bytes of a picture that is unpacked. */
export const pixels = (im) => 4 * im.width * im.height;
