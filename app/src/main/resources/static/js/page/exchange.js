// The panel is exchanged with every answer; what somebody is at stays as it is: what is typed, what is open, where it
// is scrolled to, and the press that is under way.

const panel = () => document.getElementById('bench');
/** How long a click may follow after a finger was lifted. */
const CLICK = 60;

/** What was typed into forms that are sent by their button, not at once: an exchange of the panel must not lose it. */
let typed = [];
let place = null;

function keep() {
  const fields =
    '#bench form:not([data-edit]) input[name]' +
    ['hidden', 'file', 'radio', 'checkbox'].map((t) => `:not([type=${t}])`).join('');
  typed = [...document.querySelectorAll(fields)]
    .filter((i) => i.value !== i.defaultValue)
    .map((i) => [address(i), i.value]);
  const now = document.activeElement;
  place = {
    // What somebody is typing into a form that is sent at once, and has not left yet.
    half: now.matches('#bench form[data-edit] input:is([type=text], :not([type]))') && now.value !== now.defaultValue,
    value: now.value,
    top: panel().scrollTop,
    open: [...panel().querySelectorAll('details')].filter((d) => d.open).map(address),
    at:
      panel().contains(document.activeElement) && document.activeElement.name ? address(document.activeElement) : null,
  };
}

/** Finds a part of the panel again after it was exchanged: by what it belongs to and its own name. */
function address(e) {
  const owner = e.closest('[data-performer], [data-piece], [data-mark], [id]:not(#bench)'),
    of = owner && owner !== e ? owner.dataset.performer || owner.dataset.piece || owner.dataset.mark || owner.id : '';
  const name = e.name || e.id || e.dataset.performer || e.dataset.piece || e.dataset.mark;
  const label = e.tagName === 'DETAILS' && !name ? e.querySelector('summary').textContent.trim() : name;
  return `${e.tagName} ${of} ${label}`;
}

function bringBack() {
  const byAddress = new Map(
    [...panel().querySelectorAll('input, select, textarea, details')].map((e) => [address(e), e]),
  );
  for (const [where, value] of typed) if (byAddress.get(where)) byAddress.get(where).value = value;
  typed = [];
  if (!place) return;
  for (const where of place.open) if (byAddress.get(where)) byAddress.get(where).open = true;
  const at = place.at && byAddress.get(place.at);
  if (at && document.activeElement === document.body) {
    at.focus({ preventScroll: true });
    if (place.half) goOn(at, place.value);
  }
  panel().scrollTop = place.top;
  place = null;
}

/** Lets somebody type on; a browser does not count as a change what it was not typed into itself. */
function goOn(field, value) {
  field.value = value;
  let sent = false;
  field.addEventListener('change', () => (sent = true), { once: true });
  field.addEventListener(
    'blur',
    () => !sent && field.value !== field.defaultValue && field.dispatchEvent(new Event('change', { bubbles: true })),
    { once: true },
  );
}

let down = false;
let waiting = [];

function lifted() {
  down = false;
  const all = waiting;
  waiting = [];
  setTimeout(() => all.forEach((done) => done()), CLICK);
}

/** When no button is held: a panel that is exchanged under a finger would swallow the press. */
function released() {
  return down ? new Promise((done) => waiting.push(done)) : Promise.resolve();
}

/** Puts the parts of an answer in their places. */
export async function exchange(text) {
  await released();
  keep();
  htmx.swap('#bench', text, { swapStyle: 'innerHTML' });
  bringBack();
  document.body.dispatchEvent(new Event('panel-exchanged'));
}

/**
 * What an answer triggers. An element that was exchanged while it was asking is heard by nobody, so the page says it.
 */
function trigger(header) {
  if (!header) return;
  const events = header.startsWith('{')
    ? Object.entries(JSON.parse(header))
    : header.split(',').map((name) => [name.trim(), null]);
  for (const [name, value] of events) document.body.dispatchEvent(new CustomEvent(name, { detail: { value } }));
}

/** Answers to the poll and to forms' buttons are put in place with the same care, also if who asked is gone by then. */
export function start() {
  document.addEventListener('pointerdown', () => (down = true), true);
  for (const name of ['pointerup', 'pointercancel']) document.addEventListener(name, lifted, true);
  // A button that was let go outside the window is heard of when the pointer is back.
  document.addEventListener('pointermove', (e) => down && e.buttons === 0 && lifted(), true);
  document.body.addEventListener('htmx:beforeSwap', (e) => {
    const { target, shouldSwap, requestConfig, serverResponse, xhr } = e.detail;
    if (!shouldSwap || !target || target.id !== 'bench' || xhr.getResponseHeader('HX-Reswap')) return;
    e.detail.shouldSwap = false;
    // The poll asks again; nothing is taken from under a finger.
    if (down && requestConfig.verb === 'get') return;
    exchange(serverResponse);
    if (!requestConfig.elt.isConnected) trigger(xhr.getResponseHeader('HX-Trigger'));
  });
}
