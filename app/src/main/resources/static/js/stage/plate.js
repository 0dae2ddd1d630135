// Plate: single channels, and how the plate fares frame by frame.
import { state } from '../page/state.js';

const CHANNELS = [
  ['', 'colour'],
  ['red', 'red'],
  ['green', 'green'],
  ['blue', 'blue'],
  ['light', 'brightness'],
  ['clipped', 'clipped'],
];

export const view = {
  toggles: {},
  strip: health,
  tools: (picture, look) => {
    const sel = document.createElement('select');
    sel.setAttribute('aria-label', 'what to look at');
    for (const [value, name] of CHANNELS) sel.add(new Option(name, value));
    sel.addEventListener('change', () => {
      picture.channel = sel.value;
      picture.frames.clear();
      picture.last = null;
      picture.frameChanged();
      picture.draw();
    });
    look.append(sel);
  },
};

function health() {
  const h = state.data.health;
  if (!h) return null;
  const top = Math.max(8, ...h.blur),
    step = Math.max(0.5, ...h.stops.map((v) => Math.abs(v - h.stops[0])));
  return {
    label: 'blur by frame, px; pale: clipped parts; line: exposure',
    of: (f) => {
      const b = h.blur[f - h.first] || 0;
      return [Math.max(0.04, b / top), b >= 5 ? '#f0379b' : '#cfcfcf'];
    },
    line: [5 / top, '5'],
    under: (f) => h.clipped[f - h.first] || 0,
    curve: (f) => 0.5 + (0.45 * (h.stops[f - h.first] - h.stops[0])) / step,
  };
}

export function open() {}
