// Deleting the chosen tracks, from every stage that shows them.
import { choose } from './choice.js';
import { post } from './net.js';
import { state } from './state.js';

async function deleteChosen(of) {
  if (!state.chosen.size) return;
  const ids = [...state.chosen].join(',');
  // What could not be deleted stays chosen.
  if (await post('edit', { action: 'delete', ids }, of)) choose([]);
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
