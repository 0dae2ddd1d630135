// The points of what is marked in the plate, to be taken hold of and moved.

/**
 * @param clues of the shot; a point that is moved is moved in them at once
 * @returns for each point of this frame where it is, what moves it, and the edit that keeps it
 */
export function handles(clues, frame) {
  const out = [];
  const point = (o, x, y, fields) =>
    out.push({
      at: [o[x], o[y]],
      to: (q) => {
        [o[x], o[y]] = q;
      },
      fields: () => ({ id: o.id, frame, ...fields() }),
    });
  const here = (list) => list.filter((k) => k.frame === frame);
  for (const s of here(clues.shadows))
    for (const part of ['foot', 'top', 'tip'])
      point(s, part + 'X', part + 'Y', () => ({
        action: 'shadow',
        footX: s.footX,
        footY: s.footY,
        topX: s.topX,
        topY: s.topY,
        tipX: s.tipX,
        tipY: s.tipY,
      }));
  for (const p of here(clues.patches))
    point(p, 'x', 'y', () => ({ action: 'patch', x: p.x, y: p.y, lit: p.lit ? 'yes' : 'no' }));
  for (const e of here(clues.edges))
    for (const end of ['from', 'to'])
      point(e, end + 'X', end + 'Y', () => ({ action: 'edge', x: e.fromX, y: e.fromY, toX: e.toX, toY: e.toY }));
  for (const p of here(clues.pairs))
    point(p, 'x', 'y', () => ({
      action: 'pair',
      x: p.x,
      y: p.y,
      azimuthDeg: p.azimuthDeg,
      elevationDeg: p.elevationDeg,
    }));
  for (const b of here(clues.greys)) {
    const fields = () => ({ action: 'grey', x: b.x, y: b.y, r: b.r });
    point(b, 'x', 'y', fields);
    out.push({
      at: [b.x + b.r, b.y],
      to: (q) => {
        b.r = Math.max(8, Math.hypot(q[0] - b.x, q[1] - b.y));
      },
      fields: () => ({ id: b.id, frame, ...fields() }),
    });
  }
  for (const k of here(clues.charts).filter((c) => c.of === 'plate'))
    for (let i = 0; i < 8; i += 2)
      out.push({
        at: k.corners.slice(i, i + 2),
        to: (q) => {
          [k.corners[i], k.corners[i + 1]] = q;
        },
        fields: () => ({ action: 'chart', frame, corners: k.corners.join(','), place: k.place }),
      });
  return out;
}

/** The one nearest to a place, or null when none is so near. */
export function nearest(list, q, within) {
  let best = null;
  for (const h of list) {
    const d = Math.hypot(h.at[0] - q[0], h.at[1] - q[1]);
    if (d < within) {
      within = d;
      best = h;
    }
  }
  return best;
}
