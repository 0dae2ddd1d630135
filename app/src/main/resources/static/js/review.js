// Review: a shot in a loop, held against its plate or a kept version, with notes pinned to frame and place. It stands
// alone: whoever comes by a link is given no other file.
const base = document.body.dataset.base,
  csrf = document.body.dataset.csrf,
  $ = (id) => document.getElementById(id),
  PIN = '#d4e157',
  CLOSED = '#9a9a9a',
  MOST = 400;

let data,
  frame,
  playing = null,
  pin = null,
  wiped = 0.5,
  flipped = false,
  sliding = false;
const pictures = new Map(),
  view = $('view'),
  strip = $('strip');

const against = () => $('against').value;
const address = (f, of) => (of === 'plate' ? `${base}/plate/${f}.jpg` : `${base}/frame/${f}.jpg?of=${of || 0}`);

/** A frame's picture, fetched once; null while it is on its way. */
function picture(f, of) {
  const url = address(f, of),
    key = url + ' ' + data.revision;
  if (pictures.has(key)) return pictures.get(key);
  pictures.set(key, null);
  if (pictures.size > MOST) pictures.delete(pictures.keys().next().value);
  fetch(url)
    .then((a) => (a.ok ? a.blob() : Promise.reject(a.status)))
    .then(createImageBitmap)
    .then((im) => {
      pictures.set(key, im);
      draw();
    })
    .catch((e) => {
      pictures.delete(key);
      // What is not there stays so; what did not get through is asked for again.
      if (typeof e !== 'number') setTimeout(draw, 1000);
    });
  return null;
}

/** Where the picture lies: left, top, width, height in the view. */
function place() {
  const w = view.clientWidth,
    h = view.clientHeight,
    k = Math.min(w / data.width, h / data.height);
  return [(w - k * data.width) / 2, (h - k * data.height) / 2, k * data.width, k * data.height];
}

function sized(canvas) {
  const r = window.devicePixelRatio,
    w = Math.round(canvas.clientWidth * r),
    h = Math.round(canvas.clientHeight * r);
  if (canvas.width !== w || canvas.height !== h) Object.assign(canvas, { width: w, height: h });
  const g = canvas.getContext('2d');
  g.setTransform(r, 0, 0, r, 0, 0);
  g.clearRect(0, 0, w, h);
  return g;
}

/** A part of a picture into its place, from one share of its width to another. */
function part(g, im, b, from, to) {
  g.save();
  g.beginPath();
  g.rect(b[0] + from * b[2], b[1], (to - from) * b[2], b[3]);
  g.clip();
  g.drawImage(im, ...b);
  g.restore();
}

function draw() {
  if (!data) return;
  const g = sized(view),
    b = place(),
    of = against(),
    how = $('how').value,
    mine = picture(frame),
    other = of ? picture(frame, of) : null;
  $('frame').textContent = frame;
  if (mine) {
    if (other && how === 'beside') {
      const half = [b[0], b[1] + b[3] / 4, b[2] / 2, b[3] / 2];
      g.drawImage(other, ...half);
      g.drawImage(mine, half[0] + half[2], ...half.slice(1));
    } else {
      g.drawImage(other && how === 'flip' && flipped ? other : mine, ...b);
      if (other && how === 'wipe') {
        part(g, other, b, 0, wiped);
        g.fillStyle = PIN;
        g.fillRect(b[0] + wiped * b[2] - 1, b[1], 2, b[3]);
      }
      if (other && how === 'difference') {
        g.globalCompositeOperation = 'difference';
        g.drawImage(other, ...b);
        // Eight times as strong, so that it is seen: added to itself three times over.
        g.globalCompositeOperation = 'lighter';
        for (let k = 0; k < 3; k++) g.drawImage(view, 0, 0, view.clientWidth, view.clientHeight);
        g.globalCompositeOperation = 'source-over';
      }
    }
  }
  if (!(other && how === 'beside')) pins(g, b);
  ribbon();
}

