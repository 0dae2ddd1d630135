// Passes: drafts, finished frames, or one pass by itself; a strip of finished frames that grows as they are rendered.
import { onDraw, shot, state } from '../page/state.js';
import { go } from '../page/time.js';
import { rendered } from '../view/rendered.js';
import { Compare, rawButton } from '../view/compare.js';

/** Pictures in the strip. */
const MOST = 12;

/** Some of the rendered frames, spread over all. */
function spread(frames) {
  const n = Math.min(MOST, frames.length);
  return Array.from({ length: n }, (_, k) => frames[n === 1 ? 0 : Math.floor((k * (frames.length - 1)) / (n - 1))]);
}

function contact() {
  const group = document.getElementById('contact');
  if (!group || !state.data) return;
  const frames = spread(state.data.rendered),
    strip = group.querySelector('.contact'),
    said = `${state.data.revision} ${frames}`;
  group.hidden = frames.length === 0;
  if (strip.dataset.said === said) return;
  strip.dataset.said = said;
  strip.replaceChildren(
    ...frames.map((f) => {
      const a = document.createElement('a'),
        im = document.createElement('img'),
        n = document.createElement('span');
      a.href = '#';
      im.loading = 'lazy';
      im.alt = `frame ${f}`;
      im.src = `/shots/${shot}/thumb/${f}.jpg?rev=${state.data.revision}`;
      n.textContent = f;
      a.append(im, n);
      a.addEventListener('click', (e) => {
        e.preventDefault();
        go(f);
      });
      return a;
    }),
  );
}

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
  values: (picture) => {
    const pass = picture.pass || 'draft';
    return pass === 'draft' || !state.data.rendered.includes(state.frame)
      ? null
      : `/shots/${shot}/pass/${state.frame}/values?pass=${pass}&raw=${!!picture.raw}`;
  },
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
    rawButton(picture, look);
    picture.compare = new Compare(picture, look);
  },
};

export function open() {
  onDraw(contact);
  contact();
}
