// Passes: drafts, finished frames, or one pass by itself.
import { rendered } from '../view/rendered.js';

export const view = {
  toggles: {},
  over: (picture) => picture.pass || 'draft',
  flips: true,
  strip: rendered,
  tools: (picture, look) => {
    const sel = document.createElement('select');
    sel.setAttribute('aria-label', 'what to show');
    const { passes } = document.querySelector('[data-passes]').dataset;
    for (const n of ['draft', 'comp', ...passes.split(' ')]) sel.add(new Option(n, n));
    sel.addEventListener('change', () => {
      picture.pass = sel.value;
      picture.frameChanged();
      picture.draw();
    });
    look.append(sel);
  },
};

export function open() {}
