// Comp: the finished frame; sliders stand as they are in the frame that is shown, and can be keyed there.
import { keyedFrames, keyslides } from '../page/keyslides.js';
import { post } from '../page/net.js';
import { shot, state } from '../page/state.js';
import { rendered } from '../view/rendered.js';
import { Wipe } from '../view/wipe.js';

const moving = () => state.data && state.data.comp;

/** As long as its button is held, by hand or by key, the frame is shown without what stands under a heading. */
function without(picture) {
  const show = (key) => {
    if ((picture.without || '') === key) return;
    picture.without = key;
    picture.frameChanged();
    picture.draw();
  };
  const of = (e) => e.target.closest && e.target.closest('[data-without]');
  document.body.addEventListener('pointerdown', (e) => of(e) && show(of(e).dataset.without));
  for (const end of ['pointerup', 'pointercancel', 'blur']) window.addEventListener(end, () => show(''));
  document.body.addEventListener('keydown', (e) => {
    if (of(e) && (e.key === ' ' || e.key === 'Enter') && !e.repeat) show(of(e).dataset.without);
  });
  document.body.addEventListener('keyup', () => show(''));
}

export const view = {
  toggles: {},
  over: () => 'comp',
  flips: true,
  values: () =>
    state.data.rendered.includes(state.frame) ? `/shots/${shot}/pass/${state.frame}/values?pass=comp` : null,
  strip: rendered,
  tools: (picture, look) => {
    picture.wipe = new Wipe(picture, look);
    without(picture);
  },
  keyed: () => keyedFrames(moving()),
};

export function open() {
  keyslides(moving);
  document.body.addEventListener('click', async (e) => {
    const b = e.target.closest('[data-match]');
    if (!b || b.disabled) return;
    const said = b.textContent;
    b.disabled = true;
    b.textContent = 'measuring…';
    await post('edit', { action: 'match', which: b.dataset.match, frame: state.frame });
    b.disabled = false;
    b.textContent = said;
  });
}
