package dasein.core.shot;

import dasein.core.solve.CameraMatch;
import dasein.core.solve.Hints;
import dasein.core.solve.LensTerms;
import dasein.core.solve.StillSolver;
import dasein.core.solve.file.CameraExchange;
import java.util.List;
import java.util.function.Consumer;

/**
 * How the camera is found, and which of several solves counts.
 *
 * @param kind {@code auto}, {@code moving}, {@code nodal} or {@code locked}
 * @param focal {@code auto} (near the plate's notes where they say it, unless the camera is locked), {@code unknown},
 *     {@code near} or {@code given} (near the notes, held at them), or {@code zoom}
 * @param terms of the lens that are solved
 * @param smoothPx as of {@link dasein.core.solve.SolveSettings}
 * @param file a camera file to use instead of solving; empty to solve
 * @param reading how that file is to be understood
 * @param lens a calibrated lens to hold; empty to solve it
 * @param lines of the set's axes, from which a locked camera is matched; @param match what else it is matched by
 * @param hints what is said to the solve beside all this
 * @param kept solves that were kept; @param use the fingerprint of that which counts, empty for the one these settings
 *     give
 * @param objects things that move by themselves
 * @param surface mask whose surface carries the perspective of a locked camera from the frame it was drawn in to
 *     others; 0: it stood still
 * @param from the fingerprint of an earlier solve by these settings, of nearly the same tracks, from which this one
 *     goes on; empty for a solve from the start
 * @param marks what it is solved from: {@code hand}, those put by hand alone; empty for all tracks
 */
public record CameraRecipe(
        String kind,
        String focal,
        LensTerms terms,
        double smoothPx,
        String file,
        CameraExchange.Reading reading,
        String lens,
        List<StillSolver.Line> lines,
        Hints hints,
        CameraMatch match,
        List<Kept> kept,
        String use,
        List<Moved> objects,
        int surface,
        String from,
        String marks) {
    public static final String HAND = "hand";

    /** @param print fingerprint of its result */
    public record Kept(String print, String name) {}

    /**
     * @param group the tracks' group; @param distance from the camera to its middle where it is first seen, in the
     *     set's unit, 0 for that of the median point
     */
    public record Moved(int id, String name, int group, double distance) {}

    // What changes how it is solved lets the solve of these settings count again.

    public CameraRecipe withLines(List<StillSolver.Line> l) {
        return but(o -> {
            o.lines = List.copyOf(l);
            o.use = "";
        });
    }

    public CameraRecipe withLens(String l) {
        return but(o -> {
            o.lens = l;
            o.use = "";
        });
    }

    public CameraRecipe withFile(String f, CameraExchange.Reading r) {
        return but(o -> {
            o.file = f;
            o.reading = r;
            o.use = "";
        });
    }

    public CameraRecipe with(Hints h) {
        return but(o -> {
            o.hints = h;
            o.use = "";
        });
    }

    public CameraRecipe with(CameraMatch m) {
        return but(o -> {
            o.match = m;
            o.use = "";
        });
    }

    public CameraRecipe withKept(List<Kept> k, String print) {
        return but(o -> {
            o.kept = List.copyOf(k);
            o.use = print;
        });
    }

    public CameraRecipe withObjects(List<Moved> all) {
        return but(o -> o.objects = List.copyOf(all));
    }

    /** Solved from marks by hand alone, or from all. */
    public CameraRecipe byHand(boolean alone) {
        return but(o -> {
            o.marks = alone ? HAND : "";
            o.use = "";
        });
    }

    public boolean byHand() {
        return marks.equals(HAND);
    }

    /** Solved going on from an earlier solve. */
    public CameraRecipe goingOn(String print) {
        return but(o -> o.from = print);
    }

    /** What the solve itself depends on. */
    public CameraRecipe solving() {
        return withKept(List.of(), "").withObjects(List.of());
    }

    public boolean locked() {
        return kind.equals("locked");
    }

    /** A copy while it is changed, so that a change names only what it changes. */
    private static final class Copy {
        private String kind;
        private String focal;
        private LensTerms terms;
        private double smoothPx;
        private String file;
        private CameraExchange.Reading reading;
        private String lens;
        private List<StillSolver.Line> lines;
        private Hints hints;
        private CameraMatch match;
        private List<Kept> kept;
        private String use;
        private List<Moved> objects;
        private int surface;
        private String from;
        private String marks;
    }

    private CameraRecipe but(Consumer<Copy> change) {
        Copy o = new Copy();
        o.kind = kind;
        o.focal = focal;
        o.terms = terms;
        o.smoothPx = smoothPx;
        o.file = file;
        o.reading = reading;
        o.lens = lens;
        o.lines = lines;
        o.hints = hints;
        o.match = match;
        o.kept = kept;
        o.use = use;
        o.objects = objects;
        o.surface = surface;
        o.from = from;
        o.marks = marks;
        change.accept(o);
        return new CameraRecipe(
                o.kind,
                o.focal,
                o.terms,
                o.smoothPx,
                o.file,
                o.reading,
                o.lens,
                o.lines,
                o.hints,
                o.match,
                o.kept,
                o.use,
                o.objects,
                o.surface,
                o.from,
                o.marks);
    }
}
