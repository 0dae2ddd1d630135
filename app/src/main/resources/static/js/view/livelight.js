// The picture while the light is being turned: performers lit by the shot's own map, filtered for roughness, and by its
// sun, at once; the draft takes over again when it has come.
import * as THREE from 'three';
import { drawAll, state } from '../page/state.js';
import { Solid } from './solid.js';
import { direction, sunsNow } from './suns.js';

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
  else if (own) towards = direction(field('azimuthDeg', 0), field('elevationDeg', 45));
  else {
    const t = (turn - base.turn) * RAD,
      [x, y, z] = was.towards;
    towards = [x * Math.cos(t) - z * Math.sin(t), y, x * Math.sin(t) + z * Math.cos(t)];
  }
  return { turn, level, sun: { towards, irradiance: was.irradiance.map((v) => v * by) } };
}

/** Whether this machine lights by maps at all: some that draw without a graphics card do not. Tried once. */
let able = null;
function lightsByMaps() {
  if (able !== null) return able;
  const r = new THREE.WebGLRenderer({ preserveDrawingBuffer: true });
  r.setSize(8, 8);
  const scene = new THREE.Scene(),
    map = new THREE.DataTexture(new Float32Array(4 * 64 * 32).fill(0.5), 64, 32, THREE.RGBAFormat, THREE.FloatType),
    ball = new THREE.Mesh(new THREE.SphereGeometry(1), new THREE.MeshStandardMaterial({ roughness: 1 })),
    eye = new THREE.PerspectiveCamera(20);
  eye.position.z = 3;
  map.mapping = THREE.EquirectangularReflectionMapping;
  map.needsUpdate = true;
  scene.environment = map;
  scene.add(ball);
  r.render(scene, eye);
  const seen = new Uint8Array(4),
    gl = r.getContext();
  gl.readPixels(4, 4, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, seen);
  map.dispose();
  r.dispose();
  r.forceContextLoss();
  able = seen[1] > 20;
  return able;
}

export class LiveLight extends Solid {
  constructor(canvas, s) {
    super(canvas, s);
    this.sky.intensity = 0;
    this.maps = lightsByMaps();
    if (this.maps) return;
    // Then its first nine harmonics light what is dull, and nothing is mirrored.
    this.scene.environment = null;
    this.probe = new THREE.LightProbe();
    this.scene.add(this.probe);
  }

  /** Harmonics of the map as it is turned (Ramamoorthi and Hanrahan 2001), in three.js's order. */
  harmonics(turn, level) {
    const c = this.probe.sh.coefficients;
    for (const v of c) v.set(0, 0, 0);
    if (!this.map) {
      c[0].setScalar(level);
      return;
    }
    const by = 4;
    for (let y = by / 2; y < H; y += by)
      for (let x = by / 2; x < W; x += by) {
        const th = (y / H) * Math.PI,
          ph = (x / W - 0.5) * 2 * Math.PI + turn * RAD,
          d = [Math.sin(th) * Math.sin(ph), Math.cos(th), -Math.sin(th) * Math.cos(ph)],
          k = level * Math.sin(th) * ((by * Math.PI) / H) * ((by * 2 * Math.PI) / W),
          i = 3 * (y * W + x),
          basis = [
            0.282095,
            0.488603 * d[1],
            0.488603 * d[2],
            0.488603 * d[0],
            1.092548 * d[0] * d[1],
            1.092548 * d[1] * d[2],
            0.315392 * (3 * d[2] * d[2] - 1),
            1.092548 * d[0] * d[2],
            0.546274 * (d[0] * d[0] - d[1] * d[1]),
          ];
        basis.forEach((b, n) => {
          c[n].x += k * b * this.map[i];
          c[n].y += k * b * this.map[i + 1];
          c[n].z += k * b * this.map[i + 2];
        });
      }
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
        this.up = this.upward();
        if (this.made) this.made.dispose();
        this.made = null;
        this.fresh++;
      });
  }

  /** Laid once, as three.js has it: the middle is +X and the first row the lowest. */
  surround() {
    if (!this.map || this.made) return;
    const data = new Float32Array(4 * W * H);
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const from = ((x + W / 4) % W) + W * (H - 1 - y);
        data.set([this.map[3 * from], this.map[3 * from + 1], this.map[3 * from + 2], 1], 4 * (y * W + x));
      }
    const t = new THREE.DataTexture(data, W, H, THREE.RGBAFormat, THREE.FloatType);
    t.mapping = THREE.EquirectangularReflectionMapping;
    t.needsUpdate = true;
    const maker = new THREE.PMREMGenerator(this.renderer);
    this.made = maker.fromEquirectangular(t);
    this.scene.environment = this.made.texture;
    maker.dispose();
    t.dispose();
  }

  /** Irradiance of the map on level ground, mean of the colours. */
  upward() {
    let sum = 0;
    for (let y = 0; y < H / 2; y++) {
      const th = ((y + 0.5) / H) * Math.PI,
        k = Math.sin(th) * Math.cos(th) * (Math.PI / H) * ((2 * Math.PI) / W);
      for (let x = 0; x < W; x++) for (let c = 0; c < 3; c++) sum += (k * this.map[3 * (y * W + x) + c]) / 3;
    }
    return sum;
  }

  dress(a, id) {
    super.dress(a, id);
    if (!this.maps) for (const [m] of a.own) m.metalness = Math.min(m.metalness, 0.4);
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
    if (this.maps) {
      this.surround();
      // What was straight ahead goes to the right.
      this.scene.environmentRotation.y = -n.turn * RAD;
      this.scene.environmentIntensity = n.level;
    } else this.harmonics(n.turn, n.level);
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
      sky = n.level * (this.map ? this.up : 1);
    this.ground.material.opacity = sun / Math.max(1e-6, sun + sky);
  }
}

/** Whether the light is being turned now, or was and the draft of it has not come yet. */
export function turning(held) {
  state.turning = { held, revision: state.data && state.data.revision };
  if (!held)
    // What was refused brings no other draft.
    setTimeout(() => {
      if (!state.turning || state.turning.held) return;
      state.turning = null;
      drawAll();
    }, 4000);
}
