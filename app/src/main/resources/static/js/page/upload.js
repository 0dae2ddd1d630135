// Sends a plate piece by piece, so that a broken connection costs one piece and the same file chosen again goes on
// where it stopped.
const PIECE = 8 << 20,
  TRIES = 8;

async function ask(path, query, body, token) {
  const answer = await fetch(`${path}?${new URLSearchParams(query)}`, {
    method: 'POST',
    body,
    headers: { 'X-CSRF-TOKEN': token, 'HX-Request': 'true' },
  });
  if (answer.ok) return answer.json();
  const e = new Error('refused');
  // A refusal with a sentence is final; anything else may be the connection.
  if (answer.status >= 400 && answer.status < 500) e.said = await answer.text();
  throw e;
}

const CRC = Array.from({ length: 256 }, (_, n) => {
  for (let k = 0; k < 8; k++) n = n & 1 ? 0xedb88320 ^ (n >>> 1) : n >>> 1;
  return n >>> 0;
});

async function crc(file) {
  let c = 0xffffffff;
  for (let at = 0; at < file.size; at += PIECE)
    for (const b of new Uint8Array(await file.slice(at, at + PIECE).arrayBuffer())) c = CRC[(c ^ b) & 255] ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}

/**
 * Many files as one: a zip without compression, put together from the files where they lie. It is read front to back,
 * so it needs no directory at its end.
 */
async function packed(files, show) {
  const parts = [];
  for (const [i, f] of files.entries()) {
    show(`getting frame ${i + 1} of ${files.length} ready`);
    const name = new TextEncoder().encode(f.name),
      head = new DataView(new ArrayBuffer(30));
    head.setUint32(0, 0x04034b50, true);
    head.setUint16(4, 20, true);
    head.setUint16(6, 0x800, true);
    head.setUint32(14, await crc(f), true);
    head.setUint32(18, f.size, true);
    head.setUint32(22, f.size, true);
    head.setUint16(26, name.length, true);
    parts.push(head, name, f);
  }
  const first = files[0].name,
    whole = new File(parts, `${first.replace(/[\d._ -]*\.[^.]*$/, '') || 'frames'}.zip`, {
      lastModified: Math.max(...files.map((f) => f.lastModified)),
    });
  return whole;
}

async function send(form, files) {
  const token = form.querySelector('[name=_csrf]').value;
  const bar =
    form.querySelector('.sent') ||
    form.appendChild(Object.assign(document.createElement('div'), { className: 'sent', ariaLive: 'polite' }));
  const button = form.querySelector('button:not([type=button])');
  button.disabled = true;
  const file =
      files.length === 1
        ? files[0]
        : await packed(files, (said) => {
            bar.textContent = said;
          }),
    about = { name: file.name, size: file.size, key: String(file.lastModified) },
    into = form.dataset.shot
      ? { shot: form.dataset.shot }
      : { show: form.elements.show.value, shotName: form.elements.name.value };
  bar.innerHTML = '<span class="bar"><i></i></span><span></span>';
  const show = (at, said) => {
    bar.querySelector('i').style.width = `${(100 * at) / file.size}%`;
    bar.lastElementChild.textContent =
      said || `${Math.round(at / 1048576)} of ${Math.max(1, Math.round(file.size / 1048576))} MB`;
  };
  try {
    let at = (await ask('/uploads/begin', { ...about, ...into }, null, token)).at,
      tries = 0;
    while (at < file.size) {
      show(at);
      try {
        at = (await ask('/uploads/piece', { ...about, at }, file.slice(at, at + PIECE), token)).at;
        tries = 0;
      } catch (e) {
        if (e.said || ++tries > TRIES) throw e;
        show(at, `the connection broke; trying again (${tries})`);
        await new Promise((r) => setTimeout(r, 500 * tries));
        at = (await ask('/uploads/begin', about, null, token).catch(() => ({ at }))).at;
      }
    }
    show(at, 'reading it');
    location.href = (await ask('/uploads/done', { ...about, ...into }, null, token)).go;
  } catch (e) {
    button.disabled = false;
    if (e.said) bar.innerHTML = e.said;
    else bar.textContent = 'The connection is gone. Choose the same file again later: it goes on where it stopped.';
  }
}

document.addEventListener('submit', (e) => {
  const form = e.target.closest('form[data-upload]'),
    files = form ? [...form.querySelector('input[type=file]').files] : [];
  if (!files.length) return;
  e.preventDefault();
  send(
    form,
    files.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true })),
  );
});
