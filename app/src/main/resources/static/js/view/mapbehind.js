// The map as the plate's camera would see it, laid over the plate half clear, so that its horizon can be dragged to
// where the plate's is.
import { state } from '../page/state.js';
import { mapNow } from './suns.js';

const RAD = Math.PI / 180,
  WIDTH = 640;

export const turnNow = () => mapNow(state).turn;

export class MapBehind {
  /** @param drawn called when another picture has come */
  constructor(drawn) {
    this.drawn = drawn;
    this.turn = null;
  }

  /** @param turn degrees, as it is being dragged */
  show(turn) {
    this.turn = turn;
    if (this.asking) {
      this.again = true;
      return;
    }
    const c = state.camera && state.camera.at(state.frame),
      hash = state.data.map;
    if (!c || !hash) return;
    const p = state.data.plate,
      m = c.m,
      ahead = [-m[2], -m[6], -m[10]],
      of = { turn, az: Math.atan2(ahead[0], -ahead[2]) / RAD, up: Math.asin(ahead[1]) / RAD },
      field = (2 * Math.atan(p.width / 2 / c.focal)) / RAD;
    // The camera's right against the level: how far it leans.
    of.roll = Math.atan2(m[4], Math.hypot(m[0], m[8]));
    this.asking = true;
    const im = new Image();
    im.onload = () => {
      this.image = im;
      this.of = of;
      this.after();
    };
    im.onerror = () => this.after();
    im.src =
      `/shelf/${hash}-look.jpg?azimuth=${(of.az - turn).toFixed(2)}&elevation=${of.up.toFixed(2)}` +
      `&field=${Math.min(150, field).toFixed(3)}&width=${WIDTH}&height=${Math.round((WIDTH * p.height) / p.width)}`;
  }

  after() {
    this.asking = false;
    if (this.again) {
      this.again = false;
      this.show(this.turn);
    }
    this.drawn();
  }

  draw(g, at) {
    if (this.turn === null || !this.image) return;
    const p = state.data.plate,
      a = at([0, 0]),
      b = at([p.width, p.height]),
      w = b[0] - a[0],
      h = b[1] - a[1];
    g.save();
    g.beginPath();
    g.rect(...a, w, h);
    g.clip();
    g.globalAlpha = 0.6;
    g.translate(a[0] + w / 2, a[1] + h / 2);
    g.rotate(this.of.roll);
    g.drawImage(this.image, -w / 2, -h / 2, w, h);
    g.restore();
  }
}
