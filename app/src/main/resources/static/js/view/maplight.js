// The shot's map as light of the preview: what stands in it is lit as the render lights it, and metal mirrors it.
import * as THREE from 'three';
import { drawAll } from '../page/state.js';

const W = 256,
  H = 128,
  RAD = Math.PI / 180;

/**
 * Whether this machine lights by maps: what draws without a graphics card does not, or not right, and takes seconds to
 * try. A browser that does not say what draws is taken to have a card.
 */
function lightsByMaps(renderer) {
  const gl = renderer.getContext(),
    told = gl.getExtension('WEBGL_debug_renderer_info'),
    by = told ? gl.getParameter(told.UNMASKED_RENDERER_WEBGL) : '';
  return !/swiftshader|llvmpipe|software|basic render/i.test(by);
}

/** The even sky over ground that lights a shot without a map, as core's LightRig has it. */
function even() {
  const m = new Float32Array(3 * W * H);
  for (let i = 0; i < m.length; i++) m[i] = i < m.length / 2 ? 0.32 : 0.1;
  return m;
}

/** First nine harmonics of a direction, in three.js's order (Ramamoorthi and Hanrahan 2001). */
const harmonics = ([x, y, z]) => [
  0.282095,
  0.488603 * y,
  0.488603 * z,
  0.488603 * x,
  1.092548 * x * y,
  1.092548 * y * z,
  0.315392 * (3 * z * z - 1),
  1.092548 * x * z,
  0.546274 * (x * x - y * y),
];

/**
 * Without maps the harmonics stand in for what is mirrored, too: far too soft for chrome, near enough for worn metal,
 * which would be black without.
 */
const MIRRORED = `
  #if defined( USE_LIGHT_PROBES ) && defined( RE_IndirectSpecular )
    radiance += max( vec3( 0.0 ),
      getLightProbeIrradiance( lightProbe, reflect( - geometryViewDir, geometryNormal ) ) * RECIPROCAL_PI );
  #endif
  #include <lights_fragment_end>`;

export class MapLight {
  constructor(renderer, scene) {
    this.renderer = renderer;
    this.scene = scene;
    this.maps = lightsByMaps(renderer);
    this.probe = new THREE.LightProbe();
    if (!this.maps) scene.add(this.probe);
    this.laid = '';
    this.take(even());
  }

  take(map) {
    this.map = map;
    this.up = this.upward();
    this.laid = '';
  }

  /**
   * @param data of the shot
   * @param fresh is called when its map has come
   */
  of(data, fresh) {
    const key = `${data.map || ''} ${data.sunApart}`;
    this.colour = data.mapColour || [1, 1, 1];
    if (this.key === key) return;
    this.key = key;
    if (!data.map) this.take(even());
    else
      fetch(`/shelf/${data.map}-soft.bin?sun=${!data.sunApart}`)
        .then((a) => (a.ok ? a.arrayBuffer() : null))
        .then((b) => {
          if (!b || this.key !== key) return;
          this.take(new Float32Array(b));
          fresh();
          drawAll();
        });
  }

  /** A material of what it lights. @param shader before it is compiled */
  mirrored(shader) {
    if (!this.maps) shader.fragmentShader = shader.fragmentShader.replace('#include <lights_fragment_end>', MIRRORED);
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

  /** Lights by the map. @param turn degrees; what was straight ahead goes to the right */
  light(turn, level) {
    const key = this.maps ? `${this.colour}` : `${turn} ${level} ${this.colour}`;
    if (this.laid !== key) {
      this.laid = key;
      if (this.maps) this.surround();
      else this.project(turn, level);
    }
    this.scene.environmentRotation.y = -turn * RAD;
    this.scene.environmentIntensity = level;
  }

  /** As three.js has it: the middle is +X and the first row the lowest. */
  surround() {
    const data = new Float32Array(4 * W * H);
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const from = 3 * (((x + W / 4) % W) + W * (H - 1 - y)),
          to = 4 * (y * W + x);
        for (let c = 0; c < 3; c++) data[to + c] = this.map[from + c] * this.colour[c];
        data[to + 3] = 1;
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

  /** Its harmonics, turned. */
  project(turn, level) {
    const c = this.probe.sh.coefficients,
      by = 4;
    for (const v of c) v.set(0, 0, 0);
    for (let y = by / 2; y < H; y += by)
      for (let x = by / 2; x < W; x += by) {
        const th = (y / H) * Math.PI,
          ph = (x / W - 0.5) * 2 * Math.PI + turn * RAD,
          d = [Math.sin(th) * Math.sin(ph), Math.cos(th), -Math.sin(th) * Math.cos(ph)],
          k = level * Math.sin(th) * ((by * Math.PI) / H) * ((by * 2 * Math.PI) / W),
          i = 3 * (y * W + x);
        harmonics(d).forEach((b, n) => {
          c[n].x += k * b * this.map[i] * this.colour[0];
          c[n].y += k * b * this.map[i + 1] * this.colour[1];
          c[n].z += k * b * this.map[i + 2] * this.colour[2];
        });
      }
  }
}
