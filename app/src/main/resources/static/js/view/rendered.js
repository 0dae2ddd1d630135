// Which frames are rendered, for the ribbon of every stage that shows them.
import { state } from '../page/state.js';

/**
 * @param ready whether a frame was fetched already, and will play at its rate; none is told apart without it
 * @param odd frames in which something is to be looked at, and what that is
 */
export function rendered(ready, odd = { frames: [], what: '' }) {
  const have = new Set(state.data.rendered),
    p = state.data.plate,
    there = typeof ready === 'function' ? state.data.rendered.filter(ready) : [],
    said = there.length ? `, ${there.length} ready to play` : '',
    bright = new Set(there),
    look = new Set(odd.frames),
    more = look.size ? `, ${look.size} ${odd.what}` : '';
  return {
    label: `rendered frames: ${have.size} of ${p.last - p.first + 1}${said}${more}`,
    of: (f) =>
      look.has(f)
        ? [1, '#f0379b']
        : have.has(f)
          ? [0.8, there.length && !bright.has(f) ? '#8a8a8a' : '#cfcfcf']
          : [0.06, '#6a6a6a'],
  };
}
