// Keeps labels off each other: a later one gives way to those that are there, up or down.

const TRIES = [0, 1, -1, 2, -2, 3, -3];

export class Apart {
  constructor() {
    this.taken = [];
  }

  /** Nothing is there. */
  clear() {
    this.taken.length = 0;
  }

  /** The line on which a text may stand, nearest to where it would. @param y of its base line; @param h of a line */
  line(x, y, w, h) {
    for (const n of TRIES) {
      const at = y + n * h;
      if (this.taken.some((t) => x < t.x + t.w && t.x < x + w && at - h < t.y && t.y - t.h < at)) continue;
      this.taken.push({ x, y: at, w, h });
      return at;
    }
    return y;
  }
}
