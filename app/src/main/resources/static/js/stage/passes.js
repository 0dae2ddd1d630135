// Passes: drafts, finished frames, or one pass by itself.
import { rendered } from '../view/rendered.js';

/** Where the passes of a single light stand in the list. */
function lightOf(sel, light) {
  const label = light.replace('_', ', ');
  let group = [...sel.children].find((g) => g.label === label && g.tagName === 'OPTGROUP');
  if (!group) {
    group = document.createElement('optgroup');
    group.label = label;
    sel.append(group);
  }
  return group;
}

export const view = {
  toggles: {},
  over: (picture) => picture.pass || 'draft',
  flips: true,
  strip: rendered,
  tools: (picture, look) => {
    const sel = document.createElement('select');
    sel.setAttribute('aria-label', 'what to show');
    const { passes } = document.querySelector('[data-passes]').dataset;
    for (const n of ['draft', 'comp', ...passes.split(' ')]) {
      const [pass, light] = n.split('.');
      (light ? lightOf(sel, light) : sel).append(new Option(pass, n));
    }
    sel.addEventListener('change', () => {
      picture.pass = sel.value;
      picture.frameChanged();
      picture.draw();
    });
    look.append(sel);
  },
};

export function open() {}
