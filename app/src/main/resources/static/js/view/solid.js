// Performers in perspective through the solved camera, over the plate. The lens bends them in the vertex shader, by the
// same polynomial as the render, and where they are and what they do is what the render takes.
import * as THREE from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { clearly } from './glass.js';
import { drawAll } from '../page/state.js';
import { Cards } from './cards.js';
import { Bounded, pixels } from './bounded.js';
import { Hiding } from './hiding.js';
import { MapLight } from './maplight.js';
import { mapNow, sunsNow } from './suns.js';

const GROUND = 30,
  PARTS = 90,
  POSES = 12,
  MOST_KEPT = 300e6,
  HIGH = [-0.5, 0.75, 0.4],
  FAINT = 0.3;

/** The lens, as core's Lens bends (Brown 1966): y down as there. */
const BENT = `#include <project_vertex>
  {
    vec2 n = mvPosition.xy / -mvPosition.z;
    n.y = -n.y;
    float r2 = dot(n, n);
    vec2 t = vec2(
      2.0 * p1 * n.x * n.y + p2 * (r2 + 2.0 * n.x * n.x),
      p1 * (r2 + 2.0 * n.y * n.y) + 2.0 * p2 * n.x * n.y);
    vec4 q = mvPosition;
    q.xy *= 1.0 + r2 * (k1 + r2 * (k2 + r2 * k3));
    q.xy += vec2(t.x, -t.y) * -mvPosition.z;
    gl_Position = projectionMatrix * q;
  }`;

export class Solid {
  constructor(canvas, state) {
    this.s = state;
    this.canvas = canvas;
    this.renderer = new THREE.WebGLRenderer({ canvas, alpha: true, antialias: true, preserveDrawingBuffer: false });
    this.renderer.outputColorSpace = THREE.SRGBColorSpace;
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFSoftShadowMap;
    this.cards = new Cards(this);
    // Of a loop that is played: drawing them anew may take longer than a frame lasts without a graphics card.
    this.kept = new Bounded(MOST_KEPT, pixels);
    this.scene = new THREE.Scene();
    this.map = new MapLight(this.renderer, this.scene);
    this.sun = new THREE.DirectionalLight(0xffffff, 1);
    this.sun.castShadow = true;
    this.sun.shadow.mapSize.set(1024, 1024);
    this.scene.add(this.sun, this.sun.target);
    this.camera = new THREE.PerspectiveCamera();
    this.camera.matrixAutoUpdate = false;
    this.lens = Object.fromEntries(['k1', 'k2', 'k3', 'p1', 'p2'].map((k) => [k, { value: 0 }]));
    this.actors = new Map();
    /** Counts what has come in since: models, pictures, places of flocks. */
    this.fresh = 0;
    // A rough shadow on the ground, cut finely so that the lens bends it as it bends the rest.
    this.ground = new THREE.Mesh(
      new THREE.PlaneGeometry(GROUND, GROUND, PARTS, PARTS).rotateX(-Math.PI / 2),
      new THREE.ShadowMaterial({ opacity: 0.5, depthWrite: false }),
    );
    this.ground.renderOrder = -1;
    this.ground.receiveShadow = true;
    this.ground.frustumCulled = false;
    this.bend(this.ground.material, false);
    this.scene.add(this.ground);
    this.hiding = new Hiding(this);
    // The plate lies behind: the WebGL canvas stands over the 2D one but lets gestures through.
    canvas.style.zIndex = 1;
    canvas.style.pointerEvents = 'none';
  }

  /** @param performs whether the ground may hide it; null for what is no part of the picture */
  bend(material, performs) {
    material.onBeforeCompile = (shader) => {
      Object.assign(shader.uniforms, this.lens);
      shader.vertexShader =
        'uniform float k1, k2, k3, p1, p2;\n' + shader.vertexShader.replace('#include <project_vertex>', BENT);
      if (performs !== null) this.hiding.cut(shader, performs);
      if (performs) this.map.mirrored(shader);
    };
    material.needsUpdate = true;
  }

