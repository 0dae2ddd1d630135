// Footage on cards, among the performers that are drawn in perspective.
import * as THREE from 'three';
import { drawAll } from '../page/state.js';
import { sunsNow } from './suns.js';

/** Light is added and covers nothing: alpha stays as it was, so that the plate below shows through. */
const ADDED = {
  blending: THREE.CustomBlending,
  blendSrc: THREE.SrcAlphaFactor,
  blendDst: THREE.OneFactor,
  blendSrcAlpha: THREE.ZeroFactor,
  blendDstAlpha: THREE.OneFactor,
};

/** Of what only casts a shadow, where its footage is not clear. */
const UNSEEN = { colorWrite: false, depthWrite: false, alphaTest: 0.3 };

export class Cards {
  /** @param solid whose scene they stand in */
  constructor(solid) {
    this.solid = solid;
  }

  /** Footage on a card: its shape here, what it shows from the server. */
  put(p, b) {
    const key = `card ${b.aspect} ${b.card.bendDeg} ${b.card.added} ${b.card.shadow}`;
    let a = this.solid.actors.get(p.id);
    if (a && a.model === key) return;
    if (a) this.solid.scene.remove(a.root);
    const n = b.card.bendDeg ? 24 : 1,
      g = new THREE.PlaneGeometry(b.aspect, 1, n, 1).translate(0, 0.5, 0),
      q = g.attributes.position,
      bend = (b.card.bendDeg * Math.PI) / 180;
    if (bend)
      for (let i = 0; i < q.count; i++) {
        const t = (bend * q.getX(i)) / b.aspect,
          r = b.aspect / bend;
        q.setXYZ(i, r * Math.sin(t), q.getY(i), r * (1 - Math.cos(t)));
      }
    const m = new THREE.MeshBasicMaterial({
      transparent: true,
      side: THREE.DoubleSide,
      depthWrite: !b.card.added,
      alphaTest: b.card.added ? 0 : 0.01,
    });
    if (b.card.added) Object.assign(m, ADDED);
    this.solid.bend(m, true);
    a = { model: key, root: new THREE.Group(), mixer: null, own: [], nodes: new Map(), sheet: new THREE.Mesh(g, m) };
    a.sheet.frustumCulled = false;
    a.root.matrixAutoUpdate = false;
    a.root.add(a.sheet);
    if (b.card.shadow && !b.card.added) {
      // What casts the shadow may be turned against what is seen.
      a.shade = new THREE.Mesh(g, new THREE.MeshBasicMaterial({ ...UNSEEN, side: THREE.DoubleSide }));
      a.shade.frustumCulled = false;
      a.shade.castShadow = true;
      a.root.add(a.shade);
    }
    this.solid.actors.set(p.id, a);
    this.solid.scene.add(a.root);
  }

  /** As core's Card turns it. */
  turn(a, b) {
    if (!a.shade) return;
    const sun = sunsNow(this.solid.s)[0],
      m = a.root.matrix.elements;
    let turn = (b.card.shadowTurnDeg * Math.PI) / 180;
    if (b.card.shadowToSun && sun) {
      const t = Math.atan2(sun.towards[0], sun.towards[2]) - Math.atan2(m[8], m[10]);
      turn += t - Math.PI * Math.round(t / Math.PI);
    }
    a.shade.rotation.y = turn;
  }

  /** The frame of the footage that belongs to this one. */
  paper(a, b) {
    const key = `${this.solid.s.data.revision} ${this.solid.s.frame}`;
    a.sheet.visible = b.card.seen;
    this.turn(a, b);
    if (a.paper === key) return;
    a.paper = key;
    new THREE.TextureLoader().load(
      `/shots/${document.body.dataset.shot}/card/${b.id}/${this.solid.s.frame}.png?rev=${this.solid.s.data.revision}`,
      (t) => {
        if (a.paper !== key) return;
        t.colorSpace = THREE.SRGBColorSpace;
        if (a.sheet.material.map) a.sheet.material.map.dispose();
        const had = !!a.sheet.material.map;
        a.sheet.material.map = t;
        if (!had) a.sheet.material.needsUpdate = true;
        if (a.shade) {
          a.shade.material.map = t;
          a.shade.material.needsUpdate = !had;
        }
        this.solid.fresh++;
        drawAll();
      },
    );
  }
}
