// What is refused is said at the field it is about, where somebody is looking, until something else is typed there.

/** The form that was touched last: an answer belongs to it. */
let form = null;

function forget() {
  document.querySelectorAll('.refused').forEach((p) => p.remove());
  document.querySelectorAll('[aria-invalid]').forEach((f) => f.removeAttribute('aria-invalid'));
}

/** @param name of the field, null where it is about none; @param markup of the sentence */
export function refused(name, markup) {
  forget();
  const field = name && form && form.isConnected && form.elements[name];
  if (!(field instanceof Element)) return;
  field.setAttribute('aria-invalid', 'true');
  const p = document.createElement('div');
  p.className = 'refused';
  p.innerHTML = markup;
  // Under the row, not into it.
  (field.closest('.row2, .two, .three, .cols') || field.closest('.f') || field).after(p);
  field.scrollIntoView({ block: 'nearest' });
  field.addEventListener('input', forget, { once: true });
}

export function start() {
  for (const name of ['change', 'submit'])
    document.body.addEventListener(
      name,
      (e) => {
        form = e.target.closest('form');
        if (name === 'submit') forget();
      },
      true,
    );
  document.body.addEventListener('htmx:responseError', (e) =>
    refused(e.detail.xhr.getResponseHeader('X-Field'), e.detail.xhr.responseText),
  );
}
