// The solve from outside: the camera's path, where it is now and what it sees, and the points by their error. Drag
// turns it, a click chooses a point.
import * as THREE from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { errorColour } from '../base/camera.js';
import { choose } from '../page/choice.js';

const HAND = 0xd4e157,
  THING = 0xf0a35e,
  REACH_PX = 8;

/** The plate as the camera throws it onto what stands there; grey where it does not reach. */
const PROJECTED = {
  vertexShader:
    'varying vec3 at;' +
    'void main() { at = position; gl_Position = projectionMatrix * viewMatrix * vec4(position, 1.0); }',
  fragmentShader: `varying vec3 at;
    uniform sampler2D plate; uniform mat3 turn; uniform vec3 eye; uniform vec4 lens; uniform vec3 k;
    uniform vec2 p; uniform vec2 size; uniform float there;
    void main() {
      vec3 q = turn * (at - eye);
      vec4 none = vec4(0.16, 0.16, 0.16, 1.0);
      if (there < 0.5 || q.z > -1e-4) { gl_FragColor = none; return; }
      float u = q.x / -q.z, v = q.y / q.z, r2 = u * u + v * v, d = 1.0 + r2 * (k.x + r2 * (k.y + r2 * k.z));
      float x = u * d + 2.0 * p.x * u * v + p.y * (r2 + 2.0 * u * u);
      float y = v * d + p.x * (r2 + 2.0 * v * v) + 2.0 * p.y * u * v;
      vec2 px = vec2(lens.y + lens.x * x, lens.z + lens.x * y) / size;
      bool outside = r2 > 4.0 || px.x < 0.0 || px.y < 0.0 || px.x > 1.0 || px.y > 1.0;
      gl_FragColor = outside ? none : vec4(texture2D(plate, px).rgb, 1.0);
    }`,
};

