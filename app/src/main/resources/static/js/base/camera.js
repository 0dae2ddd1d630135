// The solved camera in the browser: the same projection as core/lens.

export class Camera {
  constructor(data) {
    this.k1 = data.k1;
    this.k2 = data.k2;
    this.k3 = data.k3;
    this.p1 = data.p1;
    this.p2 = data.p2;
    this.cx = data.cx;
    this.cy = data.cy;
    this.readout = data.readout || 0;
    this.height = data.height;
    this.frames = new Map(
      data.frames.map((f) => [f[0], { m: f.slice(1, 13), focal: f[13], rms: f[14], tracks: f[15], off: f[16] }]),
    );
    this.first = data.frames[0][0];
    this.last = data.frames[data.frames.length - 1][0];
  }

  /** The frame's camera, or the nearest one's where it is not solved. */
  at(frame) {
    let f = Math.max(this.first, Math.min(this.last, frame));
    while (!this.frames.has(f)) f--;
    return this.frames.get(f);
  }

  eye(frame) {
    const m = this.at(frame).m;
    return [m[3], m[7], m[11]];
  }

  /** Pixel of a world point; null behind the camera, and in frames that are not solved. */
  project(frame, p) {
    const f = this.frames.get(frame);
    if (!f) return null;
    let q = this.seen(f.m, f.focal, p);
    // Rows that are read one after the other: the row decides the moment, and the moment the row.
    for (let k = 0; k < 3 && this.readout && q; k++)
      q = this.seen(
        this.moment(frame, this.readout * (Math.max(0, Math.min(this.height, q[1])) / this.height - 0.5)),
        f.focal,
        p,
      );
    return q;
  }

  /**
   * Pose some part of a frame's time away; between neighbours poses hardly differ, so that their numbers may be mixed.
   */
  moment(frame, dt) {
    const a = this.frames.get(frame).m,
      next = this.frames.get(frame + Math.sign(dt)),
      other = this.frames.get(frame - Math.sign(dt));
    if (next) return a.map((v, i) => v + Math.abs(dt) * (next.m[i] - v));
    return other ? a.map((v, i) => v - Math.abs(dt) * (other.m[i] - v)) : a;
  }

  seen(m, focal, p) {
    const x = p[0] - m[3],
      y = p[1] - m[7],
      z = p[2] - m[11];
    const X = m[0] * x + m[4] * y + m[8] * z,
      Y = m[1] * x + m[5] * y + m[9] * z,
      Z = m[2] * x + m[6] * y + m[10] * z;
    if (Z > -1e-6) return null;
    const u = X / -Z,
      v = -Y / -Z,
      r2 = u * u + v * v;
    // Far outside the lens's picture the polynomial folds back.
    if (r2 > 4 || (this.k1 < 0 && r2 > -1 / (3 * this.k1))) return null;
    const q = this.bent(u, v);
    return [this.cx + focal * q[0], this.cy + focal * q[1]];
  }

  /** Normalised coordinates (y down) as the lens bends them. */
  bent(x, y) {
    const r2 = x * x + y * y,
      d = 1 + r2 * (this.k1 + r2 * (this.k2 + r2 * this.k3));
    return [
      x * d + 2 * this.p1 * x * y + this.p2 * (r2 + 2 * x * x),
      y * d + this.p1 * (r2 + 2 * y * y) + 2 * this.p2 * x * y,
    ];
  }

  /** Direction in the world of a pixel. */
  ray(frame, px, py) {
    const f = this.at(frame),
      m = f.m,
      xd = (px - this.cx) / f.focal,
      yd = (py - this.cy) / f.focal;
    // What the lens bends is taken off again and again; a few rounds are exact to a thousandth of a pixel.
    let u = xd,
      v = yd;
    for (let i = 0; i < 20; i++) {
      const q = this.bent(u, v);
      u += xd - q[0];
      v += yd - q[1];
    }
    const x = u,
      y = -v,
      z = -1;
    return [m[0] * x + m[1] * y + m[2] * z, m[4] * x + m[5] * y + m[6] * z, m[8] * x + m[9] * y + m[10] * z];
  }

  /** How far over a foot the ray through a pixel passes its upright; below zero under it. */
  heightOver(frame, foot, px, py) {
    const e = this.eye(frame),
      d = this.ray(frame, px, py),
      n = Math.hypot(...d),
      r = d.map((v) => v / n),
      w = [0, 1, 2].map((i) => e[i] - foot[i]);
    return (w[1] - r[1] * (w[0] * r[0] + w[1] * r[1] + w[2] * r[2])) / (1 - r[1] * r[1]);
  }

  /** Where the pixel's ray meets the level y, or null. */
  onLevel(frame, px, py, level) {
    const d = this.ray(frame, px, py),
      e = this.eye(frame),
      t = (level - e[1]) / d[1];
    return t > 0 && t < 1e4 ? [e[0] + t * d[0], level, e[2] + t * d[2]] : null;
  }
}

/** Pale to magenta. */
export function errorColour(px) {
  return px < 0.6 ? '#cfcfcf' : px < 1.2 ? '#e6b3cf' : px < 1.8 ? '#ea7fb6' : '#f0379b';
}
