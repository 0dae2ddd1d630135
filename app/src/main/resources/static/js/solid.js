// Performers in perspective through the solved camera, over the plate. The lens bends them in the vertex shader, by the same polynomial as the render.
import * as THREE from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { drawAll } from './shot.js';

export class Solid {
  constructor(canvas, state) {
    this.s = state;
    this.canvas = canvas;
    this.renderer = new THREE.WebGLRenderer({ canvas, alpha: true, antialias: true, preserveDrawingBuffer: false });
    this.renderer.outputColorSpace = THREE.SRGBColorSpace;
    this.scene = new THREE.Scene();
    this.sky = new THREE.HemisphereLight(0xdfe6ee, 0x6a655c, 1.8);
    this.sun = new THREE.DirectionalLight(0xfff2dd, 2.2);
    this.scene.add(this.sky, this.sun, this.sun.target);
    this.scene.environment = this.surroundings();
    this.scene.environmentIntensity = 1.5;
    this.camera = new THREE.PerspectiveCamera();
    this.camera.matrixAutoUpdate = false;
    this.lens = Object.fromEntries(['k1', 'k2', 'k3', 'p1', 'p2'].map(k => [k, { value: 0 }]));
    this.actors = new Map();
    // The plate lies behind: the WebGL canvas stands over the 2D one but lets gestures through.
    canvas.style.zIndex = 1; canvas.style.pointerEvents = 'none';
  }

  /** Bright sky over grey ground, so that metal has something to mirror. */
  surroundings() {
    const w = 64, h = 32, data = new Float32Array(w * h * 4);
    for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) { const up = (y / (h - 1) - 0.5) * 2, v = up > 0 ? 0.9 - 0.35 * up : 0.28, i = 4 * (y * w + x); data.set([v, v * 1.02, v * 1.06, 1], i); }
    const map = new THREE.DataTexture(data, w, h, THREE.RGBAFormat, THREE.FloatType);
    map.mapping = THREE.EquirectangularReflectionMapping;
    map.needsUpdate = true;
    const maker = new THREE.PMREMGenerator(this.renderer), made = maker.fromEquirectangular(map).texture;
    maker.dispose();
    return made;
  }

  bend(material) {
    material.onBeforeCompile = shader => {
      Object.assign(shader.uniforms, this.lens);
      shader.vertexShader = 'uniform float k1, k2, k3, p1, p2;\n' + shader.vertexShader.replace('#include <project_vertex>',
        '#include <project_vertex>\n { vec2 n = mvPosition.xy / -mvPosition.z; float r2 = dot(n, n); vec4 q = mvPosition; n.y = -n.y; vec2 t = vec2(2.0 * p1 * n.x * n.y + p2 * (r2 + 2.0 * n.x * n.x), p1 * (r2 + 2.0 * n.y * n.y) + 2.0 * p2 * n.x * n.y); q.xy *= 1.0 + r2 * (k1 + r2 * (k2 + r2 * k3)); q.xy += vec2(t.x, -t.y) * -mvPosition.z; gl_Position = projectionMatrix * q; }');
    };
    material.needsUpdate = true;
  }


  async changed() {
    const wanted = new Set();
    for (const p of this.s.data.performers || []) {
      wanted.add(p.id);
      let a = this.actors.get(p.id);
      if (!a || a.model !== p.model) {
        if (a) this.scene.remove(a.root);
        a = { model: p.model, root: new THREE.Group(), mixer: null, clips: [], clip: null };
        this.actors.set(p.id, a);
        this.scene.add(a.root);
        // Every performer gets its own copy: skins cannot be shared between poses.
        new GLTFLoader().load(`/shelf/${p.model}.glb`, gltf => {
          gltf.scene.traverse(o => { if (o.isMesh) { o.frustumCulled = false; this.bend(o.material); } });
          a.root.add(gltf.scene);
          a.mixer = new THREE.AnimationMixer(gltf.scene);
          a.clips = gltf.animations;
          drawAll();
        });
      }
    }
    for (const [id, a] of this.actors) if (!wanted.has(id)) { this.scene.remove(a.root); this.actors.delete(id); }
  }

  pose(a, p) {
    a.root.position.set(p.at[0], p.at[1] - p.lowest * p.scale, p.at[2]);
    a.root.rotation.set(0, p.headingDeg * Math.PI / 180, 0);
    a.root.scale.setScalar(p.scale);
    if (!a.mixer) return;
    if (a.clip !== p.clip.name) {
      a.mixer.stopAllAction();
      a.clip = p.clip.name;
      const c = a.clips.find(k => k.name === p.clip.name);
      a.action = c ? a.mixer.clipAction(c) : null;
      if (a.action) a.action.play();
    }
    if (!a.action) return;
    const length = a.action.getClip().duration, t = p.clip.start + (this.s.frame - this.s.camera.first) / this.s.data.plate.rate * p.clip.speed;
    a.action.time = p.clip.loop ? t - Math.floor(t / length) * length : Math.max(0, Math.min(length, t));
    a.mixer.update(0);
  }

  draw(view, w, h, on) {
    if (!this.s.camera || !on || !this.s.data.performers.length) { this.canvas.style.visibility = 'hidden'; return; }
    this.canvas.style.visibility = 'visible';
    const k = window.devicePixelRatio || 1;
    this.renderer.setPixelRatio(k);
    this.renderer.setSize(w, h, false);
    const c = this.s.camera, f = c.at(this.s.frame), m = f.m, s = view.scale, n = 0.05, far = 500;
    for (const k in this.lens) this.lens[k].value = c[k];
    // Plate pixels to clip space: see core/lens for the pixel convention.
    const A = 2 * (s * c.cx + view.x) / w - 1, B = 1 - 2 * (s * c.cy + view.y) / h;
    this.camera.projectionMatrix.set(2 * s * f.focal / w, 0, -A, 0, 0, 2 * s * f.focal / h, -B, 0, 0, 0, (far + n) / (n - far), 2 * far * n / (n - far), 0, 0, -1, 0);
    this.camera.projectionMatrixInverse.copy(this.camera.projectionMatrix).invert();
    this.camera.matrix.set(m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8], m[9], m[10], m[11], 0, 0, 0, 1);
    this.camera.matrixWorldNeedsUpdate = true;
    const sun = (this.s.data.suns || [])[0];
    if (sun) this.sun.position.set(...sun.towards).multiplyScalar(20); else this.sun.position.set(-8, 12, 6);
    for (const p of this.s.data.performers) { const a = this.actors.get(p.id); if (a) this.pose(a, p); }
    this.renderer.render(this.scene, this.camera);
  }
}