export class Outside {
  /**
   * @param image the plate's picture of a frame where it has arrived, else null
   * @param built whether ground and set pieces are shown, with the plate on them
   */
  constructor(canvas, state, image, built) {
    this.built = built;
    this.canvas = canvas;
    this.s = state;
    this.image = image;
    this.texture = new THREE.Texture();
    // Bitmaps begin at their top.
    this.texture.flipY = false;
    this.texture.generateMipmaps = false;
    this.texture.minFilter = THREE.LinearFilter;
    this.material = new THREE.ShaderMaterial({
      ...PROJECTED,
      side: THREE.DoubleSide,
      uniforms: {
        plate: { value: this.texture },
        turn: { value: new THREE.Matrix3() },
        eye: { value: new THREE.Vector3() },
        lens: { value: new THREE.Vector4() },
        k: { value: new THREE.Vector3() },
        p: { value: new THREE.Vector2() },
        size: { value: new THREE.Vector2() },
        there: { value: 0 },
      },
    });
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true });
    this.renderer.setClearColor(0x161616);
    this.scene = new THREE.Scene();
    this.view = new THREE.PerspectiveCamera(45, 2, 0.01, 5000);
    this.controls = new OrbitControls(this.view, canvas);
    this.controls.addEventListener('change', () => this.render());
    let at = null;
    canvas.addEventListener('pointerdown', (e) => {
      at = [e.clientX, e.clientY];
    });
    canvas.addEventListener('pointerup', (e) => {
      if (at && Math.hypot(e.clientX - at[0], e.clientY - at[1]) < 4) this.pick(e);
    });
  }

  /** Builds the scene anew when the solve has changed. */
  build() {
    const d = this.s.data,
      c = this.s.camera,
      key =
        d.revision +
        ' ' +
        (d.points ? d.points.length : 0) +
        ' ' +
        d.tracksPrint +
        ' ' +
        (d.others || []).map((o) => o.name).join() +
        (d.moved || []).length +
        (d.pieces || []).map((p) => p.id + p.roles.join()).join();
    if (this.key === key) return;
    this.key = key;
    this.scene.clear();
    const path = [...c.frames.values()].map((f) => new THREE.Vector3(f.m[3], f.m[7], f.m[11]));
    this.scene.add(
      new THREE.Line(new THREE.BufferGeometry().setFromPoints(path), new THREE.LineBasicMaterial({ color: 0xececec })),
    );
    // Kept solves beside the one that counts, and the ways of things that move.
    for (const o of d.others || [])
      this.scene.add(
        new THREE.Line(
          new THREE.BufferGeometry().setFromPoints(o.path.map((p) => new THREE.Vector3(...p))),
          new THREE.LineBasicMaterial({ color: 0x7fb0d0 }),
        ),
      );
    for (const o of d.moved || []) {
      this.scene.add(
        new THREE.Line(
          new THREE.BufferGeometry().setFromPoints(
            Object.values(o.frames).map((m) => new THREE.Vector3(m[3], m[7], m[11])),
          ),
          new THREE.LineBasicMaterial({ color: THING }),
        ),
      );
    }
    this.things = (d.moved || []).map((o) => {
      const p = new THREE.Points(
        new THREE.BufferGeometry().setFromPoints(o.points.map((k) => new THREE.Vector3(k[1], k[2], k[3]))),
        new THREE.PointsMaterial({ size: 3, sizeAttenuation: false, color: THING }),
      );
      p.matrixAutoUpdate = false;
      p.frustumCulled = false;
      this.scene.add(p);
      return { p, frames: o.frames };
    });
    const n = d.points.length,
      at = new Float32Array(3 * n),
      colour = new Float32Array(3 * n),
      k = new THREE.Color();
    d.points.forEach((p, i) => {
      at.set(p.slice(1, 4), 3 * i);
      k.set(errorColour(p[4]));
      colour.set([k.r, k.g, k.b], 3 * i);
    });
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(at, 3));
    g.setAttribute('color', new THREE.BufferAttribute(colour, 3));
    this.scene.add(
      new THREE.Points(g, new THREE.PointsMaterial({ size: 2.5, sizeAttenuation: false, vertexColors: true })),
    );
    this.chosen = new THREE.Points(
      new THREE.BufferGeometry(),
      new THREE.PointsMaterial({ size: 7, sizeAttenuation: false, color: HAND, depthTest: false }),
    );
    this.chosen.frustumCulled = false;
    this.frustum = new THREE.LineSegments(new THREE.BufferGeometry(), new THREE.LineBasicMaterial({ color: HAND }));
    this.frustum.frustumCulled = false;
    this.pieces(d);
    const grid = new THREE.GridHelper(40, 40, 0x4a4a4a, 0x2b2b2b);
    this.scene.add(grid, this.chosen, this.frustum);
    const sorted = (i) => d.points.map((p) => p[i]).sort((a, b) => a - b),
      q = (a, t) => a[Math.floor(t * (a.length - 1))] || 0;
    const xs = sorted(1),
      zs = sorted(3),
      mid = new THREE.Vector3((q(xs, 0.2) + q(xs, 0.8)) / 2, 0.5, (q(zs, 0.2) + q(zs, 0.9)) / 2),
      eye = path[Math.floor(path.length / 2)];
    if (!n) mid.set(eye.x, 0, eye.z - 4);
    mid.lerp(eye, 0.22).setY(0.5);
    const away = eye.clone().sub(mid).setY(0),
      far = Math.max(4, away.length());
    this.size = 0.12 * far;
    this.controls.target.copy(mid);
    // From behind and above the camera, a little to its side.
    this.view.position
      .copy(eye)
      .add(away.normalize().multiplyScalar(0.5 * far))
      .add(new THREE.Vector3(0.35 * far, 0.6 * far, 0));
    this.controls.update();
  }

  /** Ground and set pieces, with the plate on them: what stretches is seen from here. */
  pieces(d) {
    if (!d.pieces || !this.built) return;
    const c = d.catcher,
      x0 = c.x - c.width / 2,
      x1 = c.x + c.width / 2,
      z0 = c.z - c.depth / 2,
      z1 = c.z + c.depth / 2,
      add = (xyz, index) => {
        const g = new THREE.BufferGeometry();
        g.setAttribute('position', new THREE.BufferAttribute(new Float32Array(xyz), 3));
        g.setIndex(index);
        const m = new THREE.Mesh(g, this.material);
        m.frustumCulled = false;
        this.scene.add(m);
      };
    if (!d.pieces.some((p) => p.kind === 'TERRAIN'))
      add([x0, -0.004, z0, x0, -0.004, z1, x1, -0.004, z1, x1, -0.004, z0], [0, 1, 2, 0, 2, 3]);
    for (const p of d.pieces) {
      if (p.index.length) add(p.xyz, p.index);
      const edges = new THREE.BufferGeometry();
      edges.setAttribute('position', new THREE.BufferAttribute(new Float32Array(p.edges.flat()), 3));
      this.scene.add(new THREE.LineSegments(edges, new THREE.LineBasicMaterial({ color: 0x8fa8b8 })));
    }
  }

  project(f) {
    const c = this.s.camera,
      u = this.material.uniforms,
      im = this.image && this.image(f),
      k = c.frames.get(f),
      p = this.s.data.plate;
    u.there.value = im && k ? 1 : 0;
    if (!im || !k) return;
    if (this.texture.image !== im) {
      this.texture.dispose();
      this.texture.image = im;
      this.texture.needsUpdate = true;
    }
    const m = k.m;
    // Rows of the pose's transpose: from the world to the camera.
    u.turn.value.set(m[0], m[4], m[8], m[1], m[5], m[9], m[2], m[6], m[10]);
    u.eye.value.set(m[3], m[7], m[11]);
    u.lens.value.set(k.focal, c.cx, c.cy, 0);
    u.k.value.set(c.k1, c.k2, c.k3);
    u.p.value.set(c.p1, c.p2);
    u.size.value.set(p.width, p.height);
  }

  draw() {
    if (!this.s.camera || !this.s.data.points) {
      this.canvas.style.visibility = 'hidden';
      return;
    }
    this.canvas.style.visibility = 'visible';
    this.build();
    if (this.built) this.project(this.s.frame);
    const c = this.s.camera,
      f = this.s.frame,
      p = this.s.data.plate,
      eye = new THREE.Vector3(...c.eye(f));
    const corner = (x, y) => eye.clone().add(new THREE.Vector3(...c.ray(f, x, y)).multiplyScalar(this.size));
    const q = [corner(0, 0), corner(p.width, 0), corner(p.width, p.height), corner(0, p.height)];
    this.frustum.geometry.setFromPoints([
      eye,
      q[0],
      eye,
      q[1],
      eye,
      q[2],
      eye,
      q[3],
      q[0],
      q[1],
      q[1],
      q[2],
      q[2],
      q[3],
      q[3],
      q[0],
    ]);
    for (const o of this.things) {
      const m = o.frames[f];
      o.p.visible = !!m;
      if (m) o.p.matrix.set(...m, 0, 0, 0, 1);
    }
    // Its buffer does not grow.
    this.chosen.geometry.dispose();
    this.chosen.geometry = new THREE.BufferGeometry().setFromPoints(
      this.s.data.points.filter((k) => this.s.chosen.has(k[0])).map((k) => new THREE.Vector3(k[1], k[2], k[3])),
    );
    this.render();
  }

  render() {
    const w = this.canvas.clientWidth,
      h = this.canvas.clientHeight;
    if (!w || !h) return;
    this.renderer.setPixelRatio(window.devicePixelRatio || 1);
    this.renderer.setSize(w, h, false);
    this.view.aspect = w / h;
    this.view.updateProjectionMatrix();
    this.renderer.render(this.scene, this.view);
  }

  pick(e) {
    const b = this.canvas.getBoundingClientRect(),
      v = new THREE.Vector3();
    let best = null,
      near = REACH_PX;
    for (const p of this.s.data.points || []) {
      v.set(p[1], p[2], p[3]).project(this.view);
      if (v.z > 1) continue;
      const d = Math.hypot(
        ((v.x + 1) / 2) * b.width - (e.clientX - b.left),
        ((1 - v.y) / 2) * b.height - (e.clientY - b.top),
      );
      if (d < near) {
        near = d;
        best = p[0];
      }
    }
    choose(best === null ? [] : [best], e.shiftKey);
  }
}
