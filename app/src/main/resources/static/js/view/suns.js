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

/** The map's turn in degrees and its level in the frame that is shown. */
export function mapNow(state) {
  const d = state.data,
    at = (channel, rest) => {
      const m = d.light && d.light[channel];
      return m ? m.shown[state.frame - d.plate.first] : rest;
    };
  return { turn: at('turn', d.mapTurn || 0), level: at('level', d.mapLevel ?? 1) };
}
