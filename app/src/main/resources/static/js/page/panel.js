// The panel at the right: its fields are sent as they change, its files without leaving the page.
import { beside } from './keyslides.js';
import { post, upload } from './net.js';
import { state } from './state.js';

function changed(e) {
  // A taped distance brings its length with its name.
  if (e.target.dataset.fillsMetres !== undefined) {
    const o = [...e.target.list.options].find((k) => k.value === e.target.value);
    if (o) e.target.form.elements.metres.value = o.dataset.metres;
  }
  // A choice of standard values fills the field that is sent.
  if (e.target.dataset.fills && e.target.value) {
    const field = document.querySelector(`#bench [name="${e.target.dataset.fills}"]`);
    field.value = e.target.value;
    field.dispatchEvent(new Event('change', { bubbles: true }));
    return;
  }
  const form = e.target.closest('form[data-edit]');
  if (!form || !e.target.name) return;
  const fields = {};
  form.querySelectorAll('input[type=hidden]').forEach((h) => {
    if (h.name !== 'seen' && !h.name.endsWith('_')) fields[h.name] = h.value;
  });
  if (e.target.type === 'checkbox') fields[e.target.name + '_'] = 1;
  if (e.target.type !== 'checkbox' || e.target.checked) fields[e.target.name] = e.target.value;
  if (e.target.dataset.withFrame !== undefined) fields.frame = state.frame;
  post('edit', fields);
}

/** Enter in a field is no more than leaving it; files go without leaving the page. */
function submitted(e) {
  const form = e.target;
  if (form.matches('[data-upload]')) return;
  if (form.matches('[data-edit]') || (!form.getAttribute('action') && !form.hasAttribute('hx-post'))) {
    e.preventDefault();
    return;
  }
  if (form.method === 'post' && !form.hasAttribute('hx-post')) {
    e.preventDefault();
    upload(form);
  }
}

export function start() {
  document.body.addEventListener('change', changed);
  document.body.addEventListener('submit', submitted);
  document.body.addEventListener('input', (e) => {
    if (!e.target.matches('input[type=range]')) return;
    const o = e.target.parentElement.querySelector('output');
    if (o) o.textContent = beside(Number(e.target.value));
  });
}
