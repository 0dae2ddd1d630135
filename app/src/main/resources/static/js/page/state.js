// What is looked at: the one state of the page. Whoever draws subscribes, and is told when it changes.
const body = document.body;
export const shot = body.dataset.shot,
  stage = body.dataset.stage;
/** Which window asks: the server ends a draft for it when a newer one is wanted here. */
export const page = Math.random().toString(36).slice(2);

/** What was chosen on the stage before stays chosen on this one, for as long as this window looks at the shot. */
const KEPT = 'chosen ' + shot,
  kept = JSON.parse(sessionStorage.getItem(KEPT) || '{}');

export const state = {
  stage,
  frame: 1,
  playing: false,
  chosen: new Set(kept.ids),
  data: null,
  camera: null,
  tracks: [],
  performer: kept.performer || null,
  piece: kept.piece || null,
  /** Of a curve: its channel and frame. */
  key: kept.key || null,
};

function keep() {
  const { performer, piece, key } = state,
    now = JSON.stringify({
      ids: [...state.chosen],
      performer,
      piece,
      key: key && { channel: key.channel, frame: key.frame },
    });
  if (keep.was !== now) sessionStorage.setItem(KEPT, now);
  keep.was = now;
}

const drawers = [];

/** Calls `draw` whenever what is looked at changes. */
export function onDraw(draw) {
  drawers.push(draw);
}

export function drawAll() {
  for (const draw of drawers) draw();
  keep();
}
