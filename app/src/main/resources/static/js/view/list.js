// All tracks as a list that can be filtered and sorted.
import { shot } from '../page/state.js';

const MOST = 150;
const FILTERS = {
  all: () => true,
  doubtful: (t) => t.reason,
  short: (t) => t.frames < 12,
  'badly matched': (t) => t.match !== null && t.match < 0.93,
  fast: (t) => t.speed > 20,
  'by hand': (t) => t.id >= 1000000,
  'in a group': (t, d) => d.groups.some((g) => g.tracks.includes(t.id)),
  'in this frame': (t, d, f) => t.from <= f && t.to >= f,
  'without a point': (t, d) => d.points && !d.points.some((p) => p[0] === t.id),
};
const ORDERS = {
  longest: (a, b) => b.frames - a.frames,
  shortest: (a, b) => a.frames - b.frames,
  fastest: (a, b) => b.speed - a.speed,
  'worst match': (a, b) => (a.match ?? 2) - (b.match ?? 2),
  number: (a, b) => a.id - b.id,
  'worst residual': (a, b, r) => (r.get(b.id) || 0) - (r.get(a.id) || 0),
};

export class List {
  constructor(state) {
    this.s = state;
    this.filter = 'all';
    this.order = 'longest';
    document.body.addEventListener('change', (e) => {
      if (e.target.id === 'filter') this.filter = e.target.value;
      else if (e.target.id === 'order') this.order = e.target.value;
      else return;
      this.draw();
    });
    document.body.addEventListener(
      'toggle',
      (e) => {
        if (e.target.id === 'list') {
          this.open = e.target.open;
          this.load();
        }
      },
      true,
    );
  }

  /** The bench was exchanged, or the tracks have changed. */
  async load() {
    const box = document.getElementById('list');
    if (!box) return;
    if (this.open && !box.open) box.open = true;
    const print = this.s.data && this.s.data.tracksPrint;
    if (!this.open || !print) return;
    if (this.print !== print) {
      this.print = print;
      this.lines = await (await fetch(`/shots/${shot}/tracks/list.json`)).json();
    }
    this.draw();
  }

  draw() {
    const box = document.getElementById('list');
    if (!box || !box.open || !this.lines) return;
    const fill = (id, names, now) => {
      const s = document.getElementById(id);
      if (!s.options.length) for (const n of names) s.add(new Option(n, n));
      s.value = now;
    };
    fill('filter', Object.keys(FILTERS), this.filter);
    fill('order', Object.keys(ORDERS), this.order);
    const d = this.s.data,
      rms = new Map((d.points || []).map((p) => [p[0], p[4]])),
      gone = new Set(d.deleted);
    const some = this.lines
      .filter((t) => !gone.has(t.id) && FILTERS[this.filter](t, d, this.s.frame))
      .sort((a, b) => ORDERS[this.order](a, b, rms));
    this.ids = some.map((t) => t.id);
    document.getElementById('listed').textContent = some.length > MOST ? `${some.length}, ${MOST} shown` : some.length;
    const name = (id) => {
      const m = d.marks.find((k) => k.id === id);
      return m ? m.name : id;
    };
    const cell = (r, text) => {
      r.insertCell().textContent = text;
    };
    const body = document.querySelector('#list tbody');
    body.replaceChildren();
    for (const t of some.slice(0, MOST)) {
      const r = body.insertRow();
      r.dataset.track = t.id;
      r.title = t.reason || '';
      r.classList.toggle('sel', this.s.chosen.has(t.id));
      cell(r, name(t.id));
      cell(r, `${t.from}-${t.to}`);
      cell(r, t.match === null ? '' : t.match.toFixed(2));
      cell(r, t.speed.toFixed(1));
      cell(r, rms.has(t.id) ? rms.get(t.id).toFixed(2) : '');
    }
  }
}
