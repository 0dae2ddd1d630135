// Output: the finished frame that is written.
import { rendered } from '../view/rendered.js';

export const view = { toggles: {}, over: () => 'comp', flips: true, strip: rendered };

export function open() {}
