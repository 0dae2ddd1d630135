// The solve from outside: the camera's path, where it is now and what it sees, and the points by their error. Drag turns it, a click chooses a point.
import * as THREE from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { errorColour } from './camera.js';
import { choose } from './shot.js';

const HAND = 0xd4e157, THING = 0xf0a35e, REACH_PX = 8;

export class Outside {
  constructor(canvas, state) {
    this.canvas = canvas; this.s = state;
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true });
    this.renderer.setClearColor(0x161616);
    this.scene = new THREE.Scene();
    this.view = new THREE.PerspectiveCamera(45, 2, 0.01, 5000);
    this.controls = new OrbitControls(this.view, canvas);
    this.controls.addEventListener('change', () => this.render());
    let at = null;
    canvas.addEventListener('pointerdown', e => { at = [e.clientX, e.clientY]; });
    canvas.addEventListener('pointerup', e => { if (at && Math.hypot(e.clientX - at[0], e.clientY - at[1]) < 4) this.pick(e); });
  }

  /** Builds the scene anew when the solve has changed. */
  build() {
    const d = this.s.data, c = this.s.camera, key = d.revision + ' ' + (d.points ? d.points.length : 0) + ' ' + d.tracksPrint + ' ' + (d.others || []).map(o => o.name).join() + (d.moved || []).length;
    if (this.key === key) return;
    this.key = key;
    this.scene.clear();
    const path = [...c.frames.values()].map(f => new THREE.Vector3(f.m[3], f.m[7], f.m[11]));
    this.scene.add(new THREE.Line(new THREE.BufferGeometry().setFromPoints(path), new THREE.LineBasicMaterial({ color: 0xececec })));
    // Kept solves beside the one that counts, and the ways of things that move.
    for (const o of d.others || []) this.scene.add(new THREE.Line(new THREE.BufferGeometry().setFromPoints(o.path.map(p => new THREE.Vector3(...p))), new THREE.LineBasicMaterial({ color: 0x7fb0d0 })));
    for (const o of d.moved || []) {
      this.scene.add(new THREE.Line(new THREE.BufferGeometry().setFromPoints(Object.values(o.frames).map(m => new THREE.Vector3(m[3], m[7], m[11]))), new THREE.LineBasicMaterial({ color: THING })));
    }
    this.things = (d.moved || []).map(o => {
      const p = new THREE.Points(new THREE.BufferGeometry().setFromPoints(o.points.map(k => new THREE.Vector3(k[1], k[2], k[3]))), new THREE.PointsMaterial({ size: 3, sizeAttenuation: false, color: THING }));
      p.matrixAutoUpdate = false;
      p.frustumCulled = false;
      this.scene.add(p);
      return { p, frames: o.frames };
    });
    const n = d.points.length, at = new Float32Array(3 * n), colour = new Float32Array(3 * n), k = new THREE.Color();
    d.points.forEach((p, i) => { at.set(p.slice(1, 4), 3 * i); k.set(errorColour(p[4])); colour.set([k.r, k.g, k.b], 3 * i); });
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(at, 3)); g.setAttribute('color', new THREE.BufferAttribute(colour, 3));
    this.scene.add(new THREE.Points(g, new THREE.PointsMaterial({ size: 2.5, sizeAttenuation: false, vertexColors: true })));
    this.chosen = new THREE.Points(new THREE.BufferGeometry(), new THREE.PointsMaterial({ size: 7, sizeAttenuation: false, color: HAND, depthTest: false }));
    this.chosen.frustumCulled = false;
    this.frustum = new THREE.LineSegments(new THREE.BufferGeometry(), new THREE.LineBasicMaterial({ color: HAND }));
    this.frustum.frustumCulled = false;
    const grid = new THREE.GridHelper(40, 40, 0x4a4a4a, 0x2b2b2b);
    this.scene.add(grid, this.chosen, this.frustum);
    const sorted = i => d.points.map(p => p[i]).sort((a, b) => a - b), q = (a, t) => a[Math.floor(t * (a.length - 1))] || 0;
    const xs = sorted(1), zs = sorted(3), mid = new THREE.Vector3((q(xs, 0.2) + q(xs, 0.8)) / 2, 0.5, (q(zs, 0.2) + q(zs, 0.9)) / 2), eye = path[Math.floor(path.length / 2)];
    if (!n) mid.set(eye.x, 0, eye.z - 4);
    mid.lerp(eye, 0.22).setY(0.5);
    const away = eye.clone().sub(mid).setY(0), far = Math.max(4, away.length());
    this.size = 0.12 * far;
    this.controls.target.copy(mid);
    // From behind and above the camera, a little to its side.
    this.view.position.copy(eye).add(away.normalize().multiplyScalar(0.5 * far)).add(new THREE.Vector3(0.35 * far, 0.6 * far, 0));
    this.controls.update();
  }

  draw() {
    if (!this.s.camera || !this.s.data.points) { this.canvas.style.visibility = 'hidden'; return; }
    this.canvas.style.visibility = 'visible';
    this.build();
    const c = this.s.camera, f = this.s.frame, p = this.s.data.plate, eye = new THREE.Vector3(...c.eye(f));
    const corner = (x, y) => eye.clone().add(new THREE.Vector3(...c.ray(f, x, y)).multiplyScalar(this.size));
    const q = [corner(0, 0), corner(p.width, 0), corner(p.width, p.height), corner(0, p.height)];
    this.frustum.geometry.setFromPoints([eye, q[0], eye, q[1], eye, q[2], eye, q[3], q[0], q[1], q[1], q[2], q[2], q[3], q[3], q[0]]);
    for (const o of this.things) {
      const m = o.frames[f];
      o.p.visible = !!m;
      if (m) o.p.matrix.set(...m, 0, 0, 0, 1);
    }
    this.chosen.geometry.setFromPoints(this.s.data.points.filter(k => this.s.chosen.has(k[0])).map(k => new THREE.Vector3(k[1], k[2], k[3])));
    this.render();
  }

  render() {
    const w = this.canvas.clientWidth, h = this.canvas.clientHeight;
    if (!w || !h) return;
    this.renderer.setPixelRatio(window.devicePixelRatio || 1);
    this.renderer.setSize(w, h, false);
    this.view.aspect = w / h;
    this.view.updateProjectionMatrix();
    this.renderer.render(this.scene, this.view);
  }

  pick(e) {
    const b = this.canvas.getBoundingClientRect(), v = new THREE.Vector3();
    let best = null, near = REACH_PX;
    for (const p of this.s.data.points || []) {
      v.set(p[1], p[2], p[3]).project(this.view);
      if (v.z > 1) continue;
      const d = Math.hypot((v.x + 1) / 2 * b.width - (e.clientX - b.left), (1 - v.y) / 2 * b.height - (e.clientY - b.top));
      if (d < near) { near = d; best = p[0]; }
    }
    choose(best === null ? [] : [best], e.shiftKey);
  }
}
