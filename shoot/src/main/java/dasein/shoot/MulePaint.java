package dasein.shoot;

import static dasein.shoot.Noise.*;

/** The mule's paints: hull enamel over its sheet, with what wheels have thrown at it, and tyres. */
final class MulePaint {
    /** Half the width of a gap between panels, its depth, metres. */
    private static final double GAP = 0.0035, DEPTH = 0.004;

    private static final double RIVETS = 0.065;

    private MulePaint() {}

    /** A place on the hull by what row of the sheet it lies in: along (or across, for the ends), up or across. */
    private record Place(int row, double a, double b) {}

    private static Place place(double u, double v) {
        if (v < MuleHull.ABOVE - 0.005)
            return new Place(
                    0,
                    (u - MuleHull.LEFT) / MuleHull.SCALE + MuleHull.STERN,
                    MuleHull.TOP - (v - MuleHull.SIDE) / MuleHull.SCALE);
        if (v < MuleHull.ENDS - 0.003)
            return new Place(
                    1,
                    (u - MuleHull.LEFT) / MuleHull.SCALE + MuleHull.STERN,
                    (v - MuleHull.ABOVE) / MuleHull.SCALE + MuleHull.EDGE);
        boolean back = u > MuleHull.BACK - 0.01;
        return new Place(
                back ? 3 : 2,
                (u - (back ? MuleHull.BACK : MuleHull.LEFT)) / MuleHull.SCALE + MuleHull.EDGE,
                MuleHull.TOP - (v - MuleHull.ENDS) / MuleHull.SCALE);
    }

    /** Distance to the nearest gap between panels. */
    private static double gap(Place p) {
        double d = 9;
        if (p.row == 0) {
            for (double z : new double[] {-1.02, -0.08, 0.88, 1.30}) d = Math.min(d, Math.abs(p.a - z));
            d = Math.min(d, Math.abs(p.b - 0.655));
            d = Math.min(d, Math.abs(box(p.a - 0.42, p.b - 1.06, 0.31, 0.24, 0.05)));
        } else if (p.row == 1) {
            for (double z : new double[] {-0.08, 0.92, 1.42}) d = Math.min(d, Math.abs(p.a - z));
            d = Math.min(d, Math.abs(Math.abs(p.b) - 0.33));
        } else {
            d = Math.min(d, Math.abs(p.b - 0.70));
            d = Math.min(d, Math.abs(Math.abs(p.a) - 0.33));
        }
        return d;
    }

    /** Signed distance to a rectangle with round corners. */
    private static double box(double x, double y, double w, double h, double r) {
        double qx = Math.abs(x) - w + r, qy = Math.abs(y) - h + r;
        return Math.hypot(Math.max(qx, 0), Math.max(qy, 0)) + Math.min(Math.max(qx, qy), 0) - r;
    }

    /** How much mud lies there: low down all along, and in fans behind each wheel. */
    private static double mud(Place p) {
        double low = 0.9 * (1 - smooth(0.42f, 0.74f, (float) p.b)), fan = 0;
        if (p.row == 1) return 0.12;
        if (p.row > 1) return 0.75 * low + (p.row == 3 ? 0.35 * (1 - smooth(0.7f, 1.1f, (float) p.b)) : 0);
        for (double axle : Mule.AXLES) {
            double dz = axle - p.a - 0.30, dy = p.b - 0.66 - 0.25 * Math.max(0, dz);
            fan = Math.max(fan, Math.exp(-dz * dz / 0.05 - dy * dy / 0.05));
        }
        return Math.min(1, low + 0.8 * fan);
    }

    static Paint hull() {
        return new Paint(2048, (u, v, d) -> {
            Place p = place(u, v);
            float mid = octaves(u, v, 12, 5, 401), fine = octaves(u, v, 220, 3, 402);
            float l = 0.92f + 0.20f * (mid - 0.5f) + 0.08f * (fine - 0.5f);
            d.colour(0.42f * l, 0.165f * l, 0.028f * l);
            d.roughness = 0.34f + 0.18f * mid;
            // A pale band along the flank, sun-bleached tops.
            float band = p.row == 0 ? 1 - smooth(0.026f, 0.029f, (float) Math.abs(p.b - 0.93)) : 0;
            d.mix(0.50f * l, 0.46f * l, 0.38f * l, band);
            if (p.row == 1) d.mix(0.50f * l, 0.24f * l, 0.07f * l, 0.25f + 0.3f * mid);
            double gap = gap(p);
            float open = 1 - smooth((float) (0.6 * GAP), (float) GAP, (float) gap);
            float edge = 1 - smooth(0, 0.02f, (float) gap);
            // Chipped first along edges: primer, then rust that runs.
            float chip = octaves(u, v, 46, 6, 403) + 0.13f * edge + 0.10f * (octaves(u, v, 7, 3, 409) - 0.62f);
            float primer = smooth(0.665f, 0.675f, chip), rust = smooth(0.69f, 0.73f, chip);
            d.mix(0.20f, 0.16f, 0.13f, primer);
            d.mix(0.13f, 0.045f, 0.018f, rust);
            d.roughness += (0.8f - d.roughness) * primer;
            float run = p.row == 1 ? 0 : 0.35f * smooth(0.56f, 0.72f, octaves(u, 0.22 * v, 150, 4, 405));
            d.mix(0.17f, 0.075f, 0.03f, run);
            // Rivets along the gaps, a soft dent here and there.
            double along = p.row == 0 ? p.b : p.a, off = Math.abs(gap - 0.018);
            double step = Math.abs(along / RIVETS - Math.rint(along / RIVETS)) * RIVETS;
            float rivet = 1 - smooth(0.0035f, 0.006f, (float) Math.hypot(off, step));
            float soil = mudded(u, v, mud(p));
            d.mix(0.145f, 0.115f, 0.082f, 0.93f * soil);
            d.roughness += (0.93f - d.roughness) * soil;
            d.mix(0.03f, 0.022f, 0.016f, 0.75f * open);
            d.height = (float) (MuleHull.SCALE
                    * (-DEPTH * open * (1 - 0.6 * soil)
                            + 0.0018 * rivet * (1 - soil)
                            - 0.0006 * primer
                            - 0.0005 * rust
                            + 0.0022 * soil * octaves(u, v, 160, 3, 406)
                            + 0.00012 * fine
                            + 0.006 * octaves(u, v, 9, 2, 407)));
        });
    }

    /** Spattered where there is little, closed where there is much. */
    private static float mudded(double u, double v, double much) {
        float n = octaves(u, v, 60, 6, 404), drops = octaves(u, v, 190, 3, 408);
        return Math.max(
                smooth(0.02f, 0.22f, (float) (much - 0.35 - 0.9 * (1 - n) + 0.45)),
                smooth(0.74f, 0.78f, drops + 0.22f * (float) Math.min(1, much)));
    }

    static Paint tyre() {
        return new Paint(256, (u, v, d) -> {
            float mid = octaves(u, v, 10, 5, 411),
                    dust = smooth(0.40f, 0.75f, octaves(u, v, 16, 6, 412)),
                    l = 0.8f + 0.5f * (mid - 0.5f);
            d.colour(0.022f * l, 0.022f * l, 0.023f * l);
            d.mix(0.145f, 0.115f, 0.082f, 0.3f * dust);
            d.roughness = 0.85f;
            d.height = 0.003f * mid;
        });
    }
}
