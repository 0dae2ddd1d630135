// Light: drafts of the frame that is looked at; its numbers can be keyed; shadows and ground are marked in the plate.
import { ballHand } from '../page/ballphoto.js';
import { keyedFrames, keyslides } from '../page/keyslides.js';
import { load as loadCast, stand } from '../page/cast.js';
import { onLoad } from '../page/net.js';
import { onDraw, state } from '../page/state.js';
import { lampFields } from '../page/lampfields.js';
import { ClueHand } from '../view/cluehand.js';
import { drawBlockers, drawLamps, drawPhotographed } from '../view/lamps.js';
import { turning } from '../view/turning.js';
import { MapLook } from '../view/maplook.js';
import { rendered } from '../view/rendered.js';

const moving = () => state.data && state.data.light;

export const view = {
  toggles: { grid: false, marks: true },
  over: () => 'draft',
  solid: async (canvas, s) => new (await import('../view/livelight.js')).LiveLight(canvas, s),
  live: turning,
  // Balls and lights alone are of drafts: a finished frame has neither.
  drafts: () => !!state.alone || ((state.data && state.data.clues && state.data.clues.stands) || []).length > 0,
  flips: true,
  sun: true,
  hand: (picture) => new ClueHand(picture),
  overlay: (marks, g, world, t) => {
    if (!t.marks) return;
    drawLamps(g, world);
    drawBlockers(g, world);
    drawPhotographed(g, world);
  },
  strip: rendered,
  keyed: () =>
    new Set([
      ...keyedFrames(moving()),
      ...((state.data && state.data.lamps) || []).flatMap((l) => [...keyedFrames(l.moving)]),
    ]),
};

/** Which light is looked at alone. */
function pressed() {
  for (const b of document.querySelectorAll('[data-alone]'))
    b.setAttribute('aria-pressed', b.dataset.alone === state.alone);
}

/** Sliders of map and sun: while one is dragged the picture follows at once. */
const SLIDES = '#turnDeg, #azimuthDeg, #elevationDeg, #angleDeg';

export function open({ picture }) {
  onLoad((before, now) => now.plate && loadCast(state));
  onDraw(() => stand(state));
  document.body.addEventListener('input', (e) => {
    if (!e.target.matches(SLIDES)) return;
    turning(true);
    picture.draw();
  });
  document.body.addEventListener('change', (e) => {
    if (state.turning && e.target.matches(SLIDES)) turning(false);
  });
  const look = new MapLook(picture);
  document.body.addEventListener('click', (e) => {
    const tool = e.target.closest('[data-hand]');
    const map = e.target.closest('[data-look]');
    if (map) look.open(map.dataset.look);
    if (tool && tool.dataset.of) picture.hand.place(tool.dataset.hand, tool.dataset.of);
    else if (tool) picture.hand.take(tool.dataset.hand);
    const alone = e.target.closest('[data-alone]');
    if (alone) {
      state.alone = state.alone === alone.dataset.alone ? '' : alone.dataset.alone;
      pressed();
      picture.frameChanged();
      picture.draw();
    }
  });
  document.body.addEventListener('panel-exchanged', pressed);
  keyslides(moving);
  lampFields();
  ballHand();
}