function pins(g, b) {
  const mark = (x, y, label, colour) => {
    const px = b[0] + x * b[2],
      py = b[1] + y * b[3];
    g.beginPath();
    g.arc(px, py, 13, 0, 7);
    g.strokeStyle = '#000';
    g.lineWidth = 4;
    g.stroke();
    g.strokeStyle = colour;
    g.lineWidth = 2;
    g.stroke();
    g.font = '600 12px sans-serif';
    g.lineWidth = 3;
    g.strokeStyle = '#000';
    g.strokeText(label, px + 17, py + 4);
    g.fillStyle = colour;
    g.fillText(label, px + 17, py + 4);
  };
  data.notes.forEach((n, k) => {
    if (n.frame === frame && n.x !== null) mark(n.x, n.y, String(k + 1), n.state === 'open' ? PIN : CLOSED);
  });
  if (pin && pin.frame === frame) mark(pin.x, pin.y, 'here', '#fff');
}

/** Frames, which of them are finished, and which have notes. */
function ribbon() {
  const g = sized(strip),
    w = strip.clientWidth,
    count = data.last - data.first + 1,
    each = w / count,
    done = new Set(data.rendered);
  for (let f = data.first; f <= data.last; f++) {
    const x = (f - data.first) * each;
    g.fillStyle = done.has(f) || data.plain ? '#bdbdbd' : '#5a5a5a';
    g.fillRect(x, 12, Math.max(1, each - 1), 12);
  }
  for (const n of data.notes) {
    g.fillStyle = n.state === 'open' ? PIN : CLOSED;
    g.fillRect((n.frame - data.first + 0.5) * each - 3, 2, 6, 7);
  }
  g.fillStyle = PIN;
  g.fillRect((frame - data.first + 0.5) * each - 1, 0, 2, 30);
}

function go(f) {
  frame = Math.max(data.first, Math.min(data.last, f));
  listed();
  draw();
}

/** Frame after frame at the shot's rate; one that is still on its way is waited for, so that nothing is left out. */
function play() {
  if (playing) {
    cancelAnimationFrame(playing);
    playing = null;
    $('play').textContent = '\u25b6';
    return;
  }
  $('play').textContent = '\u25a0';
  let next = performance.now();
  const step = (now) => {
    playing = requestAnimationFrame(step);
    const f = frame >= data.last ? data.first : frame + 1;
    for (let k = 0; k < 8; k++) {
      const ahead = data.first + ((f - data.first + k) % (data.last - data.first + 1));
      picture(ahead);
      if (against()) picture(ahead, against());
    }
    if (now < next || !picture(f) || (against() && !picture(f, against()))) return;
    next = Math.max(next + 1000 / data.rate, now);
    frame = f;
    draw();
  };
  playing = requestAnimationFrame(step);
}

const WORDS = { open: 'open', done: 'done', meant: 'as meant' };

function listed() {
  const open = data.notes.filter((n) => n.state === 'open').length;
  $('count').textContent = data.notes.length ? `${open} open of ${data.notes.length}` : 'none yet';
  $('notes').replaceChildren(
    ...data.notes.map((n, k) => {
      const li = document.createElement('li'),
        at = document.createElement('button'),
        by = document.createElement('span'),
        said = document.createElement('span');
      li.className = `${n.frame === frame ? 'now' : ''} ${n.state === 'open' ? '' : 'closed'}`;
      at.type = 'button';
      at.className = 'at';
      at.textContent = `${k + 1}, frame ${n.frame}`;
      at.onclick = () => go(n.frame);
      by.className = 'by';
      by.textContent = n.author;
      said.className = 'said';
      said.textContent = n.text;
      li.append(at, by, said);
      if (data.owner) {
        const state = document.createElement('select');
        state.ariaLabel = 'state';
        state.style.marginLeft = 0;
        for (const [v, words] of Object.entries(WORDS)) state.add(new Option(words, v, false, v === n.state));
        state.onchange = () => send(`notes/${n.id}/state`, { state: state.value });
        li.append(state);
      } else if (n.state !== 'open') li.append(WORDS[n.state]);
      return li;
    }),
  );
}

