// A show: what has to agree between neighbours is measured shot by shot, and shots are picked for writing.
const show = document.body.dataset.show,
  picks = [...document.querySelectorAll('.pick')],
  form = document.getElementById('deliver');

function picked() {
  const on = picks.filter((p) => p.checked);
  form.shots.value = on.map((p) => p.value).join(',');
  form.querySelector('button').disabled = !on.length;
  document.getElementById('picked').textContent = on.length
    ? `${on.length === 1 ? 'One shot' : on.length + ' shots'}, each over its whole cut, as`
    : 'Tick shots to write them in one go.';
}
for (const p of picks) p.addEventListener('change', picked);
picked();

const signed = (v) => (v >= 0 ? '+' : '') + v.toFixed(2);
for (const a of document.querySelectorAll('article[data-shot]')) {
  const answer = await fetch(`/shows/${show}/look/${a.dataset.shot}.json`).catch(() => null);
  if (!answer || !answer.ok) continue;
  const { look, unlike } = await answer.json();
  if (!look) continue;
  const grain = Number.isFinite(look.grain) ? `${(100 * look.grain).toFixed(2)} %` : 'not told';
  a.querySelector('.figures').textContent =
    `blacks ${(100 * look.blacks).toFixed(1)} %, warmth ${signed(look.warmth)}, grain ${grain}`;
  a.querySelector('.unlike').textContent = unlike;
}
