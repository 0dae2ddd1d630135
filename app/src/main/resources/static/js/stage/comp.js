// Comp: the finished frame; sliders stand as they are in the frame that is shown, and can be keyed there.
import { keyedFrames, keyslides } from '../page/keyslides.js';
import { maskKeys, maskSteps } from '../page/maskkeys.js';
import { onLoad, post } from '../page/net.js';
import { drawAll, onDraw, shot, state } from '../page/state.js';
import { asOther } from '../view/asother.js';
import { Compare } from '../view/compare.js';
import { CompHand } from '../view/comphand.js';
import { rendered } from '../view/rendered.js';
import { Scopes } from '../view/scopes.js';
import { trying } from '../view/trying.js';

const moving = () => state.data && state.data.comp;

/**
 * As long as its button is held, by hand or by key, the frame is shown without what stands under a heading; with Shift,
 * what that changes.
 */
function without(picture) {
  const show = (key, alone) => {
    if ((picture.without || '') === key) return;
    picture.compare.influence = key && alone && picture.over.shown ? picture.over.shown.im : null;
    picture.without = key;
    picture.frameChanged();
    picture.draw();
  };
  const of = (e) => e.target.closest && e.target.closest('[data-without]');
  document.body.addEventListener('pointerdown', (e) => of(e) && show(of(e).dataset.without, e.shiftKey));
  for (const end of ['pointerup', 'pointercancel', 'blur']) window.addEventListener(end, () => show(''));
  document.body.addEventListener('keydown', (e) => {
    if (of(e) && (e.key === ' ' || e.key === 'Enter') && !e.repeat) show(of(e).dataset.without, e.shiftKey);
  });
  document.body.addEventListener('keyup', () => show(''));
}

/** What is to be said of the frame beside its picture: what was lost in it, and which headings do nothing there. */
let asked = '';
async function said() {
  if (!state.data || !state.data.plate || state.playing) return;
  const key = `${state.frame} ${state.data.revision}`;
  if (asked === key) return;
  asked = key;
  const answer = await fetch(`/shots/${shot}/comp/${state.frame}/said.json`);
  if (!answer.ok || asked !== key) return;
  const s = await answer.json(),
    lost = document.getElementById('lost');
  if (lost) {
    lost.textContent = s.lost.join(' ');
    lost.hidden = !s.lost.length;
  }
  for (const p of document.querySelectorAll('[data-idle]')) {
    p.textContent = s.idle[p.dataset.idle] || '';
    p.hidden = !p.textContent;
  }
}

let scopes = null,
  pops = [],
  popsOf = '',
  there = () => false;

/** Once for every state of what stands in front. */
async function askPops() {
  const fronts = JSON.stringify([state.data.fronts, state.data.masks]);
  if (fronts === popsOf) return;
  popsOf = fronts;
  const answer = state.data.fronts.length ? await fetch(`/shots/${shot}/comp/pops.json`) : null;
  if (fronts !== popsOf) return;
  pops = answer && answer.ok ? await answer.json() : [];
  drawAll();
}

export const view = {
  toggles: {},
  over: () => 'comp',
  flips: true,
  vivid: true,
  plain: true,
  hand: (picture) => new CompHand(picture),
  values: () =>
    state.data.rendered.includes(state.frame) ? `/shots/${shot}/pass/${state.frame}/values?pass=comp` : null,
  strip: () => rendered(there, { frames: pops, what: 'where what stands in front pops' }),
  tools: (picture, look) => {
    picture.compare = new Compare(picture, look, () => `of=${state.data.revision}`);
    picture.holding.choice(look, false);
    scopes = new Scopes(picture, look);
    there = (f) => picture.over.cache.has(picture.over.address(f, 'comp'));
    without(picture);
    trying(picture);
    asOther(picture);
  },
  keyed: () => new Set([...keyedFrames(moving()), ...maskKeys()]),
};

export function open({ picture }) {
  keyslides(moving);
  maskSteps();
  onDraw(said);
  onDraw(() => scopes.draw());
  onLoad(said);
  onLoad(askPops);
  document.body.addEventListener('panel-exchanged', () => {
    asked = '';
    said();
  });
  document.body.addEventListener('click', async (e) => {
    const pick = e.target.closest('[data-pick-front]');
    if (pick) picture.hand.pick('key', Number(pick.dataset.pickFront));
    const place = e.target.closest('[data-pick]');
    if (place) picture.hand.pick(place.dataset.pick);
    const version = e.target.closest('[data-compare]');
    if (version) picture.compare.against(null, `of=${version.dataset.compare}`, 'kept: ' + version.dataset.name);
    const b = e.target.closest('[data-match]');
    if (!b || b.disabled) return;
    const text = b.textContent;
    b.disabled = true;
    b.textContent = 'measuring…';
    await post('edit', { action: 'match', which: b.dataset.match, frame: state.frame });
    b.disabled = false;
    b.textContent = text;
  });
}
