// Sends a plate piece by piece, so that a broken connection costs one piece and the same file chosen again goes on where it stopped.
const PIECE = 8 << 20, TRIES = 8;

async function ask(path, query, body, token) {
  const answer = await fetch(`${path}?${new URLSearchParams(query)}`, { method: 'POST', body, headers: { 'X-CSRF-TOKEN': token, 'HX-Request': 'true' } });
  if (answer.ok) return answer.json();
  const e = new Error('refused');
  // A refusal with a sentence is final; anything else may be the connection.
  if (answer.status >= 400 && answer.status < 500) e.said = await answer.text();
  throw e;
}

async function send(form, file) {
  const token = form.querySelector('[name=_csrf]').value, about = { name: file.name, size: file.size, key: String(file.lastModified) };
  const bar = form.querySelector('.sent') || form.appendChild(Object.assign(document.createElement('div'), { className: 'sent', ariaLive: 'polite' }));
  const button = form.querySelector('button:not([type=button])');
  button.disabled = true;
  bar.innerHTML = '<span class="bar"><i></i></span><span></span>';
  const show = (at, said) => { bar.querySelector('i').style.width = `${100 * at / file.size}%`; bar.lastElementChild.textContent = said || `${Math.round(at / 1048576)} of ${Math.max(1, Math.round(file.size / 1048576))} MB`; };
  try {
    let at = (await ask('/uploads/begin', about, null, token)).at, tries = 0;
    while (at < file.size) {
      show(at);
      try {
        at = (await ask('/uploads/piece', { ...about, at }, file.slice(at, at + PIECE), token)).at;
        tries = 0;
      } catch (e) {
        if (e.said || ++tries > TRIES) throw e;
        show(at, `the connection broke; trying again (${tries})`);
        await new Promise(r => setTimeout(r, 500 * tries));
        at = (await ask('/uploads/begin', about, null, token).catch(() => ({ at }))).at;
      }
    }
    show(at, 'reading it');
    const into = form.dataset.shot ? { shot: form.dataset.shot } : { show: form.elements.show.value, shotName: form.elements.name.value };
    location.href = (await ask('/uploads/done', { ...about, ...into }, null, token)).go;
  } catch (e) {
    button.disabled = false;
    if (e.said) bar.innerHTML = e.said; else bar.textContent = 'The connection is gone. Choose the same file again later: it goes on where it stopped.';
  }
}

document.addEventListener('submit', e => {
  const form = e.target.closest('form[data-upload]'), file = form && form.querySelector('input[type=file]').files[0];
  if (!file) return;
  e.preventDefault();
  send(form, file);
});
