package dasein.core.solve;

import dasein.core.lens.Lens;
import java.util.ArrayList;
import java.util.List;

/**
 * What is asked of a solve beside its marks, as residuals in pixels: weakly determined lens terms near their usual
 * values, a focal length near a known one, a zoom and a path without haste.
 */
final class Wishes implements Bundle.Penalties {
    /** How near is near: one standard deviation. */
    private static final double FOCAL_PART = 0.04, CENTRE_PART = 0.015, TANGENTIAL = 0.003, K3 = 0.3;
    /** A wish against one standard deviation weighs as this many pixels do. */
    private static final double PX = 3;
    /** A zoom that jumps by a pixel at the picture's edge from frame to frame weighs as this many. */
    private static final double ZOOM = 10;

    private final SolveSettings settings;
    private final int width, height;
    /** Frame number of each camera, rising. */
    private final int[] frames;
    /** Marks in the mean frame, and the distance of the median point. */
    private final double marks, depth;

    Wishes(SolveSettings settings, int width, int height, int[] frames, double marks, double depth) {
        this.settings = settings;
        this.width = width;
        this.height = height;
        this.frames = frames;
        this.marks = marks;
        this.depth = depth;
    }

    @Override
    public List<Bundle.Penalty> of(Bundle b, Rigid[] cams, double[] zoom, Lens l) {
        List<Bundle.Penalty> out = new ArrayList<>();
        if (settings.focal() == SolveSettings.Focal.NEAR && b.lensAt(Bundle.FOCAL) >= 0)
            near(out, b.lensAt(Bundle.FOCAL), Math.log(l.focalPx() / settings.focalPx()), FOCAL_PART);
        if (b.lensAt(Bundle.CENTRE_X) >= 0) {
            near(out, b.lensAt(Bundle.CENTRE_X), l.centreX() - width / 2.0, CENTRE_PART * width);
            near(out, b.lensAt(Bundle.CENTRE_Y), l.centreY() - height / 2.0, CENTRE_PART * width);
        }
        if (b.lensAt(Bundle.P1) >= 0) {
            near(out, b.lensAt(Bundle.P1), l.p1(), TANGENTIAL);
            near(out, b.lensAt(Bundle.P2), l.p2(), TANGENTIAL);
        }
        if (b.lensAt(Bundle.K3) >= 0) near(out, b.lensAt(Bundle.K3), l.k3(), K3);
        for (int c = 1; c + 1 < cams.length; c++) {
            double d0 = frames[c] - frames[c - 1], d1 = frames[c + 1] - frames[c];
            double[] slope = {1 / d0, -1 / d0 - 1 / d1, 1 / d1};
            if (settings.zooms()) {
                double w = ZOOM * 0.5 * width;
                out.add(new Bundle.Penalty(
                        new int[] {b.zoomAt(c - 1), b.zoomAt(c), b.zoomAt(c + 1)},
                        times(slope, w),
                        w * (slope[0] * zoom[c - 1] + slope[1] * zoom[c] + slope[2] * zoom[c + 1])));
            }
            if (settings.smoothPx() > 0) smooth(out, b, cams, c, slope, d0, d1, l.focalPx());
        }
        return out;
    }

    private static void near(List<Bundle.Penalty> out, int at, double off, double deviation) {
        out.add(new Bundle.Penalty(new int[] {at}, new double[] {PX / deviation}, PX * off / deviation));
    }

    private static double[] times(double[] a, double s) {
        return new double[] {a[0] * s, a[1] * s, a[2] * s};
    }

    /** Change of speed and of turning, as it moves the median point's image. */
    private void smooth(
            List<Bundle.Penalty> out,
            Bundle b,
            Rigid[] cams,
            int c,
            double[] slope,
            double d0,
            double d1,
            double focal) {
        double w = settings.smoothPx() * Math.sqrt(marks) * focal;
        double[] before = turn(cams[c - 1], cams[c]), after = turn(cams[c], cams[c + 1]);
        for (int k = 0; k < 3; k++) {
            out.add(new Bundle.Penalty(
                    new int[] {b.turnAt(c - 1) + k, b.turnAt(c) + k, b.turnAt(c + 1) + k},
                    times(slope, w),
                    w * (after[k] / d1 - before[k] / d0)));
            if (depth <= 0) continue;
            double v = w / depth;
            out.add(new Bundle.Penalty(
                    new int[] {b.moveAt(c - 1) + k, b.moveAt(c) + k, b.moveAt(c + 1) + k},
                    times(slope, v),
                    v * (slope[0] * cams[c - 1].c[k] + slope[1] * cams[c].c[k] + slope[2] * cams[c + 1].c[k])));
        }
    }

    /** Rotation vector that takes one camera's axes to the next one's. */
    private static double[] turn(Rigid a, Rigid b) {
        double[] t = {a.r[0], a.r[3], a.r[6], a.r[1], a.r[4], a.r[7], a.r[2], a.r[5], a.r[8]};
        dasein.core.math.Quat q = dasein.core.math.Quat.fromMatrix(Rigid.multiply(b.r, t));
        double n = Math.sqrt(q.x() * q.x() + q.y() * q.y() + q.z() * q.z()),
                k = n < 1e-12 ? 2 : 2 * Math.atan2(n, q.w()) / n;
        if (q.w() < 0) k = n < 1e-12 ? 2 : 2 * Math.atan2(-n, -q.w()) / n;
        return new double[] {k * q.x(), k * q.y(), k * q.z()};
    }
}
