// Light: drafts of the frame that is looked at.
import { rendered } from '../view/rendered.js';

export const view = { toggles: { grid: false }, over: () => 'draft', flips: true, strip: rendered };

export function open() {}
