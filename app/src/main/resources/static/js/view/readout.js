// What lies under the pointer: place in the plate, and the three codes of the picture that is shown there.

let probe = null;

export function readOut(picture, e) {
  const s = picture.s;
  if (!s.data || !s.data.plate) return;
  const q = picture.toPlate(e),
    p = s.data.plate,
    out = document.getElementById('read'),
    over = picture.plateOnly ? null : picture.over.shown,
    im = over && !over.part ? over.im : (over && over.whole) || picture.image(s.frame);
  if (q[0] < 0 || q[1] < 0 || q[0] >= p.width || q[1] >= p.height || !im || im.complete === false) {
    out.textContent = '';
    return;
  }
  if (!probe) {
    const c = document.createElement('canvas');
    c.width = c.height = 1;
    probe = c.getContext('2d', { willReadFrequently: true });
  }
  const k = (im.naturalWidth || im.width) / p.width;
  probe.drawImage(im, Math.floor(q[0] * k), Math.floor(q[1] * k), 1, 1, 0, 0, 1, 1);
  const [r, g, b] = probe.getImageData(0, 0, 1, 1).data;
  out.textContent = `${Math.floor(q[0])}, ${Math.floor(q[1])}: ${r} ${g} ${b}`;
}
