// While a slider of the comp is held the picture follows it: a small one, kept nowhere. Let go, it is sent as ever.
import { shot, state } from '../page/state.js';

/** @param picture in which it is seen */
export function trying(picture) {
  let wanted = null,
    asking = false,
    tried = false,
    sent = false;

  async function ask() {
    asking = true;
    while (wanted) {
      const { name, value } = wanted,
        frame = state.frame,
        revision = state.data.revision;
      wanted = null;
      const answer = await fetch(`/shots/${shot}/comp/${frame}.jpg?number=${name}&value=${value}`).catch(() => null);
      if (!answer || !answer.ok) break;
      const im = await createImageBitmap(await answer.blob());
      if (!tried || state.frame !== frame || state.data.revision !== revision) continue;
      picture.over.shown = { im, said: 'comp, small, as it would be' };
      picture.draw();
    }
    asking = false;
  }

  document.body.addEventListener('input', (e) => {
    if (!e.target.matches('.keyslide input[type=range]') || !picture.over.finished()) return;
    wanted = { name: e.target.name, value: e.target.value };
    tried = true;
    // What is fetched ahead waits.
    picture.over.cache.stop();
    if (!asking) ask();
  });
  /** The picture as it is kept. */
  function back() {
    if (!tried) return;
    tried = false;
    picture.over.of = null;
    picture.frameChanged();
  }

  document.body.addEventListener('change', () => {
    wanted = null;
    sent = true;
  });
  // A slider that was brought back to where it stood sends nothing.
  window.addEventListener('pointerup', () =>
    setTimeout(() => {
      if (!sent) back();
      sent = false;
    }, 100),
  );
  document.body.addEventListener('panel-exchanged', back);
}
