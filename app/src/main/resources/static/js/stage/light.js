// Light: drafts of the frame that is looked at; its numbers can be keyed.
import { keyedFrames, keyslides } from '../page/keyslides.js';
import { state } from '../page/state.js';
import { rendered } from '../view/rendered.js';

const moving = () => state.data && state.data.light;

export const view = {
  toggles: { grid: false },
  over: () => 'draft',
  flips: true,
  strip: rendered,
  keyed: () => keyedFrames(moving()),
};

export function open() {
  keyslides(moving);
}
