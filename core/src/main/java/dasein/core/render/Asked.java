package dasein.core.render;

import dasein.core.lens.Aperture;

/**
 * What may be asked of a frame besides the picture.
 *
 * @param keep what is kept besides the passes that every comp needs
 * @param aperture null for a pinhole
 * @param plate luminance of the plate at every pixel, by which noise on a catcher is judged as it will be seen; null
 *     when it is not at hand
 * @param neighbours needed for motion both ways, else null
 */
record Asked(Keep keep, Aperture aperture, float[] plate, Neighbours neighbours) {
    static final Asked NOTHING = new Asked(Keep.PLAIN, null, null, null);
}
