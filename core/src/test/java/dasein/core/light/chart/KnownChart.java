package dasein.core.light.chart;

import dasein.core.image.Image;
import dasein.core.light.photo.Photo;
import dasein.core.math.Projective;
import java.util.SplittableRandom;
import java.util.function.DoubleUnaryOperator;

/** A chart of known colours, photographed by a camera of known matrix under uneven light, before clutter. */
public final class KnownChart {
    /** From the photograph's light to Rec. 709: what is to be found. */
    public double[] matrix = {1.65, -0.52, -0.08, -0.22, 1.41, -0.19, 0.03, -0.48, 1.62};
    /** Where the chart's corners (of its frame, which is a twentieth wider) are seen, in its own order. */
    double[][] corners = {{210, 140}, {504, 161}, {490, 350}, {203, 336}};

    int width = 700, height = 490;
    /** Stops from one side to the other, and from the middle to the corners. */
    double slope = 0.8, bend = 0.3;

    double noise = 0.004, exposure = 0.8;
    DoubleUnaryOperator curve = l -> l <= 0.0031308 ? 12.92 * l : 1.055 * Math.pow(l, 1 / 2.4) - 0.055;
    long seed = 1;
    public Patches edition = Patches.BEFORE_2014;

    /** Turned about the picture's middle. */
    KnownChart turned(double degrees) {
        double a = Math.toRadians(degrees), x0 = width / 2.0, y0 = height / 2.0;
        double[][] c = new double[4][];
        for (int i = 0; i < 4; i++) {
            double x = corners[i][0] - x0, y = corners[i][1] - y0;
            c[i] = new double[] {x0 + Math.cos(a) * x - Math.sin(a) * y, y0 + Math.sin(a) * x + Math.cos(a) * y};
        }
        corners = c;
        return this;
    }

    public Photo photo() {
        SplittableRandom r = new SplittableRandom(seed);
        Projective toChart = Projective.of(corners, new double[][] {{0, 0}, {6, 0}, {6, 4}, {0, 4}});
        double[] back = new Projective(matrix).inverse().h();
        Image im = new Image(width, height, 3);
        for (int y = 0; y < height; y++)
            for (int x = 0; x < width; x++) {
                double[] sum = new double[3];
                for (int k = 0; k < 4; k++) {
                    double[] p = toChart.at(x + (k % 2 + 0.5) / 2, y + (k / 2 + 0.5) / 2), c = colour(p, x, y);
                    for (int j = 0; j < 3; j++) sum[j] += c[j] / 4;
                }
                double u = p2(toChart, x, y, 0), v = p2(toChart, x, y, 1);
                double light = exposure
                        * Math.pow(2, slope * (u - 0.5) - bend * (Math.pow(2 * u - 1, 2) + Math.pow(2 * v - 1, 2)) / 2);
                for (int j = 0; j < 3; j++) {
                    double l = light * (back[3 * j] * sum[0] + back[3 * j + 1] * sum[1] + back[3 * j + 2] * sum[2]);
                    l += noise * r.nextGaussian() * Math.sqrt(Math.max(l, 0) + 0.02);
                    im.planes[j][y * width + x] =
                            Math.round(255 * curve.applyAsDouble(Math.max(0, Math.min(1, l)))) / 255f;
                }
            }
        return Photo.ofCodes("chart", im);
    }

    private static double p2(Projective p, int x, int y, int k) {
        double[] q = p.at(x + 0.5, y + 0.5);
        return Math.max(-0.5, Math.min(1.5, q[k] / (k == 0 ? 6 : 4)));
    }

    /** A tenth of a cell is the dark frame; around the chart lie stones. */
    private double[] colour(double[] p, int x, int y) {
        if (p[0] < -0.15 || p[1] < -0.15 || p[0] > 6.15 || p[1] > 4.15) {
            double s = new SplittableRandom((x + y / 3) / 23 * 977L + (y - x / 4 + 4000) / 19).nextDouble();
            return new double[] {0.1 + 0.3 * s, 0.1 + 0.27 * s, 0.09 + 0.2 * s};
        }
        double u = p[0] - Math.floor(p[0]), v = p[1] - Math.floor(p[1]);
        boolean frame = u < 0.08 || v < 0.08 || u > 0.92 || v > 0.92;
        if (frame || p[0] < 0 || p[1] < 0 || p[0] >= 6 || p[1] >= 4) return new double[] {0.012, 0.012, 0.012};
        return edition.linear((int) p[1] * 6 + (int) p[0]);
    }
}
