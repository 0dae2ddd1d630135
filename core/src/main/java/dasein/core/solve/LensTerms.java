package dasein.core.solve;

import dasein.core.lens.Lens;
import java.util.stream.Stream;

/**
 * What is asked for each term of the lens beside its focal length: radial k1, k2, k3, tangential p1 and p2 together,
 * and the centre.
 */
public record LensTerms(Ask k1, Ask k2, Ask k3, Ask tangential, Ask centre) {
    public enum Ask {
        /** It counts where the marks determine it ({@link TermChoice}). */
        FIND,
        ALWAYS,
        NEVER
    }

    public static final LensTerms FIND = new LensTerms(Ask.FIND, Ask.FIND, Ask.FIND, Ask.FIND, Ask.FIND),
            NONE = of(false, false, false, false, false);

    /** Always where true, else never. */
    public static LensTerms of(boolean k1, boolean k2, boolean k3, boolean tangential, boolean centre) {
        return new LensTerms(ask(k1), ask(k2), ask(k3), ask(tangential), ask(centre));
    }

    private static Ask ask(boolean always) {
        return always ? Ask.ALWAYS : Ask.NEVER;
    }

    /** Whether any is to be found. */
    boolean finds() {
        return Stream.of(k1, k2, k3, tangential, centre).anyMatch(a -> a == Ask.FIND);
    }

    /** What is asked for one of the bundle's unknowns of the lens. */
    Ask ask(int unknown) {
        return switch (unknown) {
            case Bundle.K1 -> k1;
            case Bundle.K2 -> k2;
            case Bundle.K3 -> k3;
            case Bundle.P1, Bundle.P2 -> tangential;
            case Bundle.CENTRE_X, Bundle.CENTRE_Y -> centre;
            default -> throw new IllegalArgumentException("no term " + unknown);
        };
    }

    /** A lens's terms by the bundle's numbers; the centre as its way from the picture's middle, pixels. */
    static double[] values(Lens l, int width, int height) {
        double[] v = new double[Bundle.LENS];
        v[Bundle.K1] = l.k1();
        v[Bundle.K2] = l.k2();
        v[Bundle.K3] = l.k3();
        v[Bundle.P1] = l.p1();
        v[Bundle.P2] = l.p2();
        v[Bundle.CENTRE_X] = l.centreX() - width / 2.0;
        v[Bundle.CENTRE_Y] = l.centreY() - height / 2.0;
        return v;
    }

    /** The lens with every term at rest that is not free. */
    static Lens rested(Lens l, boolean[] free, int width, int height) {
        double[] v = values(l, width, height);
        for (int i = 0; i < v.length; i++) if (!free[i]) v[i] = 0;
        return lens(l.focalPx(), v, width, height);
    }

    /** The lens with such terms. */
    static Lens lens(double focalPx, double[] v, int width, int height) {
        return new Lens(
                focalPx,
                width / 2.0 + v[Bundle.CENTRE_X],
                height / 2.0 + v[Bundle.CENTRE_Y],
                v[Bundle.K1],
                v[Bundle.K2],
                v[Bundle.K3],
                v[Bundle.P1],
                v[Bundle.P2]);
    }
}
