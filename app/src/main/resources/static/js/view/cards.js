// Footage on cards, among the performers that are drawn in perspective.
import * as THREE from 'three';
import { drawAll } from '../page/state.js';
import { sunsNow } from './suns.js';

/** Squares over a card's height; alpha, of 255, from which on one casts shadow; a square's corners, two triangles. */
const CELLS = 64,
  COVERS = 100,
  SQUARE = [
    [0, 0],
    [0, 1],
    [1, 1],
    [0, 0],
    [1, 1],
    [1, 0],
  ];

/** Light is added and covers nothing: alpha stays as it was, so that the plate below shows through. */
const ADDED = {
  blending: THREE.CustomBlending,
  blendSrc: THREE.SrcAlphaFactor,
  blendDst: THREE.OneFactor,
  blendSrcAlpha: THREE.ZeroFactor,
  blendDstAlpha: THREE.OneFactor,
};

/** A place on a card that is curved about its upright. @param x to its side, of a card one high */
function bent(b, x, y) {
  const bend = (b.card.bendDeg * Math.PI) / 180;
  if (!bend) return [x, y, 0];
  const t = (bend * x) / b.aspect,
    r = b.aspect / bend;
  return [r * Math.sin(t), y, r * (1 - Math.cos(t))];
}

/** Small squares where the footage is not clear: they cast the shadow. */
function outline(b, image) {
  const h = CELLS,
    w = Math.max(1, Math.round(CELLS * b.aspect)),
    c = new OffscreenCanvas(w, h).getContext('2d'),
    at = [],
    corner = (x, y) => at.push(...bent(b, (x / w - 0.5) * b.aspect, 1 - y / h));
  c.drawImage(image, 0, 0, w, h);
  const alpha = c.getImageData(0, 0, w, h).data;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      if (alpha[4 * (y * w + x) + 3] < COVERS) continue;
      for (const [i, j] of SQUARE) corner(x + i, y + j);
    }
  const g = new THREE.BufferGeometry();
  g.setAttribute('position', new THREE.BufferAttribute(new Float32Array(at), 3));
  return g;
}

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
    const g = new THREE.PlaneGeometry(b.aspect, 1, b.card.bendDeg ? 24 : 1, 1).translate(0, 0.5, 0),
      q = g.attributes.position;
    for (let i = 0; i < q.count; i++) q.setXYZ(i, ...bent(b, q.getX(i), q.getY(i)));
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
      a.shade = new THREE.Mesh(
        new THREE.BufferGeometry(),
        new THREE.MeshBasicMaterial({ colorWrite: false, depthWrite: false, side: THREE.DoubleSide }),
      );
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
          a.shade.geometry.dispose();
          a.shade.geometry = outline(b, t.image);
        }
        this.solid.fresh++;
        drawAll();
      },
    );
  }
}
