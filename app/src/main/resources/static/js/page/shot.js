// The shot page: brings together what is looked at, the views that draw it, and the stage that is worked on.
import * as exchange from './exchange.js';
import * as net from './net.js';
import * as panel from './panel.js';
import * as refused from './refused.js';
import { pressed, showChoice } from './choice.js';
import { drawAll, onDraw, shot, stage, state } from './state.js';
import { changePace, flipFrames, go, onFrame, play, remembered } from './time.js';
import { Picture } from '../view/picture.js';
import { Plan } from '../view/plan.js';
import { Ribbon } from '../view/ribbon.js';

const STAGES = ['plate', 'tracks', 'camera', 'set', 'blocking', 'light', 'passes', 'comp', 'presence', 'output'];
/** Those that show tracks or points. */
const WITH_TRACKS = ['tracks', 'camera', 'set'];

let picture;

function step(by) {
  const to = STAGES[STAGES.indexOf(stage) + by];
  if (to) location.href = `/shots/${shot}/${to}`;
}

const KEYS = {
  ',': () => go(state.frame - 1),
  '.': () => go(state.frame + 1),
  Home: () => go(state.data.plate.first),
  End: () => go(state.data.plate.last),
  '[': () => step(-1),
  ']': () => step(1),
  f: () => picture.fit(),
  k: flipFrames,
  '\\': () => picture.flip(),
  o: () => hide(true),
  '?': () => document.getElementById('keys').showModal(),
};

function hide(on) {
  picture.hidden = on;
  picture.draw();
}

function keys(e) {
  if ((e.ctrlKey || e.metaKey) && e.key === 'Enter') {
    const main = document.querySelector('#bench .btn-main:not([disabled])');
    if (main) main.click();
    return;
  }
  if (e.target.matches('input:not([type=range]):not([type=checkbox]):not([type=radio]), textarea, select')) return;
  if (picture.hand && picture.hand.key && picture.hand.key(e)) {
    e.preventDefault();
    return;
  }
  if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z') {
    e.preventDefault();
    document.getElementById(e.shiftKey ? 'redo' : 'undo').click();
    return;
  }
  if (e.ctrlKey || e.metaKey || e.altKey || !state.data || !state.data.plate) return;
  if (e.key === ' ' && !e.target.matches('button, input, summary, a')) {
    e.preventDefault();
    play(picture);
    return;
  }
  const act = KEYS[e.key.length === 1 ? e.key.toLowerCase() : e.key];
  if (act) act();
}

/** The tracks, where a stage shows them and they are others than before. */
async function tracks(before, now) {
  if (!WITH_TRACKS.includes(stage) || !now.plate) return;
  if (!before || before.tracksPrint !== now.tracksPrint) {
    const rows = await (await fetch(`/shots/${shot}/tracks.json`)).json();
    state.tracks = rows.map((r) => ({ id: r[0], first: r[1], xy: r.slice(2), n: (r.length - 2) / 2 }));
  }
  gone(now);
}

/** What is no longer there is no longer chosen. */
function gone(now) {
  const there = new Set(
    [state.tracks, now.marks || [], now.picked || []]
      .flatMap((l) => l.map((k) => k.id))
      .concat((now.points || []).map((p) => p[0])),
  );
  for (const id of [...state.chosen]) if (!there.has(id)) state.chosen.delete(id);
}

function loaded(before, now) {
  const p = now.plate,
    fresh = !before || !before.plate;
  if (p && (fresh || state.frame < p.first || state.frame > p.last)) state.frame = remembered(p);
  if (now.trouble && p) net.say(`Set: ${now.trouble}.`);
  document.querySelectorAll('[data-rendered]').forEach((e) => {
    if (now.rendered) e.textContent = now.rendered.length;
  });
  document.querySelectorAll('[data-filtered]').forEach((e) => (e.textContent = now.filtered));
}

async function start() {
  const own = await import(`../stage/${stage}.js`);
  picture = new Picture(state, own.view);
  const ribbon = new Ribbon(state, own.view),
    svg = document.getElementById('plan'),
    plan = svg ? new Plan(svg, state, own.view) : null;
  onDraw(() => {
    document.getElementById('frameno').textContent = state.frame;
    if (own.beforeDrawing) own.beforeDrawing();
    picture.draw();
    ribbon.draw();
    if (plan) plan.draw();
    showChoice();
  });
  onFrame(() => picture.frameChanged());
  net.onLoad(loaded);
  net.onLoad(tracks);
  own.open({ picture });
  net.onLoad((before, now) => {
    picture.changed(!!(before && before.plate && now.plate && before.plate.print === now.plate.print));
  });
  document.addEventListener('keydown', keys);
  document.addEventListener('keyup', (e) => e.key.toLowerCase() === 'o' && hide(false));
  document.getElementById('play').addEventListener('click', () => state.data && state.data.plate && play(picture));
  document.getElementById('loop').addEventListener('click', () => KEYS.Home());
  document.getElementById('pace').addEventListener('click', (e) => changePace(e.currentTarget));
  document.body.addEventListener('click', pressed);
  document.body.addEventListener('panel-exchanged', showChoice);
  window.addEventListener('resize', drawAll);
  exchange.start();
  panel.start();
  refused.start();
  net.start();
}

start();
