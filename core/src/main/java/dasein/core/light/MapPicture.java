package dasein.core.light;

import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.awt.image.BufferedImage;
import java.util.Arrays;

/** A small picture of a map for people: its middle brightness in the middle, what is brighter eased off. */
public final class MapPicture {
    private MapPicture() {}

    public static BufferedImage of(Image map, int width) {
        return eased(map.resize(width, width / 2), exposure(map));
    }

    /** What brings the map's middle brightness to that of a grey card. */
    public static float exposure(Image map) {
        Image small = map.resize(272, 136);
        float[] sorted = small.luminance();
        Arrays.sort(sorted);
        return 0.22f / Math.max(1e-6f, sorted[sorted.length / 2]);
    }

    /** A linear picture times {@code by}, straight in the dark, never quite white (Reinhard and others 2002). */
    public static BufferedImage eased(Image linear, float by) {
        Image out = new Image(linear.width, linear.height, 3);
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < out.planes[c].length; i++) {
                float v = Math.max(0, linear.planes[c][i]) * by;
                out.planes[c][i] = v * (1 + v / 9) / (1 + v) * 1.15f;
            }
        return Stills.toBuffered(out, Encoding.SRGB);
    }
}