  async changed() {
    this.fresh++;
    this.map.of(this.s.data, () => this.fresh++);
    this.hiding.changed();
    const wanted = new Set();
    for (const p of this.s.data.performers || []) {
      wanted.add(p.id);
      let a = this.actors.get(p.id);
      const b = this.s.blocking && this.s.blocking.get(p.id);
      if (b && b.card) {
        this.cards.put(p, b);
        continue;
      }
      // A card of which nothing is known yet has no model to load.
      if (!p.model) continue;
      if (!a || a.model !== p.model) {
        if (a) {
          this.scene.remove(a.root);
          if (a.flock) this.scene.remove(a.flock);
        }
        a = { model: p.model, root: new THREE.Group(), mixer: null, playing: '', nodes: new Map(), own: [] };
        a.root.matrixAutoUpdate = false;
        this.actors.set(p.id, a);
        this.scene.add(a.root);
        const mine = a;
        // Every performer gets its own copy: skins cannot be shared between poses.
        new GLTFLoader().load(`/shelf/${p.model}.glb`, (gltf) => {
          gltf.scene.traverse((o) => {
            mine.nodes.set(o.name, o);
            if (!o.isMesh) return;
            o.frustumCulled = false;
            o.castShadow = true;
            o.material = o.material.clone();
            clearly(o.material);
            mine.own.push([o.material, o.material.clone()]);
            this.bend(o.material, true);
          });
          mine.root.add(gltf.scene);
          mine.mixer = new THREE.AnimationMixer(gltf.scene);
          mine.clips = gltf.animations;
          this.dress(mine, p.id);
          this.fresh++;
          drawAll();
        });
      } else this.dress(a, p.id);
    }
    for (const [id, a] of this.actors)
      if (!wanted.has(id)) {
        this.scene.remove(a.root);
        if (a.flock) this.scene.remove(a.flock);
        this.actors.delete(id);
      }
  }

  /** What was changed about its materials. */
  dress(a, id) {
    const b = this.s.blocking && this.s.blocking.get(id),
      looks = b && this.s.bare !== id ? b.looks : [];
    for (const [m, was] of a.own) {
      const l = looks.find((k) => k.material && k.material === was.name) || looks.find((k) => !k.material);
      m.color.copy(was.color);
      m.roughness = was.roughness;
      m.metalness = was.metalness;
      m.opacity = was.opacity;
      m.transparent = was.transparent;
      m.side = was.side;
      if (was.emissive) m.emissive.copy(was.emissive);
      if (!l) continue;
      if (l.colour) m.color.setRGB(...l.colour);
      if (l.tint) m.color.multiply(new THREE.Color().setRGB(...l.tint));
      if (l.brightness) m.color.multiplyScalar(l.brightness);
      if (l.roughness !== null) m.roughness = l.roughness;
      if (l.metallic !== null) m.metalness = l.metallic;
      if (l.emission && m.emissive) m.emissive.setRGB(...l.emission);
      if (l.opacity !== null && l.opacity < 1) {
        m.opacity = was.opacity * l.opacity;
        m.transparent = true;
      }
      if (l.twoSided !== null) m.side = l.twoSided ? THREE.DoubleSide : THREE.FrontSide;
    }
  }

  pose(a, p) {
    const b = this.s.blocking && this.s.blocking.get(p.id),
      i = this.s.frame - this.s.data.plate.first,
      m = b && b.frames[i];
    const many = !!(b && b.flock);
    a.root.visible = !!m && !many;
    if (a.flock) a.flock.visible = many;
    if (many) {
      if (a.mixer) this.copies(a, b);
      return;
    }
    if (!m) return;
    // While it is dragged it goes along before the answer comes.
    const d = p.held ? [0, 1, 2].map((k) => p.at[k] - m[15 + k]) : [0, 0, 0];
    a.root.matrix.set(
      m[0],
      m[1],
      m[2],
      m[3] + d[0],
      m[4],
      m[5],
      m[6],
      m[7] + d[1],
      m[8],
      m[9],
      m[10],
      m[11] + d[2],
      0,
      0,
      0,
      1,
    );
    a.root.matrixWorldNeedsUpdate = true;
    if (a.sheet) this.cards.paper(a, b);
    if (!a.mixer) return;
    for (const [o, q] of a.turned || []) o.quaternion.copy(q);
    const now = b.clip[i],
      before = m[14] < 1 ? b.before[i] : '',
      playing = before + '\n' + now;
    if (a.playing !== playing) {
      a.mixer.stopAllAction();
      a.playing = playing;
      const of = (name) => {
        const c = name && a.clips.find((k) => k.name === name),
          x = c ? a.mixer.clipAction(c, a.root.children[0]) : null;
        if (x) x.reset().play();
        return x;
      };
      a.before = of(before);
      // The same clip twice needs a second action: a copy of the clip.
      a.action =
        now && now === before
          ? a.mixer
              .clipAction(a.clips.find((k) => k.name === now).clone())
              .reset()
              .play()
          : of(now);
    }
    if (a.before) {
      a.before.time = m[13];
      a.before.setEffectiveWeight(1 - m[14]);
    }
    if (a.action) {
      a.action.time = m[12];
      a.action.setEffectiveWeight(m[14]);
    }
    a.mixer.update(0);
    a.turned = [];
    for (const [name, q] of Object.entries(b.turns[i])) {
      const o = a.nodes.get(THREE.PropertyBinding.sanitizeNodeName(name));
      if (!o) continue;
      a.turned.push([o, o.quaternion.clone()]);
      // A wheel's turn takes the place of its clip's.
      if (q.length > 4) o.quaternion.set(q[0], q[1], q[2], q[3]);
      else o.quaternion.multiply(new THREE.Quaternion(...q));
    }
  }

