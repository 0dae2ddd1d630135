package dasein.core.solve;

/**
 * What is known about the camera, and what is to be found out.
 *
 * @param kind what the camera did
 * @param focal what is known of the focal length
 * @param focalPx focal length in pixels of the plate where it is known; 0 when it is not
 * @param k1 also solve the first radial distortion term; {@code k2}, {@code k3} the next, which marks determine only
 *     when they reach the corners
 * @param tangential solve p1, p2; @param centre solve the principal point; both are weakly determined and kept near
 *     zero and the middle
 * @param smoothPx strength with which the path is smoothed: a shake of one pixel a frame and frame costs as much as so
 *     many pixels at every mark; 0 for none
 * @param seed of the random samples: same seed, same solve
 * @param hints what a person says beside all this
 */
public record SolveSettings(
        Kind kind,
        Focal focal,
        double focalPx,
        boolean k1,
        boolean k2,
        boolean k3,
        boolean tangential,
        boolean centre,
        double smoothPx,
        long seed,
        Hints hints) {
    public static final SolveSettings UNKNOWN =
            new SolveSettings(Kind.AUTO, Focal.UNKNOWN, 0, true, false, false, false, false, 0, 1);

    public SolveSettings(
            Kind kind,
            Focal focal,
            double focalPx,
            boolean k1,
            boolean k2,
            boolean k3,
            boolean tangential,
            boolean centre,
            double smoothPx,
            long seed) {
        this(kind, focal, focalPx, k1, k2, k3, tangential, centre, smoothPx, seed, Hints.NONE);
    }

    public enum Kind {
        AUTO,
        MOVING,
        NODAL
    }

    public enum Focal {
        UNKNOWN,
        /** Within some percent of the given value. */
        NEAR,
        HELD,
        /** Changes smoothly over the shot. */
        ZOOM
    }

    public SolveSettings withFocal(double px) {
        return new SolveSettings(kind, Focal.HELD, px, k1, k2, k3, tangential, centre, smoothPx, seed, hints);
    }

    public SolveSettings with(Kind k) {
        return new SolveSettings(k, focal, focalPx, k1, k2, k3, tangential, centre, smoothPx, seed, hints);
    }

    public SolveSettings with(Focal f) {
        return new SolveSettings(kind, f, focalPx, k1, k2, k3, tangential, centre, smoothPx, seed, hints);
    }

    public SolveSettings with(Hints h) {
        return new SolveSettings(kind, focal, focalPx, k1, k2, k3, tangential, centre, smoothPx, seed, h);
    }

    boolean zooms() {
        return focal == Focal.ZOOM;
    }

    /** Whether a first focal length is given. */
    boolean known() {
        return focalPx > 0 && focal != Focal.UNKNOWN;
    }

    /** The lens terms to solve for at the end. */
    boolean[] freeLens() {
        boolean[] f = new boolean[Bundle.LENS];
        f[Bundle.FOCAL] = focal == Focal.UNKNOWN || focal == Focal.NEAR;
        f[Bundle.K1] = k1;
        f[Bundle.K2] = k2;
        f[Bundle.K3] = k3;
        f[Bundle.P1] = f[Bundle.P2] = tangential;
        f[Bundle.CENTRE_X] = f[Bundle.CENTRE_Y] = centre;
        return f;
    }

    /** Those that the beginning can bear: focal length and k1. */
    boolean[] firstLens() {
        boolean[] f = new boolean[Bundle.LENS];
        f[Bundle.FOCAL] = focal != Focal.HELD;
        f[Bundle.K1] = k1;
        return f;
    }
}
