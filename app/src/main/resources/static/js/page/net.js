// Talks to the server. Changes of this page wait in one queue: none overtakes another, and one that fails lets the next
// go on.
import { state, shot, stage, drawAll } from './state.js';
import { Camera } from '../base/camera.js';
import { exchange } from './exchange.js';
import { refused } from './refused.js';

const token = document.body.dataset.csrf;
const HEADERS = { 'X-CSRF-TOKEN': token, 'HX-Request': 'true' };
const LONGEST_WAIT = 120000;

/** The revision that this page shows, or has made itself: every change is made on top of it. */
let revision = Number(document.body.dataset.revision);

/** How often what others did was shown here. */
let elsewhere = 0;

let last = Promise.resolve();

let working = 0;

/** Says, to whoever listens to the page, whether something is on its way. @param by how many more, or fewer, are */
export function busy(by) {
  working += by;
  document.body.setAttribute('aria-busy', working > 0);
}

/** Does a job when those before it are done, whatever became of them. */
export function queue(job) {
  busy(1);
  const mine = last.then(job, job).finally(() => busy(-1));
  last = mine.catch(() => {});
  return mine;
}

export function say(text) {
  const p = document.createElement('p');
  p.setAttribute('role', 'alert');
  p.textContent = text;
  document.getElementById('say').replaceChildren(p);
}

/** A change of this stage, or of another: whether it was made. The panel that comes back takes this one's place. */
export function post(path, fields, of = stage) {
  return queue(async () => {
    const form = new URLSearchParams(fields);
    form.set('seen', revision);
    return sent(`/shots/${shot}/${of}/${path}`, form, of === stage);
  });
}

/** Files, as a form holds them. */
export function upload(form) {
  return queue(() => sent(form.action, new FormData(form), true));
}

async function sent(url, body, mine) {
  let answer;
  try {
    answer = await fetch(url, { method: 'POST', body, headers: HEADERS });
  } catch {
    say('Dasein does not answer, so nothing was changed. Start it again, then repeat your change.');
    return false;
  }
  const text = answer.status === 204 ? '' : await answer.text();
  if (!answer.ok) {
    // Somebody else was faster: what they did is shown, and what is wrong is said over it.
    if (answer.status === 409) await refresh();
    document.getElementById('say').innerHTML = text;
    await load();
    refused(answer.headers.get('X-Field'), text);
    return false;
  }
  refused(null);
  taken(answer);
  if (text && mine) await exchange(text);
  else await refresh();
  await load();
  return true;
}

/** Which revision an answer shows. */
function taken(answer) {
  const trigger = answer.headers.get('HX-Trigger');
  if (trigger && trigger.startsWith('{')) revision = JSON.parse(trigger)['shot-changed'] || revision;
}

/** Shows the panel as the shot stands now. */
async function refresh() {
  const answer = await fetch(`/shots/${shot}/${stage}/progress?was=-&seen=0`, { headers: HEADERS });
  if (!answer.ok) return;
  taken(answer);
  await exchange(await answer.text());
}

/** Buttons of forms wait in the same queue. */
function queued(e) {
  if (e.detail.verb === 'get') return;
  e.preventDefault();
  const element = e.detail.elt,
    form = element.closest('form'),
    by = e.detail.triggeringEvent && e.detail.triggeringEvent.submitter,
    before = elsewhere;
  queue(() => (element.isConnected ? issued(element, e.detail.issueRequest) : late(e.detail.path, form, by, before)));
}

/** A change whose form was exchanged while it waited is made all the same, unless others made one meanwhile. */
async function late(path, form, by, before) {
  if (elsewhere !== before || !form) {
    say('It was changed meanwhile, so this was not taken. What stands now is shown.');
    return;
  }
  const fields = new URLSearchParams(new FormData(form, by));
  fields.set('seen', revision);
  await sent(path, fields, true);
}

function issued(element, issue) {
  return new Promise((done) => {
    // The element may be exchanged while it asks: then its events reach nobody but itself.
    const places = [document, element];
    const each = (act) => places.forEach((place) => ENDS.forEach((name) => place[act](name, ended, true)));
    const ended = (x) => {
      if ((x.detail.requestConfig ? x.detail.requestConfig.elt : x.detail.elt) !== element) return;
      each('removeEventListener');
      done();
    };
    each('addEventListener');
    setTimeout(done, LONGEST_WAIT);
    issue(true);
  });
}

const ENDS = ['htmx:afterRequest', 'htmx:sendError', 'htmx:timeout', 'htmx:sendAbort', 'htmx:validation:halted'];

let loading = Promise.resolve();

/** Fetches what the page draws. */
export function load() {
  busy(1);
  loading = reload().finally(() => busy(-1));
  return loading;
}

const listeners = [];

/** Calls `listen` with the data before and now whenever they were fetched, before anything is drawn. */
export function onLoad(listen) {
  listeners.push(listen);
}

async function reload() {
  const answer = await fetch(`/shots/${shot}/data.json`);
  if (!answer.ok) return;
  const now = await answer.json(),
    before = state.data;
  state.data = now;
  revision = Math.max(revision, now.revision);
  state.camera = now.camera ? new Camera(now.camera) : null;
  for (const listen of listeners) await listen(before, now);
  drawAll();
}

export function start() {
  document.body.addEventListener('htmx:confirm', queued);
  document.body.addEventListener('htmx:configRequest', (e) => {
    e.detail.parameters['seen'] = String(revision);
  });
  document.body.addEventListener('shot-changed', (e) => {
    const now = Number(e.detail.value);
    if (revision && now !== revision && e.detail.elt && e.detail.elt.id === 'running') {
      elsewhere++;
      say('It was changed elsewhere.');
    }
    revision = now;
    load();
  });
  document.body.addEventListener('frames-rendered', load);
  load();
}
