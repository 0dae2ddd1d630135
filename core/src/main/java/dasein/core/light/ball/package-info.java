/**
 * A mirror ball in photographs, found and read as a map of the light around it (Debevec 1998). Directions are in the
 * camera's frame: +X to the right of the picture, +Y up, the camera looks along -Z. Where the ball was is taken for the
 * point from which the map is seen: what is near is a little off, as in every map of this kind.
 */
package dasein.core.light.ball;
