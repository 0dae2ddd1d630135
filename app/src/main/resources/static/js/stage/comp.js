// Comp: the finished frame; sliders stand as they are in the frame that is shown, and can be keyed there.
import { keyedFrames, keyslides } from '../page/keyslides.js';
import { shot, state } from '../page/state.js';
import { rendered } from '../view/rendered.js';
import { Wipe } from '../view/wipe.js';

const moving = () => state.data && state.data.comp;

export const view = {
  toggles: {},
  over: () => 'comp',
  flips: true,
  values: () =>
    state.data.rendered.includes(state.frame) ? `/shots/${shot}/pass/${state.frame}/values?pass=comp` : null,
  strip: rendered,
  tools: (picture, look) => {
    picture.wipe = new Wipe(picture, look);
  },
  keyed: () => keyedFrames(moving()),
};

export function open() {
  keyslides(moving);
}
