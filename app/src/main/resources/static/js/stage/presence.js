// Presence: the finished frame that is measured.
import { rendered } from '../view/rendered.js';

export const view = { toggles: {}, over: () => 'comp', flips: true, strip: rendered };

export function open() {}
