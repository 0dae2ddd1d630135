// What lies under the pointer: place in the plate, and the three codes of the picture that is shown there; where the
// stage says from where, the linear values behind them.

let probe = null;

/** One question at a time; the newest place is asked for last. */
let asking = false,
  next = null;

async function ask(url, place, out) {
  next = { url, place };
  if (asking) return;
  asking = true;
  while (next) {
    const now = next;
    next = null;
    try {
      const r = await fetch(now.url);
      if (r.ok && !next) out.textContent = `${now.place}: ${(await r.json()).map(said).join(' ')} linear`;
    } catch {
      // The server is away: the codes stay.
    }
  }
  asking = false;
}

const said = (v) => (v === null ? 'none' : Math.abs(v) >= 100 || Number.isInteger(v) ? Math.round(v) : v.toFixed(4));

export function readOut(picture, e) {
  const s = picture.s;
  if (!s.data || !s.data.plate) return;
  const q = picture.toPlate(e),
    p = s.data.plate,
    out = document.getElementById('read'),
    over = picture.plateOnly ? null : picture.over.shown,
    im = over && !over.part ? over.im : (over && over.whole) || picture.image(s.frame);
  if (q[0] < 0 || q[1] < 0 || q[0] >= p.width || q[1] >= p.height || !im) {
    out.textContent = '';
    return;
  }
  if (!probe) {
    const c = document.createElement('canvas');
    c.width = c.height = 1;
    probe = c.getContext('2d', { willReadFrequently: true });
  }
  const k = im.width / p.width;
  probe.drawImage(im, Math.floor(q[0] * k), Math.floor(q[1] * k), 1, 1, 0, 0, 1, 1);
  const [r, g, b] = probe.getImageData(0, 0, 1, 1).data;
  const place = `${Math.floor(q[0])}, ${Math.floor(q[1])}`;
  out.textContent = `${place}: ${r} ${g} ${b}`;
  const from = picture.plateOnly || !picture.stage.values ? null : picture.stage.values(picture);
  if (from) ask(`${from}&x=${q[0] / p.width}&y=${q[1] / p.height}`, place, out);
}
