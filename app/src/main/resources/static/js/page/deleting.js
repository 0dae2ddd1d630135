// Deleting the chosen tracks, from every stage that shows them.
import { post } from './net.js';
import { state } from './state.js';

function deleteChosen(of) {
  if (!state.chosen.size) return;
  const ids = [...state.chosen].join(',');
  state.chosen.clear();
  post('edit', { action: 'delete', ids }, of);
}

/** @param of the stage whose tracks they are */
export function deletes(of) {
  document.addEventListener('keydown', (e) => {
    if (e.key !== 'Delete' || e.defaultPrevented || e.ctrlKey || e.metaKey || e.altKey) return;
    if (e.target.matches('input:not([type=range]):not([type=checkbox]):not([type=radio]), textarea, select')) return;
    deleteChosen(of);
  });
  document.body.addEventListener('click', (e) => {
    if (e.target.closest('[data-delete-tracks]')) deleteChosen(of);
  });
}