async function send(path, fields) {
  const body = new URLSearchParams(fields),
    headers = csrf ? { 'X-CSRF-TOKEN': csrf } : {};
  const a = await fetch(`${base}/${path}`, { method: 'POST', body, headers }).catch(() => null);
  $('trouble').textContent = '';
  if (!a || !a.ok) {
    const text = a ? new DOMParser().parseFromString(await a.text(), 'text/html').body.innerText.trim() : '';
    $('trouble').textContent = text || 'That could not be sent.';
    return null;
  }
  const answer = await a.json();
  if (answer.notes) {
    data = answer;
    listed();
    draw();
  }
  return answer;
}

const near = (e) => {
  const b = place(),
    r = view.getBoundingClientRect();
  return [(e.clientX - r.left - b[0]) / b[2], (e.clientY - r.top - b[1]) / b[3]];
};

view.addEventListener('pointerdown', (e) => {
  const [x, y] = near(e);
  if (against() && $('how').value === 'wipe' && Math.abs(x - wiped) < 0.02) {
    sliding = true;
    view.setPointerCapture(e.pointerId);
    return;
  }
  if (x < 0 || y < 0 || x > 1 || y > 1) return;
  if (playing) play();
  pin = { frame, x, y };
  $('where').textContent = `At the place you clicked in frame ${frame}.`;
  draw();
});
view.addEventListener('pointermove', (e) => {
  if (!sliding) return;
  wiped = Math.max(0, Math.min(1, near(e)[0]));
  draw();
});
view.addEventListener('pointerup', () => (sliding = false));
strip.addEventListener('pointerdown', (e) => {
  const to = (q) => {
    const r = strip.getBoundingClientRect();
    go(data.first + Math.floor(((q.clientX - r.left) / r.width) * (data.last - data.first + 1)));
  };
  to(e);
  strip.setPointerCapture(e.pointerId);
  strip.onpointermove = to;
  strip.onpointerup = () => (strip.onpointermove = null);
});
$('play').onclick = play;
$('against').onchange = $('how').onchange = draw;
document.addEventListener('keydown', (e) => {
  if (e.target.closest('input, textarea, select')) return;
  const keys = { ' ': play, ',': () => go(frame - 1), '.': () => go(frame + 1), '\\': () => (flipped = !flipped) };
  if (!keys[e.key]) return;
  e.preventDefault();
  keys[e.key]();
  draw();
});
window.addEventListener('resize', draw);

$('say').addEventListener('submit', async (e) => {
  e.preventDefault();
  const f = new FormData(e.target),
    at = pin && pin.frame === frame ? { x: pin.x, y: pin.y } : {};
  if (!(await send('notes', { frame, author: f.get('author'), text: f.get('text'), ...at }))) return;
  e.target.text.value = '';
  pin = null;
  $('where').textContent = 'On the frame that is shown. Click the picture to pin it to a place.';
  draw();
});

function links(given) {
  $('given').hidden = !given.address;
  $('given').textContent = given.address && location.origin + given.address;
  $('links').replaceChildren(
    ...given.links
      .filter((l) => !l.revoked)
      .map((l) => {
        const li = document.createElement('li'),
          b = document.createElement('button');
        li.dataset.link = l.id;
        li.append(Object.assign(document.createElement('span'), { textContent: l.name }), b);
        Object.assign(b, { type: 'button', className: 'btn-second', textContent: 'take back' });
        return li;
      }),
  );
}
if ($('give')) {
  $('give').addEventListener('submit', async (e) => {
    e.preventDefault();
    const given = await send('links', { name: e.target.name.value });
    if (given) links(given);
    e.target.reset();
  });
  $('links').addEventListener('click', async (e) => {
    const li = e.target.closest('button') && e.target.closest('li');
    const left = li && (await send(`links/${li.dataset.link}/revoke`, {}));
    if (left) links(left);
  });
}

data = await (await fetch(`${base}/data.json`)).json();
for (const v of data.versions) $('against').add(new Option(v.name, v.revision));
const asked = Number(location.hash.slice(1));
go(asked || data.rendered[0] || data.first);
