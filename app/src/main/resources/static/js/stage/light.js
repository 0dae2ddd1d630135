// Light: drafts of the frame that is looked at; its numbers can be keyed; shadows and ground are marked in the plate.
import { keyedFrames, keyslides } from '../page/keyslides.js';
import { state } from '../page/state.js';
import { lampFields } from '../page/lampfields.js';
import { ClueHand } from '../view/cluehand.js';
import { drawLamps } from '../view/lamps.js';
import { MapLook } from '../view/maplook.js';
import { rendered } from '../view/rendered.js';

const moving = () => state.data && state.data.light;

export const view = {
  toggles: { grid: false, marks: true },
  over: () => 'draft',
  flips: true,
  hand: (picture) => new ClueHand(picture),
  overlay: (marks, g, world, t) => t.marks && drawLamps(g, world),
  strip: rendered,
  keyed: () =>
    new Set([
      ...keyedFrames(moving()),
      ...((state.data && state.data.lamps) || []).flatMap((l) => [...keyedFrames(l.moving)]),
    ]),
};

export function open({ picture }) {
  const look = new MapLook(picture);
  document.body.addEventListener('click', (e) => {
    const b = e.target.closest('[data-aim]');
    if (b) picture.hand.aim(Number(b.dataset.aim));
    const tool = e.target.closest('[data-hand]');
    const map = e.target.closest('[data-look]');
    if (map) look.open(map.dataset.look);
    if (tool) picture.hand.take(tool.dataset.hand);
  });
  keyslides(moving);
  lampFields();
}
