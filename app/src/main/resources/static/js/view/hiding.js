// What hides performers in the preview as it does in the render: set pieces, and the ground they are sunk in.
import * as THREE from 'three';

const MOST_OPEN = 40,
  /** Metres between corners: the lens bends only those. */
  FINE = 0.75,
  MOST_CUTS = 5,
  /** Metres below the ground from which on a piece is a thing of its own down there, as in core's SetPieces. */
  DEEP = 0.02,
  EVERYWHERE = 1e6;

/** As core's Beyond: ground lies between the eye and a place below it, unless it is open where the ray goes through. */
const SUNK = `
  uniform vec4 groundAt, catcherAt;
  uniform int holes, openings;
  uniform vec2 opened[${3 * MOST_OPEN}];
  varying vec3 inSet;
  bool inTriangle( vec2 p, vec2 a, vec2 b, vec2 c ) {
    float u = ( b.x - a.x ) * ( p.y - a.y ) - ( b.y - a.y ) * ( p.x - a.x ),
      v = ( c.x - b.x ) * ( p.y - b.y ) - ( c.y - b.y ) * ( p.x - b.x ),
      w = ( a.x - c.x ) * ( p.y - c.y ) - ( a.y - c.y ) * ( p.x - c.x );
    return ( u >= 0.0 && v >= 0.0 && w >= 0.0 ) || ( u <= 0.0 && v <= 0.0 && w <= 0.0 );
  }
  bool isOpen( vec2 p, int among ) {
    for ( int i = 0; i < among; i ++ )
      if ( inTriangle( p, opened[ 3 * i ], opened[ 3 * i + 1 ], opened[ 3 * i + 2 ] ) ) return true;
    return false;
  }
  bool within( vec2 p, vec4 r ) {
    return p.x >= r.x && p.y >= r.y && p.x <= r.z && p.y <= r.w;
  }
  bool sunk() {
    if ( cameraPosition.y <= 0.0 || inSet.y > -0.003 ) return false;
    vec2 p = mix( cameraPosition.xz, inSet.xz, cameraPosition.y / ( cameraPosition.y - inSet.y ) );
    if ( ! within( p, groundAt ) ) return false;
    return ! isOpen( p, within( p, catcherAt ) ? holes : openings );
  }
`;

const corner = (xyz, i) => [xyz[3 * i], xyz[3 * i + 1], xyz[3 * i + 2]];

/** Triangles of a piece cut until their sides are short. */
function fine(p) {
  let all = [];
  for (let t = 0; t < p.index.length; t += 3) all.push([0, 1, 2].map((k) => corner(p.xyz, p.index[t + k])));
  for (let n = 0; n < MOST_CUTS; n++) {
    const out = [];
    for (const [a, b, c] of all) {
      const long = (u, v) => Math.hypot(u[0] - v[0], u[1] - v[1], u[2] - v[2]);
      if (Math.max(long(a, b), long(b, c), long(c, a)) < FINE) {
        out.push([a, b, c]);
        continue;
      }
      const mid = (u, v) => [0, 1, 2].map((k) => (u[k] + v[k]) / 2),
        d = mid(a, b),
        e = mid(b, c),
        f = mid(c, a);
      out.push([a, d, f], [d, b, e], [f, e, c], [d, e, f]);
    }
    all = out;
  }
  return new Float32Array(all.flat(2));
}

/** A piece's triangles seen from above, flat. */
function outline(p) {
  const out = [];
  for (const i of p.index) out.push(new THREE.Vector2(p.xyz[3 * i], p.xyz[3 * i + 2]));
  return out;
}

/** The rectangle that a piece takes up, seen from above, as two triangles. */
function footprint(p) {
  const box = new THREE.Box2();
  for (let i = 0; i < p.xyz.length; i += 3) box.expandByPoint(new THREE.Vector2(p.xyz[i], p.xyz[i + 2]));
  const { min, max } = box,
    at = (x, z) => new THREE.Vector2(x, z);
  return [min, at(max.x, min.y), max, min, max, at(min.x, max.y)].map((q) => q.clone());
}

