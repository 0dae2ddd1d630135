/** The suns in the frame that is shown. */
export function sunsNow(state) {
  return (state.data.sunsByFrame || {})[state.frame] || state.data.suns || [];
}
