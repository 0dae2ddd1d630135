// Which frame is looked at, and playing.
import { state, shot, drawAll } from './state.js';

const listeners = [];

/** Calls `listen` when another frame is looked at, before it is drawn. */
export function onFrame(listen) {
  listeners.push(listen);
}

/** The frame that the address names, else where somebody looked last in this shot, else the first. */
export function remembered(plate) {
  const named = Number(location.hash.slice(1));
  if (location.hash.length > 1 && named >= plate.first && named <= plate.last) return named;
  const kept = Number(sessionStorage.getItem('frame ' + shot));
  return kept >= plate.first && kept <= plate.last ? kept : plate.first;
}

/** @param passing true when nobody asked to go there: it is not remembered as the place somebody looks at */
export function go(frame, passing = false) {
  const p = state.data && state.data.plate;
  if (!p) return;
  state.frame = Math.max(p.first, Math.min(p.last, frame));
  if (!passing) sessionStorage.setItem('frame ' + shot, state.frame);
  for (const listen of listeners) listen();
  drawAll();
}

/** How it is played: by what its rate is multiplied, and whether it turns back at the ends. */
const PACES = [
  { said: '1x', title: 'at its own rate', by: 1 },
  { said: '1/2', title: 'at half its rate', by: 0.5 },
  { said: '2x', title: 'at twice its rate', by: 2 },
  { said: '&#8646;', title: 'there and back', by: 1, back: true },
];

/** Frames that are asked for ahead of being played. */
const AHEAD = 240;

/** Which of the paces, and which frames alone. */
const loop = { pace: 0, range: null };

/** The frames that are played: those that were chosen on the ribbon, or all. */
export function range() {
  const p = state.data.plate,
    [a, b] = loop.range || [p.first, p.last];
  return a >= p.first && b <= p.last ? [a, b] : [p.first, p.last];
}

/** Plays these alone from now on; null for all. */
export function setRange(some) {
  loop.range = some && some[1] > some[0] ? some : null;
  sessionStorage.setItem('loop ' + shot, JSON.stringify(loop.range));
  drawAll();
}

loop.range = JSON.parse(sessionStorage.getItem('loop ' + shot) || 'null');

/** The next pace after this one. */
export function changePace(button) {
  loop.pace = (loop.pace + 1) % PACES.length;
  const { said, title } = PACES[loop.pace];
  button.innerHTML = said;
  button.title = `${title}: press for the next`;
  restart();
}

/** Which frame stands so many steps after another, on the way that is played; turn is -1 on the way back. */
export function after(frame, steps, [a, b], back) {
  const n = b - a + 1;
  if (!back || n < 2) return { frame: a + ((((frame - a + steps) % n) + n) % n), turn: 1 };
  // Ends are shown once on each way.
  const lap = 2 * n - 2,
    at = (((frame - a + steps) % lap) + lap) % lap;
  return at < n ? { frame: a + at, turn: 1 } : { frame: a + lap - at, turn: -1 };
}

let timer = null,
  started = 0,
  from = 0,
  turn = 1,
  shown = [];

function restart() {
  started = performance.now();
  from = state.frame;
  shown = [];
}

/** Where it stands on the way there and back, counted from its first frame. */
const place = (frame) => {
  const [a, b] = range();
  return PACES[loop.pace].back && turn < 0 ? 2 * (b - a) - (frame - a) + a : frame;
};

/** How many frames a second were shown, and whether that is fewer than there should be. */
function tell(now) {
  shown.push(now);
  while (shown[0] < now - 1000) shown.shift();
  const rate = state.data.plate.rate * PACES[loop.pace].by,
    is = shown.length > 2 ? ((shown.length - 1) * 1000) / (now - shown[0]) : 0,
    out = document.getElementById('rate');
  const short = is > 0 && is < 0.97 * rate;
  out.textContent = is ? (short ? `${is.toFixed(0)} of ${rate.toFixed(0)}` : `${rate.toFixed(0)}/s`) : '';
  out.classList.toggle('bad', short);
}

/** Plays or stops. @param frames tells which are there (ready), and brings them (fetchAhead, started, stopped) */
export function play(frames) {
  state.playing = !state.playing;
  document.getElementById('play').innerHTML = state.playing ? '&#10074;&#10074;' : '&#9654;';
  if (!state.playing) {
    cancelAnimationFrame(timer);
    document.getElementById('rate').textContent = '';
    frames.stopped();
    drawAll();
    return;
  }
  const [a, b] = range();
  if (state.frame < a || state.frame > b) go(a);
  turn = 1;
  frames.started();
  restart();
  const tick = (now) => {
    if (!state.playing) return;
    timer = requestAnimationFrame(tick);
    const r = range(),
      { by, back } = PACES[loop.pace],
      steps = Math.floor((Math.max(0, now - started) / 1000) * state.data.plate.rate * by);
    if (steps < 1) return;
    const first = place(from),
      want = after(first, steps, r, back),
      next = after(first, 1, r, back);
    // A frame that has not arrived yet is waited for rather than skipped: the rate may suffer, the motion does not lie.
    const to = frames.ready(want.frame) ? want : frames.ready(next.frame) ? next : null;
    frames.fetchAhead(
      Array.from({ length: Math.min(AHEAD, r[1] - r[0] + 1) }, (_, k) => after(first, steps + k, r, back).frame),
    );
    if (!to) {
      started = now - 1000 / (state.data.plate.rate * by);
      return;
    }
    turn = to.turn;
    from = to.frame;
    // Where it was late it goes on from now, else in step with the clock.
    const late = to !== want || steps > 1;
    started = late ? now : started + 1000 / (state.data.plate.rate * by);
    go(to.frame, true);
    tell(now);
  };
  timer = requestAnimationFrame(tick);
}

let kept = null;

/** Keeps the frame that is shown; from then on goes there and back between it and the one that was looked at. */
export function flipFrames() {
  const here = state.frame;
  if (kept === null || kept === here) kept = here;
  else {
    go(kept);
    kept = here;
  }
}