export class Hiding {
  /** @param solid in whose scene it hides */
  constructor(solid) {
    this.solid = solid;
    this.material = new THREE.MeshBasicMaterial({ colorWrite: false, side: THREE.DoubleSide });
    // What stands on a piece is not cut by it.
    Object.assign(this.material, { polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 4 });
    solid.bend(this.material, null);
    this.meshes = new Map();
    /** Pieces and their meshes. */
    this.shown = [];
    this.uniforms = {
      groundAt: { value: new THREE.Vector4() },
      catcherAt: { value: new THREE.Vector4() },
      holes: { value: 0 },
      openings: { value: 0 },
      opened: { value: Array.from({ length: 3 * MOST_OPEN }, () => new THREE.Vector2()) },
    };
  }

  /** Of performers, or of the ground's shadow, which holes have none of. @param shader before it is compiled */
  cut(shader, performs) {
    Object.assign(shader.uniforms, this.uniforms);
    shader.vertexShader = shader.vertexShader
      .replace('void main() {', 'varying vec3 inSet;\nvoid main() {')
      .replace(
        '#include <project_vertex>',
        '#include <project_vertex>\n  inSet = ( inverse( viewMatrix ) * mvPosition ).xyz;',
      );
    shader.fragmentShader = shader.fragmentShader.replace(
      'void main() {',
      `${SUNK}\nvoid main() {\n  if ( ${performs ? 'sunk()' : 'isOpen( inSet.xz, holes )'} ) discard;`,
    );
  }

  /** The set was fetched anew. */
  changed() {
    const { pieces = [], catcher } = this.solid.s.data,
      there = new Set();
    this.shown = [];
    for (const p of pieces) {
      if (!p.roles.includes('HIDE') || p.kind === 'HOLE' || !p.index.length) continue;
      const key = JSON.stringify([p.id, p.xyz]);
      there.add(key);
      if (this.meshes.has(key)) {
        this.shown.push([p, this.meshes.get(key)]);
        continue;
      }
      const g = new THREE.BufferGeometry();
      g.setAttribute('position', new THREE.BufferAttribute(fine(p), 3));
      const m = new THREE.Mesh(g, this.material);
      m.frustumCulled = false;
      m.matrixAutoUpdate = false;
      m.renderOrder = -2;
      this.meshes.set(key, m);
      this.shown.push([p, m]);
      this.solid.scene.add(m);
    }
    for (const [key, m] of this.meshes)
      if (!there.has(key)) {
        this.solid.scene.remove(m);
        m.geometry.dispose();
        this.meshes.delete(key);
      }
    this.open(pieces, catcher);
  }

  /** Where the ground is, and where it is open: at holes, and beyond the catcher at what stands deeper than it. */
  open(pieces, c) {
    const u = this.uniforms,
      level = c && !pieces.some((p) => p.kind === 'TERRAIN' && p.roles.includes('SHADOW'));
    if (!level) {
      u.groundAt.value.set(1, 1, -1, -1);
      return;
    }
    u.catcherAt.value.set(c.x - c.width / 2, c.z - c.depth / 2, c.x + c.width / 2, c.z + c.depth / 2);
    if (c.goesOn) u.groundAt.value.set(-EVERYWHERE, -EVERYWHERE, EVERYWHERE, EVERYWHERE);
    else u.groundAt.value.copy(u.catcherAt.value);
    const deep = (p) => p.kind !== 'HOLE' && p.roles.length && p.xyz.some((v, i) => i % 3 === 1 && v < -DEEP),
      holes = pieces.filter((p) => p.kind === 'HOLE').flatMap(outline),
      open = [...holes, ...pieces.filter(deep).flatMap(footprint)].slice(0, 3 * MOST_OPEN);
    u.holes.value = Math.min(holes.length, open.length) / 3;
    u.openings.value = open.length / 3;
    open.forEach((q, i) => u.opened.value[i].copy(q));
  }

  /** Pieces that move, where they are in the frame that is shown. */
  frame() {
    for (const [p, m] of this.shown) {
      const moves = Object.keys(p.carried).length,
        at = p.carried[this.solid.s.frame];
      m.visible = !moves || !!at;
      if (at) m.matrix.set(...at.slice(0, 12), 0, 0, 0, 1);
      m.matrixWorldNeedsUpdate = true;
    }
  }
}
