package dasein.core.solve;

import dasein.core.lens.Lens;

/**
 * What is known about the camera, and what is to be found out.
 *
 * @param kind what the camera did
 * @param focal what is known of the focal length
 * @param focalPx focal length in pixels of the plate where it is known; 0 when it is not
 * @param terms of the lens; tangential and centre are weakly determined and kept near zero and the middle
 * @param smoothPx strength with which the path is smoothed: a shake of one pixel a frame and frame costs as much as so
 *     many pixels at every mark; 0 for none
 * @param seed of the random samples: same seed, same solve
 * @param hints what a person says beside all this
 */
public record SolveSettings(
        Kind kind, Focal focal, double focalPx, LensTerms terms, double smoothPx, long seed, Hints hints) {
    public static final SolveSettings UNKNOWN = new SolveSettings(Kind.AUTO, Focal.UNKNOWN, 0, LensTerms.FIND, 0, 1);

    public SolveSettings(Kind kind, Focal focal, double focalPx, LensTerms terms, double smoothPx, long seed) {
        this(kind, focal, focalPx, terms, smoothPx, seed, Hints.NONE);
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
        return new SolveSettings(kind, Focal.HELD, px, terms, smoothPx, seed, hints);
    }

    public SolveSettings with(Kind k) {
        return new SolveSettings(k, focal, focalPx, terms, smoothPx, seed, hints);
    }

    public SolveSettings with(Focal f) {
        return new SolveSettings(kind, f, focalPx, terms, smoothPx, seed, hints);
    }

    public SolveSettings with(LensTerms t) {
        return new SolveSettings(kind, focal, focalPx, t, smoothPx, seed, hints);
    }

    public SolveSettings with(Hints h) {
        return new SolveSettings(kind, focal, focalPx, terms, smoothPx, seed, h);
    }

    boolean zooms() {
        return focal == Focal.ZOOM;
    }

    /** Whether a first focal length is given. */
    boolean known() {
        return focalPx > 0 && focal != Focal.UNKNOWN;
    }

    /** The lens terms to solve for from where a lens is known: those that are always wanted, or were found. */
    boolean[] freeLens(Lens from, int width, int height) {
        boolean[] f = new boolean[Bundle.LENS];
        double[] v = LensTerms.values(from, width, height);
        for (int i = 0; i < f.length; i++)
            if (i != Bundle.FOCAL)
                f[i] = terms.ask(i) == LensTerms.Ask.ALWAYS || terms.ask(i) == LensTerms.Ask.FIND && v[i] != 0;
        f[Bundle.FOCAL] = focal == Focal.UNKNOWN || focal == Focal.NEAR;
        return f;
    }

    /** Those that the beginning can bear: focal length and k1. */
    boolean[] firstLens() {
        boolean[] f = new boolean[Bundle.LENS];
        f[Bundle.FOCAL] = focal != Focal.HELD;
        f[Bundle.K1] = terms.k1() != LensTerms.Ask.NEVER;
        return f;
    }
}
