// Presence: the finished frame that is measured; what was found is marked on the ribbon, and in the picture.
import { drawAll, state } from '../page/state.js';
import { go } from '../page/time.js';
import { rendered } from '../view/rendered.js';

const MARK = '#f0379b';
/** The key of the finding that is looked at; empty for all. */
let chosen = '';

const found = () => (state.data.found || []).filter((f) => !chosen || f.key === chosen);

/** Where a finding lies in the frame that is shown. */
class Places {
  constructor(picture) {
    this.p = picture;
  }

  buttons() {}

  down() {
    return false;
  }

  draw(g, at) {
    for (const f of found()) {
      if (!f.place || f.frame !== state.frame) continue;
      const c = at([f.place.x, f.place.y]),
        e = at([f.place.x + f.place.half, f.place.y]);
      if (!c || !e) continue;
      g.strokeStyle = MARK;
      g.lineWidth = 2;
      g.beginPath();
      g.arc(c[0], c[1], Math.max(12, e[0] - c[0]), 0, 7);
      g.stroke();
    }
  }
}

export const view = {
  toggles: {},
  over: () => 'comp',
  flips: true,
  hand: (picture) => new Places(picture),
  strip: () => {
    const frames = found().flatMap((f) => f.frames);
    return rendered(null, { frames, what: 'with findings' });
  },
};

export function open() {
  document.body.addEventListener('click', (e) => {
    const b = e.target.closest('[data-go]');
    if (!b) return;
    chosen = b.dataset.of;
    go(Number(b.dataset.go));
    drawAll();
  });
  // What mends it is a change of another stage: this page is shown anew.
  document.body.addEventListener('htmx:afterRequest', (e) => {
    if (e.target.closest && e.target.closest('[data-mends]') && e.detail.successful) location.reload();
  });
}
