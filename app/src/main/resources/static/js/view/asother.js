// What another shot of the show has otherwise: as numbers side by side, and as a picture of this shot with them.
import { onLoad, say } from '../page/net.js';
import { shot, state } from '../page/state.js';

const MOST = 12;
const chosen = () => {
  const from = document.getElementById('from'),
    group = document.getElementById('group');
  return from && from.value ? `as=${from.value}&group=${encodeURIComponent(group.value)}` : null;
};
const shown = (v) => (Math.abs(v) >= 100 ? v.toFixed(0) : Number(v.toFixed(3)).toString());

/** Both numbers, those that differ. */
async function list() {
  const into = document.getElementById('as-differs'),
    which = chosen();
  if (!into || !which || !state.data || !state.data.plate) return;
  const answer = await fetch(`/shots/${shot}/comp/${state.frame}/as.json?${which}`);
  if (!answer.ok || which !== chosen()) return;
  const all = await answer.json();
  into.replaceChildren(
    ...(all.length
      ? all.slice(0, MOST).flatMap((d) => {
          const term = document.createElement('dt'),
            said = document.createElement('dd');
          term.textContent = `${d.heading}: ${d.label}`;
          said.textContent = `here ${shown(d.here)}, there ${shown(d.there)}`;
          return [term, said];
        })
      : [Object.assign(document.createElement('dd'), { textContent: 'nothing differs' })]),
  );
  if (all.length > MOST)
    into.append(Object.assign(document.createElement('dd'), { textContent: `and ${all.length - MOST} more` }));
}

/** @param picture in which it is compared */
export function asOther(picture) {
  onLoad(list);
  document.body.addEventListener('panel-exchanged', list);
  document.body.addEventListener('change', (e) => ['from', 'group'].includes(e.target.id) && list());
  document.body.addEventListener('click', (e) => {
    if (e.target.id !== 'as-compare') return;
    const from = document.getElementById('from'),
      name = from.selectedOptions[0].textContent;
    if (!state.data.rendered.includes(state.frame))
      say('This frame is not rendered yet, so there is nothing to compare.');
    else picture.compare.against(null, chosen(), `this shot, as in ${name}`);
  });
}
