/**
 * Float images and what is done to them without knowing what they show: encodings, pyramids, filters, sampling. Images
 * are planar (one float array per channel), origin top left, the first pixel's centre at (0.5, 0.5). Colour is
 * scene-linear, Rec. 709 primaries, D65, premultiplied where there is alpha.
 */
package dasein.core.image;
