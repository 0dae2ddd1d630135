package dasein.core.shot;

import dasein.core.solve.CameraMatch;
import dasein.core.solve.Hints;
import dasein.core.solve.StillSolver;
import dasein.core.solve.file.CameraExchange;
import java.util.List;

/**
 * How the camera is found, and which of several solves counts.
 *
 * @param kind {@code auto}, {@code moving}, {@code nodal} or {@code locked}
 * @param focal {@code unknown}, {@code near} or {@code given} (near the plate's notes, held at them), or {@code zoom}
 * @param tangential also solve p1, p2; @param centre also the principal point
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
 */
public record CameraRecipe(
        String kind,
        String focal,
        boolean solveK1,
        boolean solveK2,
        boolean solveK3,
        boolean tangential,
        boolean centre,
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
        String from) {

    /** @param print fingerprint of its result */
    public record Kept(String print, String name) {}

    /**
     * @param group the tracks' group; @param distance from the camera to its middle where it is first seen, in the
     *     set's unit, 0 for that of the median point
     */
    public record Moved(int id, String name, int group, double distance) {}

    // What changes how it is solved lets the solve of these settings count again.

    public CameraRecipe withLines(List<StillSolver.Line> l) {
        return new CameraRecipe(
                kind,
                focal,
                solveK1,
                solveK2,
                solveK3,
                tangential,
                centre,
                smoothPx,
                file,
                reading,
                lens,
                List.copyOf(l),
                hints,
                match,
                kept,
                "",
                objects,
                surface,
                from);
    }

    public CameraRecipe withLens(String l) {
        return new CameraRecipe(
                kind,
                focal,
                solveK1,
                solveK2,
                solveK3,
                tangential,
                centre,
                smoothPx,
                file,
                reading,
                l,
                lines,
                hints,
                match,
                kept,
                "",
                objects,
                surface,
                from);
    }

    public CameraRecipe withFile(String f, CameraExchange.Reading r) {
        return new CameraRecipe(
                kind,
                focal,
                solveK1,
                solveK2,
                solveK3,
                tangential,
                centre,
                smoothPx,
                f,
                r,
                lens,
                lines,
                hints,
                match,
                kept,
                "",
                objects,
                surface,
                from);
    }

    public CameraRecipe with(Hints h) {
        return new CameraRecipe(
                kind,
                focal,
                solveK1,
                solveK2,
                solveK3,
                tangential,
                centre,
                smoothPx,
                file,
                reading,
                lens,
                lines,
                h,
                match,
                kept,
                "",
                objects,
                surface,
                from);
    }

    public CameraRecipe with(CameraMatch m) {
        return new CameraRecipe(
                kind,
                focal,
                solveK1,
                solveK2,
                solveK3,
                tangential,
                centre,
                smoothPx,
                file,
                reading,
                lens,
                lines,
                hints,
                m,
                kept,
                "",
                objects,
                surface,
                from);
    }

    public CameraRecipe withKept(List<Kept> k, String print) {
        return new CameraRecipe(
                kind,
                focal,
                solveK1,
                solveK2,
                solveK3,
                tangential,
                centre,
                smoothPx,
                file,
                reading,
                lens,
                lines,
                hints,
                match,
                List.copyOf(k),
                print,
                objects,
                surface,
                from);
    }

    public CameraRecipe withObjects(List<Moved> o) {
        return new CameraRecipe(
                kind,
                focal,
                solveK1,
                solveK2,
                solveK3,
                tangential,
                centre,
                smoothPx,
                file,
                reading,
                lens,
                lines,
                hints,
                match,
                kept,
                use,
                List.copyOf(o),
                surface,
                from);
    }

    /** Solved going on from an earlier solve. */
    public CameraRecipe goingOn(String print) {
        return new CameraRecipe(
                kind,
                focal,
                solveK1,
                solveK2,
                solveK3,
                tangential,
                centre,
                smoothPx,
                file,
                reading,
                lens,
                lines,
                hints,
                match,
                kept,
                use,
                objects,
                surface,
                print);
    }

    /** What the solve itself depends on. */
    public CameraRecipe solving() {
        return withKept(List.of(), "").withObjects(List.of());
    }

    public boolean locked() {
        return kind.equals("locked");
    }
}