  /** A few poses of the clip, frozen once: each copy takes the nearest. */
  poses(a, b) {
    const name = b.clip[0] || '',
      key = name + a.model;
    if (a.frozen && a.frozen.key === key) return a.frozen;
    const clip = a.clips.find((k) => k.name === name),
      n = clip ? POSES : 1,
      out = { key, length: clip ? clip.duration : 0, sets: [] };
    a.mixer.stopAllAction();
    a.playing = '';
    const action = clip ? a.mixer.clipAction(clip).reset().play() : null,
      root = a.root.children[0],
      v = new THREE.Vector3();
    a.root.updateMatrixWorld(true);
    const back = new THREE.Matrix4().copy(a.root.matrixWorld).invert();
    for (let k = 0; k < n; k++) {
      if (action) {
        action.time = (k / n) * clip.duration;
        a.mixer.update(0);
      }
      a.root.updateMatrixWorld(true);
      const meshes = [];
      root.traverse((o) => {
        if (!o.isMesh) return;
        const g = o.geometry.clone(),
          p = g.attributes.position;
        if (o.isSkinnedMesh) o.skeleton.update();
        for (let i = 0; i < p.count; i++) {
          o.getVertexPosition(i, v);
          v.applyMatrix4(o.matrixWorld).applyMatrix4(back);
          p.setXYZ(i, v.x, v.y, v.z);
        }
        for (const q of ['skinIndex', 'skinWeight']) g.deleteAttribute(q);
        g.morphAttributes = {};
        g.computeVertexNormals();
        meshes.push([g, o.material]);
      });
      out.sets.push(meshes);
    }
    return (a.frozen = out);
  }

  copies(a, b) {
    const f = this.s.frame,
      rev = this.s.data.revision,
      key = `${rev} ${b.id} ${f}`;
    this.flocks = this.flocks || new Map();
    if (!this.flocks.has(key)) {
      this.flocks.set(key, null);
      if (this.flocks.size > 400) this.flocks.delete(this.flocks.keys().next().value);
      fetch(`/shots/${document.body.dataset.shot}/flock/${b.id}/${f}.bin?rev=${rev}`)
        .then((r) => (r.ok ? r.arrayBuffer() : null))
        .then((d) => {
          if (d) {
            this.flocks.set(key, new Float32Array(d));
            this.fresh++;
            drawAll();
          }
        });
    }
    const d = this.flocks.get(key);
    if (!d || a.placed === key) return;
    const set = this.poses(a, b),
      count = d.length / 14,
      by = set.sets.map(() => []);
    for (let i = 0; i < count; i++)
      by[set.length ? Math.floor((d[14 * i + 12] / set.length) * set.sets.length + 0.5) % set.sets.length : 0].push(i);
    a.placed = key;
    if (!a.flock || a.flock.userData.key !== set.key + count) {
      if (a.flock) this.scene.remove(a.flock);
      a.flock = new THREE.Group();
      a.flock.userData.key = set.key + count;
      a.flock.userData.of = set.sets.map((meshes) =>
        meshes.map(([g, m]) => {
          const q = new THREE.InstancedMesh(g, m, count);
          q.frustumCulled = false;
          q.castShadow = true;
          q.setColorAt(0, new THREE.Color(1, 1, 1));
          a.flock.add(q);
          return q;
        }),
      );
      this.scene.add(a.flock);
    }
    const m = new THREE.Matrix4(),
      colour = new THREE.Color();
    by.forEach((list, k) =>
      a.flock.userData.of[k].forEach((q) => {
        list.forEach((i, n) => {
          const o = 14 * i;
          m.set(
            d[o],
            d[o + 1],
            d[o + 2],
            d[o + 3],
            d[o + 4],
            d[o + 5],
            d[o + 6],
            d[o + 7],
            d[o + 8],
            d[o + 9],
            d[o + 10],
            d[o + 11],
            0,
            0,
            0,
            1,
          );
          q.setMatrixAt(n, m);
          q.setColorAt(n, colour.setScalar(d[o + 13]));
        });
        q.count = list.length;
        q.instanceMatrix.needsUpdate = true;
        if (q.instanceColor) q.instanceColor.needsUpdate = true;
      }),
    );
    this.spread = this.spread || new Map();
    let reach = 1;
    for (let i = 0; i < count; i++) reach = Math.max(reach, Math.hypot(d[14 * i + 3] - d[3], d[14 * i + 11] - d[11]));
    this.spread.set(b.id, reach);
  }

