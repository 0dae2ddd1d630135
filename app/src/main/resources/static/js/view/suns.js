/** Unit, from degrees: azimuth 0 along -Z and 90 along +X, elevation above the horizon. */
export function direction(azimuth, elevation) {
  const a = (azimuth * Math.PI) / 180,
    e = (elevation * Math.PI) / 180;
  return [Math.cos(e) * Math.sin(a), Math.sin(e), -Math.cos(e) * Math.cos(a)];
}

/** The suns in the frame that is shown. */
export function sunsNow(state) {
  return (state.data.sunsByFrame || {})[state.frame] || state.data.suns || [];
}
