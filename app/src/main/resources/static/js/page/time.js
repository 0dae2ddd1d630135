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

let timer = null,
  started = 0,
  from = 0;

/** Plays or stops. @param frames tells which are there (ready), and fetches them (fetchAhead, stopped) */
export function play(frames) {
  state.playing = !state.playing;
  document.getElementById('play').innerHTML = state.playing ? '&#10074;&#10074;' : '&#9654;';
  if (!state.playing) {
    cancelAnimationFrame(timer);
    frames.stopped();
    return;
  }
  started = performance.now();
  from = state.frame;
  const tick = (now) => {
    if (!state.playing) return;
    const p = state.data.plate,
      n = p.last - p.first + 1;
    const want = p.first + ((from - p.first + Math.floor((Math.max(0, now - started) / 1000) * p.rate)) % n);
    // A frame that has not arrived yet is waited for rather than skipped: the rate may suffer, the motion does not lie.
    if (want !== state.frame) {
      const next = state.frame + 1 > p.last ? p.first : state.frame + 1;
      if (frames.ready(want)) go(want);
      else if (frames.ready(next)) {
        go(next);
        started = now;
        from = next;
      } else {
        frames.fetchAhead(next);
        started = now;
        from = state.frame;
      }
    }
    timer = requestAnimationFrame(tick);
  };
  timer = requestAnimationFrame(tick);
}
