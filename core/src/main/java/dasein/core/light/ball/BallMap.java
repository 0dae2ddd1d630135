package dasein.core.light.ball;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.SoftFill;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * A lat-long map from one or more views of a ball, in the frame of the first view's camera. Views are weighed by how
 * many pixels show a direction, and hardly count where the camera and who holds it are mirrored; what no view shows is
 * filled in softly and marked.
 */
public final class BallMap {
    private static final int MOST_SAMPLES = 6;
    /** A sample between pixels takes from four of them: one for each pixel and a quarter is enough. */
    private static final double SPAN = 0.8;
    /** Part of its weight that a view keeps where its own camera is mirrored. */
    private static final double CAMERA = 0.01;

    private BallMap() {}

    /**
     * A view and how it is turned.
     *
     * @param toView turns a direction of the map's frame into this view's; @param gain its light is multiplied by
     */
    public record Turned(BallPhotos photos, Quat toView, double gain) {}

    /**
     * @param map radiance; @param invented texels that no view shows; @param clipped texels cut off in every photograph
     */
    public record Result(Image map, boolean[] invented, boolean[] clipped) {
        /** Part of all directions that is invented. */
        public double inventedPart() {
            return Environment.part(invented, map.width);
        }

        /** What is cut off in every photograph, a sentence a spot, the largest first. */
        public List<String> clippedSaid() {
            return Spots.of(clipped, map).stream()
                    .map(s -> String.format(
                            Locale.ROOT,
                            "cut off in every photograph: %.1f degrees across, %.0f to the right and %.0f up",
                            Math.toDegrees(s.across()),
                            Math.toDegrees(
                                    Math.atan2(s.towards().x(), -s.towards().z())),
                            Math.toDegrees(Math.asin(s.towards().y()))))
                    .toList();
        }
    }

    /** @param tint of the ball by which light is multiplied when it is mirrored, three colours; @param width texels */
    public static Result of(List<Turned> views, double[] tint, int width) {
        int w = width, h = width / 2;
        Image map = new Image(w, h, 3);
        float[] seen = new float[w * h];
        boolean[] clipped = new boolean[w * h];
        Image.bands(h, (from, to) -> {
            Corners[] corners = views.stream().map(t -> new Corners(t, w, h)).toArray(Corners[]::new);
            double[] at = new double[3], sum = new double[3];
            float[] c = new float[3];
            for (int y = from; y < to; y++) {
                for (Corners k : corners) k.row(y);
                for (int x = 0; x < w; x++) {
                    double total = 0;
                    sum[0] = sum[1] = sum[2] = 0;
                    boolean cut = false;
                    for (Corners k : corners) {
                        Turned t = k.view;
                        int n = k.samples(x);
                        double mine = 0;
                        double r = 0, g = 0, b = 0;
                        for (int i = 0; i < n * n; i++) {
                            k.at(x, (i % n + 0.5) / n, (i / n + 0.5) / n, at);
                            if (at[2] < k.least || !t.photos.sampleAt(at, c)) continue;
                            if (t.photos.clippedAt(at)) cut = true;
                            mine++;
                            r += c[0];
                            g += c[1];
                            b += c[2];
                        }
                        if (mine == 0) continue;
                        // Alone, a view has nothing to be weighed against.
                        double weight = corners.length == 1 ? 1 : weight(t, k.direction(x), at[2]);
                        total += weight * mine / (n * n);
                        sum[0] += weight * r * t.gain / (n * n);
                        sum[1] += weight * g * t.gain / (n * n);
                        sum[2] += weight * b * t.gain / (n * n);
                    }
                    if (total <= 0) continue;
                    int i = y * w + x;
                    seen[i] = (float) total;
                    clipped[i] = cut;
                    for (int k = 0; k < 3; k++) map.planes[k][i] = (float) (sum[k] / total / tint[k]);
                }
            }
        });
        boolean[] invented = new boolean[w * h];
        for (int i = 0; i < seen.length; i++) invented[i] = seen[i] == 0;
        SoftFill.fill(map, invented);
        return new Result(map, invented, clipped);
    }

    /**
     * Where the corners of a row of cells are seen in a view, a cell being a texel or, in large maps, some to a side:
     * what lies between them is interpolated, which is exact to hundredths of a pixel but about the blind spot, where a
     * cell spans too much and is left out.
     */
    private static final class Corners {
        private static final double FAR = 60;
        /** Cells round the horizon: more are no more exact. */
        private static final int MOST = 2048;

        final Turned view;
        private final int w, h;
        /** Texels to a side of a cell. */
        private final int side;

