// Whether the light is being turned on the panel.
import { drawAll, state } from '../page/state.js';

/** Whether the light is being turned now, or was and the draft of it has not come yet. */
export function turning(held) {
  state.turning = { held, revision: state.data && state.data.revision };
  if (!held)
    // What was refused brings no other draft.
    setTimeout(() => {
      if (!state.turning || state.turning.held) return;
      state.turning = null;
      drawAll();
    }, 4000);
}
