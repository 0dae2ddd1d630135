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
        Image small = map.resize(width, width / 2), out = new Image(small.width, small.height, 3);
        float[] l = small.luminance(), sorted = l.clone();
        Arrays.sort(sorted);
        float middle = Math.max(1e-6f, sorted[sorted.length / 2]);
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < l.length; i++) {
                float v = Math.max(0, small.planes[c][i]) * 0.22f / middle;
                // Straight in the dark, never quite white (Reinhard and others 2002).
                out.planes[c][i] = v * (1 + v / 9) / (1 + v) * 1.15f;
            }
        return Stills.toBuffered(out, Encoding.SRGB);
    }
}
