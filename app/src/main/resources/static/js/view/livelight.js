// The picture while the light is being turned: performers lit by the shot's own map, filtered for roughness, and by its
// sun, at once; the draft takes over again when it has come.
import * as THREE from 'three';
import { state } from '../page/state.js';
import { Solid } from './solid.js';
import { sunsNow } from './suns.js';

const W = 256,
  H = 128,
  RAD = Math.PI / 180;

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
  else if (own) {
    const a = field('azimuthDeg', 0) * RAD,
      e = field('elevationDeg', 45) * RAD;
    towards = [Math.cos(e) * Math.sin(a), Math.sin(e), -Math.cos(e) * Math.cos(a)];
  } else {
    const t = (turn - base.turn) * RAD,
      [x, y, z] = was.towards;
    towards = [x * Math.cos(t) - z * Math.sin(t), y, x * Math.sin(t) + z * Math.cos(t)];
  }
  return { turn, level, sun: { towards, irradiance: was.irradiance.map((v) => v * by) } };
}

export class LiveLight extends Solid {
  constructor(canvas, s) {
    super(canvas, s);
    this.sky.intensity = 0;
  }

  /** The shot was fetched anew: from here on fields are dragged. */
  began() {
    const d = this.s.data,
      sun = sunsNow(this.s)[0];
    state.liveSun = null;
    this.base = {
      turn: field('turnDeg', 0),
      level: field('level', 1),
      sunLevel: field('sunLevel', 1),
      sun: sun && { towards: [...sun.towards], irradiance: [...sun.irradiance] },
    };
    const hash = d.map || '';
    const key = `${hash} ${d.sunApart}`;
    if (this.of === key) return;
    this.of = key;
    this.map = null;
    if (!hash) return;
    fetch(`/shelf/${hash}-soft.bin?sun=${!d.sunApart}`)
      .then((a) => (a.ok ? a.arrayBuffer() : null))
      .then((b) => {
        if (!b || this.of !== key) return;
        this.map = new Float32Array(b);
        this.turned = null;
        this.fresh++;
      });
  }

  /** Laid as three.js has it: the middle is +X and the first row the lowest; turned about the vertical. */
  surround(turn) {
    if (!this.map || (this.turned !== null && Math.abs(this.turned - turn) < 0.7)) return;
    this.turned = turn;
    const data = new Float32Array(4 * W * H);
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const from = (((Math.round(x + W / 4 - (turn / 360) * W) % W) + W) % W) + W * (H - 1 - y);
        data.set([this.map[3 * from], this.map[3 * from + 1], this.map[3 * from + 2], 1], 4 * (y * W + x));
      }
    const t = new THREE.DataTexture(data, W, H, THREE.RGBAFormat, THREE.FloatType);
    t.mapping = THREE.EquirectangularReflectionMapping;
    t.needsUpdate = true;
    const maker = new THREE.PMREMGenerator(this.renderer);
    if (this.made) this.made.dispose();
    this.made = maker.fromEquirectangular(t);
    this.scene.environment = this.made.texture;
    maker.dispose();
    t.dispose();
  }

  /** Irradiance of the map on level ground, mean of the colours. */
  up() {
    if (!this.map) return 1;
    let sum = 0;
    for (let y = 0; y < H / 2; y++) {
      const th = ((y + 0.5) / H) * Math.PI,
        k = Math.sin(th) * Math.cos(th) * (Math.PI / H) * ((2 * Math.PI) / W);
      for (let x = 0; x < W; x++) for (let c = 0; c < 3; c++) sum += (k * this.map[3 * (y * W + x) + c]) / 3;
    }
    return sum;
  }

  draw(view, w, h, on) {
    if (on && this.base) {
      this.now = lightNow(this.base);
      // What was drawn before was lit otherwise.
      this.drawn = '';
    }
    super.draw(view, w, h, on);
  }

  light() {
    const n = this.now;
    if (!n) {
      super.light();
      return;
    }
    this.surround(n.turn);
    this.scene.environmentIntensity = n.level;
    const e = n.sun ? n.sun.irradiance : [0, 0, 0],
      mean = (e[0] + e[1] + e[2]) / 3;
    this.sun.intensity = 1;
    this.sun.color.setRGB(...e);
    super.light();
    if (n.sun) {
      const reach = this.sun.position.distanceTo(this.sun.target.position);
      this.sun.position
        .copy(this.sun.target.position)
        .addScaledVector(new THREE.Vector3(...n.sun.towards).normalize(), reach);
    }
    // A shadow takes the sun's part of what lights the ground.
    const sun = mean * Math.max(0, n.sun ? n.sun.towards[1] : 0),
      sky = n.level * this.up();
    this.ground.material.opacity = sun / Math.max(1e-6, sun + sky);
  }
}

/** Whether the light is being turned now, or was and the draft of it has not come yet. */
export function turning(held) {
  state.turning = { held, revision: state.data && state.data.revision };
  if (!held)
    // What was refused brings no other draft.
    setTimeout(() => {
      if (state.turning && !state.turning.held) state.turning = null;
    }, 4000);
}
