// Light: drafts of the frame that is looked at; its numbers can be keyed; shadows and ground are marked in the plate.
import { keyedFrames, keyslides } from '../page/keyslides.js';
import { state } from '../page/state.js';
import { ClueHand } from '../view/cluehand.js';
import { rendered } from '../view/rendered.js';

const moving = () => state.data && state.data.light;

export const view = {
  toggles: { grid: false, marks: true },
  over: () => 'draft',
  flips: true,
  hand: (picture) => new ClueHand(picture),
  strip: rendered,
  keyed: () => keyedFrames(moving()),
};

export function open() {
  keyslides(moving);
}
