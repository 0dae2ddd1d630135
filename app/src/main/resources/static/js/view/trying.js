// While a slider of the comp is held the picture follows it, as far as it is in view; it is kept nowhere. Let go, the
// number is sent as ever.
import { shot, state } from '../page/state.js';

/** Milliseconds after which a hand feels that the picture comes behind. */
const SLOW = 130;

/** @param picture in which it is seen */
export function trying(picture) {
  let wanted = null,
    asking = false,
    tried = false,
    sent = false,
    part = 1,
    asked = 0;

  async function ask() {
    asking = true;
    while (wanted) {
      const { name, value } = wanted,
        frame = state.frame,
        revision = state.data.revision;
      wanted = null;
      const look = [...picture.over.inView(), part * picture.view().scale * window.devicePixelRatio].map((k) =>
          k.toFixed(4),
        ),
        url = `/shots/${shot}/comp/${frame}/tried.jpg?number=${name}&value=${value}&look=${look}`,
        begun = performance.now(),
        answer = await fetch(url).catch(() => null);
      if (!answer || !answer.ok) break;
      const place = answer.headers.get('X-Part').split(',').map(Number),
        im = await createImageBitmap(await answer.blob());
      if (!tried || state.frame !== frame || state.data.revision !== revision) continue;
      const before = picture.over.shown,
        whole = before && before.part ? before.whole : before && before.im,
        all = place.join() === '0,0,1,1';
      picture.over.shown = { im, part: all ? null : place, whole: all ? null : whole, said: 'comp, as it would be' };
      picture.draw();
      // The first answer makes what the others are made from. Where they are slow all the same, smaller ones do.
      if (asked++ && performance.now() - begun > SLOW) part = 0.5;
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
    part = 1;
    asked = 0;
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
