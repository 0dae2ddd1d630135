// Which frames are rendered, for the ribbon of every stage that shows them.
import { state } from '../page/state.js';

/** @param ready whether a frame was fetched already, and will play at its rate; none is told apart without it */
export function rendered(ready) {
  const have = new Set(state.data.rendered),
    p = state.data.plate,
    there = typeof ready === 'function' ? state.data.rendered.filter(ready) : [],
    said = there.length ? `, ${there.length} ready to play` : '',
    bright = new Set(there);
  return {
    label: `rendered frames: ${have.size} of ${p.last - p.first + 1}${said}`,
    of: (f) => (have.has(f) ? [0.8, there.length && !bright.has(f) ? '#8a8a8a' : '#cfcfcf'] : [0.06, '#6a6a6a']),
  };
}
