// Performers over the frames, as the server worked them out: places for drawing, and the bench's numbers at the frame
// that is shown.
import { post } from './net.js';
import { drawAll, shot } from './state.js';

/** Fetches what all performers do and keeps it beside the shot's data. */
export async function load(state) {
  const answer = await fetch(`/shots/${shot}/blocking.json`);
  if (!answer.ok) {
    state.blocking = new Map();
    return;
  }
  state.blocking = new Map((await answer.json()).map((p) => [p.id, p]));
  stand(state);
}

/** Puts everybody where they are in the frame that is shown. */
export function stand(state) {
  if (!state.blocking || !state.data || !state.data.plate) return;
  for (const p of state.data.performers || []) {
    const b = state.blocking.get(p.id),
      m = b && b.frames[state.frame - state.data.plate.first];
    if (!m || p.held) continue;
    p.at = m.slice(15, 18);
    p.headingDeg = (Math.atan2(m[2], m[10]) * 180) / Math.PI;
  }
}

/** The performer whose curves are shown: the chosen one, or the only one. */
export function chosenOne(state) {
  const all = (state.data && state.data.performers) || [],
    id = state.performer || (all.length === 1 ? all[0].id : 0);
  return (state.blocking && state.blocking.get(id)) || null;
}

/** Fields and key buttons as they are in this frame. */
export function showFields(state) {
  if (!state.blocking || !state.data || !state.data.plate) return;
  for (const d of document.querySelectorAll('details[data-performer]')) {
    const id = Number(d.dataset.performer),
      b = state.blocking.get(id),
      i = state.frame - state.data.plate.first,
      mine = state.performer === id;
    d.classList.toggle('sel', mine);
    if (mine) d.open = true;
    if (!b) continue;
    for (const f of d.querySelectorAll('input[data-channel]')) {
      const v = b.sampled[f.dataset.channel];
      if (v && f !== document.activeElement) f.value = String(Math.round(v[i] * 1000) / 1000);
    }
    for (const k of d.querySelectorAll('button[data-key]')) {
      const c = b.curves[k.dataset.key],
        keyed = !!c && c.keys.length > 0,
        here = keyed && c.keys.some((q) => q.frame === state.frame);
      k.classList.toggle('keyed', keyed);
      k.classList.toggle('here', here);
      k.setAttribute('aria-pressed', here);
    }
    const t = d.querySelector('[data-slide]');
    if (t) {
      const s = b.slide.filter((v) => v !== null).sort((x, y) => x - y);
      t.textContent = s.length
        ? `What touches the ground slides by ${s[s.length >> 1].toFixed(1)} cm a frame (median), ` +
          `${s[s.length - 1].toFixed(1)} at most.`
        : '';
    }
  }
}

/** The model's own materials while a button is held. */
export function held(e, state, again) {
  const b = e.type === 'pointerdown' ? e.target.closest('[data-before]') : null;
  if (!b && !state.bare) return;
  state.bare = b ? Number(b.dataset.before) : null;
  again();
}

export function pressed(e, state) {
  const key = e.target.closest('button[data-key]'),
    d = e.target.closest('details[data-performer]');
  if (key) {
    state.performer = Number(d.dataset.performer);
    post('edit', { action: 'key', id: d.dataset.performer, channel: key.dataset.key, frame: state.frame });
    return;
  }
  const line = e.target.closest('details[data-performer] > summary');
  if (!line) return;
  const o = line.parentElement,
    shut = o.open;
  e.preventDefault();
  o.open = !shut;
  state.performer = shut ? null : Number(o.dataset.performer);
  drawAll();
}

/** A shelf picture turns under the pointer: its sides lie in a row. */
export function turned(e) {
  const t = e.target.closest('.turn');
  if (!t) return;
  const b = t.getBoundingClientRect(),
    k = Math.max(0, Math.min(7, Math.floor((8 * (e.clientX - b.left)) / b.width)));
  t.style.backgroundPosition = `${(100 * k) / 7}% 0`;
}

/** Where a performer's feet go over the shot, x and z. */
export function way(b) {
  return b.frames.filter((_, i) => i % 2 === 0).map((m) => [m[15], m[17]]);
}
