// What is looked at: the one state of the page. Whoever draws subscribes, and is told when it changes.
const body = document.body;
export const shot = body.dataset.shot,
  stage = body.dataset.stage;
/** Which window asks: the server ends a draft for it when a newer one is wanted here. */
export const page = Math.random().toString(36).slice(2);

export const state = {
  stage,
  frame: 1,
  playing: false,
  chosen: new Set(),
  data: null,
  camera: null,
  tracks: [],
  performer: null,
};

const drawers = [];

/** Calls `draw` whenever what is looked at changes. */
export function onDraw(draw) {
  drawers.push(draw);
}

export function drawAll() {
  for (const draw of drawers) draw();
}
