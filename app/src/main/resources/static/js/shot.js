// The shot page: holds what is looked at (frame, zoom, choice) and lets picture, ribbon and plan draw it.
import { Camera } from './camera.js';
import { Picture } from './picture.js';
import { Ribbon } from './ribbon.js';
import { Plan } from './plan.js';
import { Graph } from './graph.js';
import { Outside } from './outside.js';
import { List } from './list.js';
import { Curves } from './curves.js';
import * as blocking from './blocking.js';

const body = document.body;
export const shot = body.dataset.shot, stage = body.dataset.stage;
const state = { stage, frame: 1, playing: false, chosen: new Set(), data: null, camera: null, tracks: [], performer: null };
let picture, ribbon, plan, graph, list, outside, curves;

// Changes of fields, one after the other: a second change made while the first is on its way is neither lost nor in conflict.
const waiting = [];
let sending = false;

function changed(e) {
  // A taped distance brings its length with its name.
  if (e.target.dataset.fillsMetres !== undefined) {
    const o = [...e.target.list.options].find(k => k.value === e.target.value);
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
  form.querySelectorAll('input[type=hidden]').forEach(h => { if (h.name !== 'seen' && !h.name.endsWith('_')) fields[h.name] = h.value; });
  if (e.target.type === 'checkbox') fields[e.target.name + '_'] = 1;
  if (e.target.type !== 'checkbox' || e.target.checked) fields[e.target.name] = e.target.value;
  if (e.target.dataset.withFrame !== undefined) fields.frame = state.frame;
  waiting.push(fields);
  send();
}

let sent = Promise.resolve();

function send() { if (!sending) sent = sendAll(); }

async function sendAll() {
  sending = true;
  if (!state.data) await load();
  while (waiting.length) await post('edit', { ...waiting.shift(), seen: state.data.revision });
  sending = false;
}

/** A button acts on what was changed before it: its request waits until the changes have arrived. */
function afterChanges(e) {
  if (!sending || e.detail.verb === 'get') return;
  e.preventDefault();
  sent.then(() => e.detail.issueRequest(true));
}

/** What was typed into forms that are sent by their button, not at once: an exchange of the bench must not lose it. */
let typed = [];
function keepTyped() {
  typed = [...document.querySelectorAll('#bench form:not([data-edit]) input[name]:not([type=hidden]):not([type=file]):not([type=radio])')].filter(i => i.value !== i.defaultValue).map(i => [i.name, i.value]);
}

function bringBackTyped() {
  for (const [name, value] of typed) { const i = document.querySelector(`#bench form:not([data-edit]) input[name="${name}"]`); if (i) i.value = value; }
  typed = [];
}

/** Puts the answer's parts in place; what somebody is at keeps the focus. */
function exchange(text) {
  const at = document.activeElement, form = at && at.closest('#bench form'), mine = form && at.name ? `#bench form${form.dataset.performer ? `[data-performer="${form.dataset.performer}"]` : ''} [name="${at.name}"]` : null;
  keepTyped();
  htmx.swap('#bench', text, { swapStyle: 'innerHTML' });
  bringBackTyped();
  const again = mine && document.querySelector(mine);
  if (again) again.focus();
}

export async function post(path, fields) {
  // What this page did just before may still be on its way back: the change belongs after it.
  await loading;
  if ('seen' in fields) fields.seen = state.data.revision;
  const form = new URLSearchParams(fields);
  const answer = await fetch(`/shots/${shot}/${stage}/${path}`, { method: 'POST', body: form, headers: { 'X-CSRF-TOKEN': body.dataset.csrf, 'HX-Request': 'true' } });
  const text = await answer.text();
  if (!answer.ok) { document.getElementById('say').innerHTML = text; await load(); return; }
  if (!waiting.length) exchange(text);
  await load();
}

let loading = Promise.resolve();
function load() { loading = reload(); return loading; }

async function reload() {
  const d = await (await fetch(`/shots/${shot}/data.json`)).json();
  const fresh = !state.data || !state.data.plate;
  const before = state.data;
  state.data = d;
  state.camera = d.camera ? new Camera(d.camera) : null;
  if (d.plate && (fresh || state.frame < d.plate.first || state.frame > d.plate.last)) state.frame = remembered(d.plate);
  if (['tracks', 'camera', 'set'].includes(stage) && d.plate && (!before || before.tracksPrint !== d.tracksPrint)) {
    const rows = await (await fetch(`/shots/${shot}/tracks.json`)).json();
    state.tracks = rows.map(r => ({ id: r[0], first: r[1], xy: r.slice(2), n: (r.length - 2) / 2 }));
  }
  if (stage === 'tracks' && state.chosen.size === 1 && state.tracks.some(k => state.chosen.has(k.id))) fetchMatch([...state.chosen][0]);
  if (d.trouble && d.plate) {
    const p = document.createElement('p');
    p.textContent = 'Set: ' + d.trouble + '.';
    document.getElementById('say').replaceChildren(p);
  }
  if (stage === 'blocking' && d.plate) await blocking.load(state);
  document.querySelectorAll('[data-rendered]').forEach(e => { if (d.rendered) e.textContent = d.rendered.length; });
  if (list) list.load();
  picture.changed(before && before.plate && d.plate && before.plate.print === d.plate.print);
  drawAll();
}

function remembered(plate) {
  const kept = Number(sessionStorage.getItem('frame ' + shot));
  return kept >= plate.first && kept <= plate.last ? kept : plate.first;
}

/** @param passing true when nobody asked to go there: it is not remembered as the place somebody looks at */
export function go(frame, passing = false) {
  const p = state.data && state.data.plate;
  if (!p) return;
  state.frame = Math.max(p.first, Math.min(p.last, frame));
  if (!passing) sessionStorage.setItem('frame ' + shot, state.frame);
  picture.frameChanged();
  drawAll();
}

export function drawAll() {
  document.getElementById('frameno').textContent = state.frame;
  if (stage === 'blocking') { blocking.stand(state); blocking.showFields(state); }
  picture.draw();
  ribbon.draw();
  if (plan) plan.draw();
  if (outside && state.data && !state.playing) outside.draw();
  if (picture.hand && picture.hand.loupe) picture.hand.loupe();
  if (graph && !state.playing) graph.draw();
  if (list) list.draw();
  if (curves) curves.draw();
  showChoice();
}

export function choose(ids, add) {
  if (!add) state.chosen.clear();
  for (const id of ids) if (add && state.chosen.has(id)) state.chosen.delete(id); else state.chosen.add(id);
  state.match = null;
  if (stage === 'tracks' && state.chosen.size === 1 && state.tracks.some(k => state.chosen.has(k.id))) fetchMatch([...state.chosen][0]);
  drawAll();
}

/** How well the one chosen track was matched, for the ribbon. */
async function fetchMatch(id) {
  const answer = await fetch(`/shots/${shot}/tracks/${id}.json`);
  if (!answer.ok || !state.chosen.has(id)) return;
  state.match = new Map(await answer.json());
  ribbon.draw();
  if (graph) graph.draw();
}

const named = id => { const m = (state.data && state.data.marks || []).find(k => k.id === id); return m ? m.name : id; };

function showChoice() {
  const ids = [...state.chosen];
  document.querySelectorAll('[data-ids]').forEach(e => { e.value = ids.join(','); });
  document.querySelectorAll('[data-frame-now]').forEach(e => { e.value = state.frame; });
  document.querySelectorAll('[data-chosen]').forEach(e => { e.textContent = ids.length ? `${ids.length} chosen${ids.length < 5 ? ': ' + ids.map(named).join(', ') : ''}` : 'none chosen'; });
  document.querySelectorAll('tr[data-track]').forEach(r => r.classList.toggle('sel', state.chosen.has(Number(r.dataset.track))));
  document.querySelectorAll('[data-delete-tracks], [data-cut]').forEach(b => { b.disabled = !ids.length; });
  document.querySelectorAll('[data-join]').forEach(b => { b.disabled = ids.length !== 2; });
  const byHands = ids.filter(i => i >= 1000000);
  document.querySelectorAll('[data-follow-all]').forEach(b => { b.hidden = !byHands.length; });
  document.querySelectorAll('[data-group-add]').forEach(b => { b.disabled = !ids.length; });
  document.querySelectorAll('details[data-piece]').forEach(d => { const mine = state.piece === Number(d.dataset.piece); if (mine) d.open = true; d.classList.toggle('sel', mine); });
  document.querySelectorAll('details[data-mark]').forEach(d => { const mine = state.chosen.has(Number(d.dataset.mark)); if (mine) d.open = true; d.classList.toggle('sel', mine); });
  document.querySelectorAll('[data-frame-link]').forEach(a => { a.href = `${a.dataset.href}${state.frame}.exr`; });
}

let timer = null, started = 0, from = 0;
function play() {
  state.playing = !state.playing;
  document.getElementById('play').innerHTML = state.playing ? '&#10074;&#10074;' : '&#9654;';
  if (!state.playing) { cancelAnimationFrame(timer); picture.stopped(); return; }
  started = performance.now(); from = state.frame;
  const tick = now => {
    if (!state.playing) return;
    const p = state.data.plate, n = p.last - p.first + 1;
    const want = p.first + ((from - p.first) + Math.floor(Math.max(0, now - started) / 1000 * p.rate)) % n;
    // A frame that has not arrived yet is waited for rather than skipped: the rate may suffer, the motion does not lie.
    if (want !== state.frame) {
      const next = state.frame + 1 > p.last ? p.first : state.frame + 1;
      if (picture.ready(want)) go(want);
      else if (picture.ready(next)) { go(next); started = now; from = next; }
      else { picture.fetchAhead(next); started = now; from = state.frame; }
    }
    timer = requestAnimationFrame(tick);
  };
  timer = requestAnimationFrame(tick);
}

function keys(e) {
  if (e.target.matches('input:not([type=range]):not([type=checkbox]):not([type=radio]), textarea, select')) return;
  if (picture.hand && picture.hand.key && picture.hand.key(e)) { e.preventDefault(); return; }
  const p = state.data && state.data.plate, names = ['plate', 'tracks', 'camera', 'set', 'blocking', 'light', 'passes', 'comp', 'presence', 'output'], at = names.indexOf(stage);
  if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z') { e.preventDefault(); document.getElementById(e.shiftKey ? 'redo' : 'undo').click(); return; }
  if (e.ctrlKey || e.metaKey || e.altKey) return;
  switch (e.key) {
    case ' ': if (e.target.matches('button, input, summary, a')) return; e.preventDefault(); if (p) play(); break;
    case ',': go(state.frame - 1); break;
    case '.': go(state.frame + 1); break;
    case 'Home': if (p) go(p.first); break;
    case 'End': if (p) go(p.last); break;
    case '[': if (at > 0) location.href = `/shots/${shot}/${names[at - 1]}`; break;
    case ']': if (at < 9) location.href = `/shots/${shot}/${names[at + 1]}`; break;
    case 'f': case 'F': picture.fit(); break;
    case '\\': picture.flip(); break;
    case 'o': case 'O': picture.hidden = true; picture.draw(); break;
    case 'Delete': if (['tracks', 'camera'].includes(stage)) deleteChosen(); break;
    case '?': document.getElementById('keys').showModal(); break;
    default: return;
  }
}

function deleteChosen() {
  if (!state.chosen.size) return;
  const ids = [...state.chosen].join(',');
  state.chosen.clear();
  if (stage === 'tracks') post('edit', { action: 'delete', ids, seen: state.data.revision });
  else fetchEdit('tracks', { action: 'delete', ids, seen: state.data.revision });
}

function cutChosen(side) {
  const p = state.data.plate, ids = [...state.chosen].join(',');
  post('edit', { action: 'cut', ids, from: side === 'before' ? p.first : state.frame + 1, to: side === 'before' ? state.frame - 1 : p.last, seen: state.data.revision });
}

async function fetchEdit(of, fields) {
  const answer = await fetch(`/shots/${shot}/${of}/edit`, { method: 'POST', body: new URLSearchParams(fields), headers: { 'X-CSRF-TOKEN': body.dataset.csrf, 'HX-Request': 'true' } });
  if (!answer.ok) document.getElementById('say').innerHTML = await answer.text();
  else location.reload();
}

// A module runs when the document has been read.
function start() {
  picture = new Picture(state, stage);
  ribbon = new Ribbon(state, stage);
  const svg = document.getElementById('plan');
  plan = svg ? new Plan(svg, state, stage) : null;
  const from = document.getElementById('outside');
  if (from) outside = new Outside(from, state, f => picture.ready(f) ? picture.image(f) : null);
  if (stage === 'tracks') { graph = new Graph(state); list = new List(state); }
  if (stage === 'blocking') { curves = new Curves(document.getElementById('curves'), document.getElementById('curvebar'), state); document.body.addEventListener('click', e => blocking.pressed(e, state)); document.body.addEventListener('pointermove', blocking.turned); for (const t of ['pointerdown', 'pointerup']) document.body.addEventListener(t, e => blocking.held(e, state, () => { picture.solid.changed(); drawAll(); })); }
  document.addEventListener('keydown', keys);
  document.addEventListener('keyup', e => { if (e.key === 'o' || e.key === 'O') { picture.hidden = false; picture.draw(); } });
  document.getElementById('play').addEventListener('click', play);
  document.getElementById('loop').addEventListener('click', () => { const p = state.data && state.data.plate; if (p) go(p.first); });
  document.body.addEventListener('change', changed);
  document.body.addEventListener('htmx:confirm', afterChanges);
  document.body.addEventListener('htmx:beforeSwap', e => { if (e.detail.target && e.detail.target.id === 'bench' && e.detail.requestConfig.verb === 'get') keepTyped(); });
  document.body.addEventListener('htmx:afterSwap', e => { if (e.detail.target && e.detail.target.id === 'bench') bringBackTyped(); });
  document.body.addEventListener('shot-changed', load);
  document.body.addEventListener('frames-rendered', load);
  document.body.addEventListener('htmx:afterSwap', () => { showChoice(); if (stage === 'blocking') blocking.showFields(state); if (list) list.load(); });
  document.body.addEventListener('click', e => {
    const row = e.target.closest('tr[data-track]');
    if (row) { choose([Number(row.dataset.track)], e.shiftKey); if (row.dataset.frame) go(Number(row.dataset.frame)); }
    const group = e.target.closest('[data-choose]');
    if (group) choose(group.dataset.choose.split(',').map(Number), e.shiftKey);
    const cut = e.target.closest('[data-cut]');
    if (cut) cutChosen(cut.dataset.cut);
    if (e.target.closest('[data-join]')) post('edit', { action: 'join', ids: [...state.chosen].join(','), seen: state.data.revision });
    const step = e.target.closest('[data-follow]');
    if (step) picture.hand.follow(step.closest('[data-mark]') ? step.closest('[data-mark]').dataset.mark : [...state.chosen].filter(i => i >= 1000000).join(','), step.dataset.follow);
    if (e.target.closest('[data-group-add]')) post('edit', { action: 'group-add', ids: [...state.chosen].join(','), seen: 0 });
    const more = e.target.closest('[data-group-more]');
    if (more) post('edit', { action: 'group-more', id: more.dataset.groupMore, ids: [...state.chosen].join(','), seen: 0 });
    const beside = e.target.closest('[data-beside]');
    if (beside) picture.hand.beside(Number(beside.dataset.beside));
    const on = e.target.closest('[data-on-mark]');
    if (on) picture.hand.onMark(Number(on.dataset.onMark));
    if (e.target.closest('[data-choose-listed]') && list.ids) choose(list.ids, false);
    const piece = e.target.closest('details[data-piece] summary');
    const mark = e.target.closest('details[data-mark] summary'), line = piece || mark;
    // What is chosen opens; an open one is shut by a second press, and lets go.
    if (line) {
      const d = line.parentElement, shut = d.open;
      e.preventDefault();
      d.open = !shut;
      if (piece) { state.piece = shut ? null : Number(d.dataset.piece); drawAll(); }
      else choose(shut ? [] : [Number(d.dataset.mark)], false);
    }
    if (e.target.closest('[data-delete-tracks]')) deleteChosen();
  });
  document.body.addEventListener('input', e => { if (e.target.matches('input[type=range]')) { const o = e.target.parentElement.querySelector('output'); if (o) o.textContent = Number(e.target.value).toFixed(2); } });
  window.addEventListener('resize', drawAll);
  load();
}

start();
