/**
 * Light from far away: the lat-long environment and suns. Radiance is scene-linear, Rec. 709 primaries, relative to
 * plate 1.0 = diffuse white. Lat-long: the middle column looks along -Z, columns to the right turn towards +X, the top
 * row is +Y.
 */
package dasein.core.light;
