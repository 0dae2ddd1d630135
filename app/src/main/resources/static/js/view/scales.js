// The scales that curves of one unit share, so that they can be compared.

const PAD = 0.1,
  LINE = 11;

/** The unit of a channel. */
export const kind = (c) =>
  c.startsWith('part') || ['heading', 'pitch', 'roll', 'steer', 'spin'].includes(c) ? 'deg' : c === 'clip' ? 's' : 'm';

/** All values by their unit. @param of the values of a channel */
export function together(channels, of) {
  const out = new Map();
  for (const c of channels) out.set(kind(c), [...(out.get(kind(c)) || []), ...of(c)]);
  return out;
}

/** From where to where a scale of such values runs. */
export function reach(v) {
  let lo = Math.min(...v),
    hi = Math.max(...v);
  if (hi - lo < 1e-6) {
    lo -= 0.5;
    hi += 0.5;
  }
  const pad = PAD * (hi - lo);
  return [lo - pad, hi + pad];
}

const said = (v) => v.toFixed(Math.abs(v) > 99 ? 0 : Math.abs(v) >= 10 ? 1 : 2);

/** Each scale's largest value at the top and its smallest at the bottom, in the colour of its curves. */
export function ends(curves, g, shown) {
  const rows = [...curves.scales].length;
  let row = 0;
  for (const [q, [a, b]] of curves.scales) {
    const pad = (PAD * (b - a)) / (1 + 2 * PAD),
      of = shown.filter((c) => kind(c) === q),
      unit = curves.speed ? q + '/s' : q;
    g.fillStyle = of.length === 1 ? curves.colour(of[0]) : '#b3b3b3';
    g.fillText(`${said(b - pad)} ${unit}`, 2, curves.y(of[0], b - pad) + 3 + LINE * row);
    g.fillText(`${said(a + pad)} ${unit}`, 2, curves.y(of[0], a + pad) + 3 - LINE * (rows - 1 - row));
    row++;
  }
}
