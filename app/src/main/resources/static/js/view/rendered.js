// Which frames are rendered, for the ribbon of every stage that shows them.
import { state } from '../page/state.js';

export function rendered() {
  const have = new Set(state.data.rendered),
    p = state.data.plate;
  return {
    label: `rendered frames: ${have.size} of ${p.last - p.first + 1}`,
    of: (f) => (have.has(f) ? [0.8, '#cfcfcf'] : [0.06, '#6a6a6a']),
  };
}
