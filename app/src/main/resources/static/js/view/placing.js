// What is put with clicks, marks and picked points alike: a click sets the chosen one in the frame that is shown;
// "new", or Escape, lets it go, and the next click puts another.
import { choose, onChoice } from '../page/choice.js';
import { state } from '../page/state.js';

export class Placing {
  /**
   * @param look where the button stands, after `tool`'s
   * @param puttable whether what has this number is put so
   * @param on whether the tool is in hand
   */
  constructor(look, tool, puttable, on) {
    this.puttable = puttable;
    this.on = on;
    this.button = document.createElement('button');
    this.button.type = 'button';
    this.button.textContent = 'new';
    this.button.dataset.placing = 'new';
    this.button.title = 'lets the chosen one go: the next click puts another (Esc)';
    this.button.addEventListener('click', () => choose([], false));
    look.querySelector(tool).after(this.button);
    onChoice(() => this.show());
    this.show();
  }

  /** The one that a click sets; 0 when it puts another. */
  one() {
    const [id] = state.chosen;
    return state.chosen.size === 1 && this.puttable(id) ? id : 0;
  }

  show() {
    this.button.hidden = !this.on() || !this.one();
  }

  key(e) {
    if (e.key !== 'Escape' || !this.on() || !this.one()) return false;
    choose([], false);
    return true;
  }
}
