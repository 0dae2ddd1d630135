/** The least of glass that is seen: what it mirrors. */
const LEAST = 0.12;

/**
 * Glass in the preview lets through what is behind it as it is: bending it costs a picture of all of that, which the
 * plate is not even in.
 */
export function clearly(material) {
  if (!(material.transmission > 0)) return;
  material.opacity *= Math.max(LEAST, 1 - material.transmission);
  material.transmission = 0;
  material.transparent = true;
  material.depthWrite = false;
}
