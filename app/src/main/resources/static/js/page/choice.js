// What is chosen: tracks, points, pieces.
import { state, drawAll } from './state.js';

export const FIRST_BY_HAND = 1000000;

/** Whether a number is that of a mark put by hand. */
export const byHand = (id) => id >= FIRST_BY_HAND;

const listeners = [];

/** Calls `listen` when something else is chosen, before it is drawn. */
export function onChoice(listen) {
  listeners.push(listen);
}

export function choose(ids, add) {
  if (!add) state.chosen.clear();
  for (const id of ids)
    if (add && state.chosen.has(id)) state.chosen.delete(id);
    else state.chosen.add(id);
  for (const listen of listeners) listen();
  drawAll();
}

const named = (id) => {
  const m = ((state.data && state.data.marks) || []).find((k) => k.id === id);
  return m ? m.name : id;
};

/** The panel's buttons and fields that act on what is chosen, or on the frame that is shown. */
export function showChoice() {
  const ids = [...state.chosen],
    each = (selector, use) => document.querySelectorAll(selector).forEach(use);
  each('[data-ids]', (e) => (e.value = ids.join(',')));
  each('[data-frame-now]', (e) => (e.value = state.frame));
  each('[data-chosen]', (e) => {
    const few = ids.length < 5 ? ': ' + ids.map(named).join(', ') : '';
    e.textContent = ids.length ? `${ids.length} chosen${few}` : 'none chosen';
  });
  each('tr[data-track]', (r) => r.classList.toggle('sel', state.chosen.has(Number(r.dataset.track))));
  each('[data-delete-tracks], [data-cut], [data-group-add]', (b) => (b.disabled = !ids.length));
  each('[data-join]', (b) => (b.disabled = ids.length !== 2));
  each('[data-follow-all]', (b) => (b.hidden = !ids.some(byHand)));
  each('details[data-piece]', (d) => opened(d, state.piece === Number(d.dataset.piece)));
  each('details[data-mark]', (d) => opened(d, state.chosen.has(Number(d.dataset.mark))));
  each('[data-frame-link]', (a) => (a.href = `${a.dataset.href}${state.frame}.exr`));
}

function opened(details, mine) {
  if (mine) details.open = true;
  details.classList.toggle('sel', mine);
}

/** A press on the summary of what can be chosen: it opens; an open one is shut by a second press, and lets go. */
export function pressed(e) {
  const row = e.target.closest('tr[data-track]');
  if (row) choose([Number(row.dataset.track)], e.shiftKey);
  const group = e.target.closest('[data-choose]');
  if (group) choose(group.dataset.choose.split(',').map(Number), e.shiftKey);
  const line = e.target.closest('details[data-piece] > summary, details[data-mark] > summary');
  if (!line) return;
  const d = line.parentElement,
    shut = d.open && d.classList.contains('sel');
  e.preventDefault();
  d.open = !shut;
  if (d.dataset.piece) {
    state.piece = shut ? null : Number(d.dataset.piece);
    drawAll();
  } else choose(shut ? [] : [Number(d.dataset.mark)], false);
}
