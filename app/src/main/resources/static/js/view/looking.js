// For looking only: exposure, gamma and saturation of what is shown, so that blacks and colours can be seen into.
const RIGHT = `
  <span>exposure
    <input type="range" id="exposure" min="-3" max="3" step="0.25" value="0" aria-label="exposure for looking"></span>
  <span>gamma
    <input type="range" id="gamma" min="0.4" max="2.5" step="0.05" value="1" aria-label="gamma for looking"></span>
  <span id="vividly">colour
    <input type="range" id="vivid" min="0" max="5" step="0.25" value="1" aria-label="saturation for looking"></span>
  <select id="by" aria-label="size of the plate's picture">
    <option value="1">full</option><option value="2">half</option><option value="4">quarter</option></select>
  <output id="zoomed"></output>`;

export class Looking {
  constructor(picture) {
    this.exposure = 0;
    this.gamma = 1;
    this.vivid = 1;
    this.span = document.createElement('span');
    this.span.className = 'r';
    this.span.innerHTML = RIGHT;
    if (!picture.stage.vivid) this.span.querySelector('#vividly').hidden = true;
    for (const name of ['exposure', 'gamma', 'vivid'])
      this.span.querySelector('#' + name).addEventListener('input', (e) => {
        this[name] = Number(e.target.value);
        picture.draw();
      });
  }

  /** Stops are taken on codes of about gamma 2.2. */
  filter() {
    const of = [];
    if (this.exposure || this.gamma !== 1) {
      for (const f of document.querySelectorAll('#looking feComponentTransfer > *')) {
        f.setAttribute('amplitude', Math.pow(2, this.exposure / 2.2 / this.gamma));
        f.setAttribute('exponent', 1 / this.gamma);
      }
      of.push('url(#looking)');
    }
    if (this.vivid !== 1) of.push(`saturate(${this.vivid})`);
    return of.join(' ') || 'none';
  }

  said() {
    return [
      this.exposure ? `exposure ${this.exposure > 0 ? '+' : ''}${this.exposure} for looking` : '',
      this.gamma !== 1 ? `gamma ${this.gamma} for looking` : '',
      this.vivid !== 1 ? `colour x ${this.vivid} for looking` : '',
    ];
  }
}