        private final int[] samples;
        final double least;
        private int top = Integer.MIN_VALUE;
        private int y;
        private double[] above, below;
        /** Of the columns' azimuths. */
        private final double[] sin, cos;

        Corners(Turned view, int w, int h) {
            this.view = view;
            this.w = w;
            this.h = h;
            int k = Math.max(1, w / MOST);
            side = w % k == 0 && h % k == 0 ? k : 1;
            int cells = w / side;
            samples = new int[cells];
            least = view.photos.leastCos();
            sin = new double[cells + 1];
            cos = new double[cells + 1];
            for (int x = 0; x <= cells; x++) {
                double phi = ((double) x / cells - 0.5) * 2 * Math.PI;
                sin[x] = Math.sin(phi);
                cos[x] = Math.cos(phi);
            }
        }

        void row(int next) {
            y = next;
            int cell = y / side * side;
            if (cell == top) return;
            above = cell == top + side ? below : corners(cell);
            below = corners(cell + side);
            top = cell;
            for (int x = 0; x < samples.length; x++) samples[x] = counted(x);
        }

        private double[] corners(int row) {
            double[] out = new double[3 * sin.length], at = new double[3];
            double up = Math.cos(Math.PI * row / h), flat = Math.sin(Math.PI * row / h);
            for (int x = 0; x < sin.length; x++) {
                Vec3 d = new Vec3(flat * sin[x], up, -flat * cos[x]);
                boolean seen = view.photos.view().pixel(view.toView.rotate(d), at);
                for (int k = 0; k < 3; k++) out[3 * x + k] = seen ? at[k] : Double.NaN;
            }
            return out;
        }

        Vec3 direction(int x) {
            return view.toView.rotate(Environment.fromUv((x + 0.5) / w, (y + 0.5) / h));
        }

        /** Place of a point within a texel whose cell is seen. */
        void at(int x, double u, double v, double[] out) {
            int i = x / side * 3;
            u = (x % side + u) / side;
            v = (y - top + v) / side;
            for (int k = 0; k < 3; k++)
                out[k] = (above[i + k] * (1 - u) + above[i + 3 + k] * u) * (1 - v)
                        + (below[i + k] * (1 - u) + below[i + 3 + k] * u) * v;
        }

        /** Samples to a side of a texel, so that none of the photograph's pixels is left out; 0 where none is seen. */
        int samples(int x) {
            return samples[x / side];
        }

        private int counted(int cell) {
            int i = 3 * cell;
            boolean unseen = Double.isNaN(above[i] + above[i + 3] + below[i] + below[i + 3]);
            if (unseen || Math.abs(above[i] - below[i + 3]) + Math.abs(above[i + 1] - below[i + 4]) > FAR) return 0;
            double facing = (above[i + 2] + below[i + 5]) / 2;
            double ratio = 2 * Math.PI / w / view.photos.view().pixelAngle(facing);
            return (int) Math.max(1, Math.min(MOST_SAMPLES, Math.ceil(SPAN * ratio)));
        }
    }

    /** By pixels for each solid angle. */
    private static double weight(Turned t, Vec3 v, double cos) {
        double rim = step((cos - t.photos.leastCos()) / 0.2);
        return Math.max(
                1e-6,
                cos * rim * rim * Math.max(CAMERA, apart(v, t.photos.view().towardsCamera())));
    }

    /** 0 where the camera and who stands behind it are mirrored, 1 well beside and above. */
    static double apart(Vec3 v, Vec3 camera) {
        double across = Math.atan2(v.cross(camera).y(), v.x() * camera.x() + v.z() * camera.z()),
                up = Math.asin(Math.max(-1, Math.min(1, v.y()))) - Math.asin(Math.max(-1, Math.min(1, camera.y())));
        // A person is taller than wide, and stands below the camera more than above it.
        double high = up > 0 ? up / Math.toRadians(22) : -up / Math.toRadians(75);
        double off = Math.hypot(across / Math.toRadians(22), high);
        return step((off - 0.5) / 0.5);
    }

    private static double step(double t) {
        double k = Math.max(0, Math.min(1, t));
        return k * k * (3 - 2 * k);
    }

    /** Both views of one ball, the second turned onto the first by what both show. */
    public static List<Turned> joined(BallPhotos first, BallPhotos second) {
        List<Turned> out = new ArrayList<>();
        out.add(new Turned(first, Quat.IDENTITY, 1));
        if (second != null) out.add(ViewJoin.turned(first, second));
        return out;
    }
}
