// The picture while the light is being turned: performers lit as the panel's fields stand, at once; the draft takes
// over again when it has come.
import { state } from '../page/state.js';
import { Solid } from './solid.js';
import { direction, sunsNow } from './suns.js';

const RAD = Math.PI / 180;

const field = (id, rest) => {
  const e = document.getElementById(id);
  return e ? Number(e.value) : rest;
};

/** The light as the panel's fields stand, while they are being dragged. */
export function lightNow(base) {
  const turn = field('turnDeg', base.turn),
    level = field('level', base.level),
    source = document.querySelector('input[name=source]:checked'),
    own = source && source.value === 'own',
    was = base.sun;
  if (!was || (source && source.value === 'none')) return { turn, level, sun: null };
  const k = base.sunLevel > 0 ? field('sunLevel', base.sunLevel) / base.sunLevel : 1,
    by = own || !(base.level > 0) ? k : (k * level) / base.level;
  let towards;
  if (state.liveSun) towards = state.liveSun;
  else if (own) towards = direction(field('azimuthDeg', 0), field('elevationDeg', 45));
  else {
    const t = (turn - base.turn) * RAD,
      [x, y, z] = was.towards;
    towards = [x * Math.cos(t) - z * Math.sin(t), y, x * Math.sin(t) + z * Math.cos(t)];
  }
  return { turn, level, sun: { towards, irradiance: was.irradiance.map((v) => v * by) } };
}

export class LiveLight extends Solid {
  /** The shot was fetched anew: from here on fields are dragged. */
  changed() {
    const sun = sunsNow(this.s)[0];
    state.liveSun = null;
    this.base = {
      turn: field('turnDeg', 0),
      level: field('level', 1),
      sunLevel: field('sunLevel', 1),
      sun: sun && { towards: [...sun.towards], irradiance: [...sun.irradiance] },
    };
    return super.changed();
  }

  draw(view, w, h, on) {
    // What was drawn before was lit otherwise.
    if (on && this.base) this.drawn = '';
    super.draw(view, w, h, on);
  }

  lit() {
    return this.base ? lightNow(this.base) : super.lit();
  }
}
