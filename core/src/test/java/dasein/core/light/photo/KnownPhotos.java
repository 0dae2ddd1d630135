package dasein.core.light.photo;

import dasein.core.image.Image;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import java.util.function.DoubleUnaryOperator;

/** A view of known light, photographed by cameras of known response. */
final class KnownPhotos {
    /** As a maker's picture style bends: darker darks and a shoulder, unlike for each colour. */
    static final DoubleUnaryOperator[] STYLED = {
        l -> styled(l, 2.1, 0.30), l -> styled(l, 2.2, 0.35), l -> styled(l, 2.3, 0.28)
    };

    private static final int H = 1000;

    private KnownPhotos() {}

    static double styled(double l, double gamma, double bend) {
        double v = Math.pow(Math.max(0, Math.min(1, l)), 1 / gamma);
        return v + bend * v * (1 - v) * (2 * v - 1);
    }

    /** Some twelve stops from the shade under a thing to a lamp, with surfaces, edges and slopes. */
    static Image view(int w, int h) {
        Image im = new Image(w, h, 3);
        for (int y = 0; y < h; y++)
            for (int x = 0; x < w; x++) {
                double u = (double) x / w, v = (double) y / h;
                double l = 0.02 * Math.pow(2, 8 * u) * (1 + 0.3 * Math.sin(9 * v + 4 * u));
                if (Math.hypot(u - 0.3, v - 0.4) < 0.12) l = 0.015;
                if (Math.hypot(u - 0.7, v - 0.6) < 0.05) l = 14;
                if ((int) (u * 24) % 5 == 0 && v > 0.7) l *= 3;
                // Stones: patches of their own brightness.
                l *= 0.7 + 0.6 * new SplittableRandom((x + y / 3) / 9 * 1009L + (y - x / 4 + H) / 7).nextDouble();
                double[] tint = {1 + 0.3 * Math.sin(7 * u), 1, 1 - 0.25 * Math.cos(5 * v)};
                for (int c = 0; c < 3; c++) im.planes[c][y * w + x] = (float) (l * tint[c]);
            }
        return im;
    }

    /** Exposed, noisy, cut off, bent, and rounded to 8 bit. */
    static Photo photo(String name, Image light, double exposure, DoubleUnaryOperator[] curve, long seed) {
        SplittableRandom r = new SplittableRandom(seed);
        Image codes = new Image(light.width, light.height, 3);
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < codes.planes[c].length; i++) {
                double l = light.planes[c][i] * exposure;
                l += r.nextGaussian() * Math.sqrt(1e-4 * l + 2e-6);
                codes.planes[c][i] = Math.round(255 * curve[c].applyAsDouble(Math.max(0, Math.min(1, l)))) / 255f;
            }
        return Photo.ofCodes(name, codes);
    }

    static Bracket bracket(Image light, double[] stops, DoubleUnaryOperator[] curve) {
        List<Photo> all = new ArrayList<>();
        for (int k = 0; k < stops.length; k++)
            all.add(photo("photo " + (k + 1), light, Math.pow(2, stops[k]), curve, 100 + k));
        return Bracket.of(all, stops);
    }
}
