// Performers as they were drawn over a frame, kept while it is played in a loop: drawing them anew may take longer than
// a frame lasts where there is no graphics card.
const MOST_PIXELS = 300e6;

export class DrawnFrames {
  constructor() {
    this.of = new Map();
    this.bytes = 0;
  }

  /** @param key of all that decides on how they look; null where it is not kept */
  get(key) {
    return this.of.get(key) || null;
  }

  /** Keeps what a canvas shows now. The oldest go first. */
  async keep(key, canvas) {
    const im = await createImageBitmap(canvas);
    if (this.of.has(key)) return;
    this.of.set(key, im);
    this.bytes += 4 * im.width * im.height;
    for (const [old, o] of this.of) {
      if (this.bytes <= MOST_PIXELS) break;
      this.of.delete(old);
      this.bytes -= 4 * o.width * o.height;
    }
  }

  clear() {
    this.of.clear();
    this.bytes = 0;
  }
}