  /** @param g of the canvas below, which takes what is kept of a loop */
  draw(g, view, w, h, on) {
    if (!this.s.camera || !on || !this.s.data.performers.length) {
      this.canvas.style.visibility = 'hidden';
      this.drawn = '';
      return;
    }
    // Nothing is drawn twice: the picture asks for every movement of the pointer.
    const key = [
      this.s.data.revision,
      this.s.frame,
      w,
      h,
      view.scale,
      view.x,
      view.y,
      this.fresh,
      ...this.s.data.performers.filter((p) => p.held).flatMap((p) => p.at),
    ].join(' ');
    const kept = this.s.playing ? this.kept.get(key) : null;
    if (!this.s.playing && this.kept.bytes) this.kept.clear();
    this.canvas.style.visibility = kept ? 'hidden' : 'visible';
    if (kept) g.drawImage(kept, 0, 0, w, h);
    if (kept || key === this.drawn) return;
    this.drawn = key;
    const k = window.devicePixelRatio || 1;
    this.renderer.setPixelRatio(k);
    this.renderer.setSize(w, h, false);
    const c = this.s.camera,
      f = c.at(this.s.frame),
      m = f.m,
      s = view.scale,
      n = 0.05,
      far = 500;
    for (const k in this.lens) this.lens[k].value = c[k];
    // Plate pixels to clip space: see core/lens for the pixel convention.
    const A = (2 * (s * c.cx + view.x)) / w - 1,
      B = 1 - (2 * (s * c.cy + view.y)) / h;
    this.camera.projectionMatrix.set(
      (2 * s * f.focal) / w,
      0,
      -A,
      0,
      0,
      (2 * s * f.focal) / h,
      -B,
      0,
      0,
      0,
      (far + n) / (n - far),
      (2 * far * n) / (n - far),
      0,
      0,
      -1,
      0,
    );
    this.camera.projectionMatrixInverse.copy(this.camera.projectionMatrix).invert();
    this.camera.matrix.set(m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8], m[9], m[10], m[11], 0, 0, 0, 1);
    this.camera.matrixWorldNeedsUpdate = true;
    for (const p of this.s.data.performers) {
      const a = this.actors.get(p.id);
      if (a) this.pose(a, p);
    }
    this.hiding.frame();
    this.light();
    this.renderer.render(this.scene, this.camera);
    if (this.s.playing) createImageBitmap(this.canvas).then((im) => this.kept.put(key, im));
  }

  /** What lights this frame: the map's turn in degrees and level, and the sun, if any. */
  lit() {
    return { ...mapNow(this.s), sun: sunsNow(this.s)[0] };
  }

  /** The sun about the performers, so that the shadow's map is as fine as it can be. */
  light() {
    const all = this.s.data.performers,
      mid = [0, 1, 2].map((k) => all.reduce((v, p) => v + p.at[k] / all.length, 0));
    const reach = Math.min(
      25,
      Math.max(
        ...all.map(
          (p) =>
            Math.hypot(p.at[0] - mid[0], p.at[2] - mid[2]) +
            2 * p.heightMetres +
            ((this.spread && this.spread.get(p.id)) || 0),
        ),
      ),
    );
    const { turn, level, sun } = this.lit(),
      to = new THREE.Vector3(...(sun ? sun.towards : HIGH)).normalize();
    this.map.light(turn, level);
    // Without a sun it lights nothing, but a faint shadow still tells where things stand.
    const e = sun ? sun.irradiance : [0, 0, 0],
      direct = ((e[0] + e[1] + e[2]) / 3) * Math.max(0, to.y),
      part = sun ? direct / Math.max(1e-6, direct + level * this.map.up) : FAINT;
    this.sun.color.setRGB(...e);
    // Blended as it is shown, not in linear light.
    this.ground.material.opacity = 1 - Math.pow(1 - part, 1 / 2.2);
    // No further than shadows of what stands there reach: behind that the plate is no ground.
    const wide = Math.min(1, (2.6 * reach) / GROUND);
    this.ground.scale.set(wide, 1, wide);
    this.ground.position.set(mid[0], 0, mid[2]);
    this.sun.target.position.set(...mid);
    this.sun.position.set(...mid).addScaledVector(to, 3 * reach);
    Object.assign(this.sun.shadow.camera, {
      left: -reach,
      right: reach,
      top: reach,
      bottom: -reach,
      near: 0.1,
      far: 6 * reach,
    });
    this.sun.shadow.camera.updateProjectionMatrix();
  }
}
