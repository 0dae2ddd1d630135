package dasein.core.comp.repair;

import dasein.core.image.Cubic;
import dasein.core.image.Image;
import dasein.core.image.Membrane;
import dasein.core.track.MaskShapes;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.function.IntFunction;

/** Covers parts of the plate's frames with other plate, whose light is brought to that around them. */
public final class Mender {
    /** Frames further apart than this are not looked through for a free place. */
    private static final int FURTHEST = 120;

    private static final double[] NOWHERE = {1, 1, 0, 0};

    private final IntFunction<Image> plate;
    private final int first, last;
    private final MaskShapes shapes;
    private final List<Track> tracks;
    private final IntFunction<Ways> moves;
    private final Beside beside;

    /**
     * @param plate its frames at full size; {@code first} to {@code last} of them may be asked for
     * @param tracks those that repairs may cover, as kept
     * @param moves how the picture moves, by {@link Repair#moves}; null where that is not known
     */
    public Mender(
            IntFunction<Image> plate,
            int first,
            int last,
            MaskShapes shapes,
            List<Track> tracks,
            IntFunction<Ways> moves) {
        this.plate = plate;
        this.first = first;
        this.last = last;
        this.shapes = shapes;
        this.tracks = tracks;
        this.moves = moves;
        beside = new Beside(plate, first, last);
    }

    /**
     * @param image the mended frame, or the plate's own where nothing is covered; @param lost sentences on what could
     *     not be done in this frame
     */
    public record Mended(Image image, List<String> lost) {}

    public Mended frame(int frame, List<Repair> repairs) {
        Image out = plate.apply(frame);
        boolean own = false;
        List<String> lost = new ArrayList<>();
        List<Repair> earlier = new ArrayList<>();
        for (Repair r : repairs) {
            if (!r.on()) continue;
            // What is copied from other frames is free of what was covered in them by what lies beside it.
            IntFunction<Image> others = earlier.isEmpty()
                    ? plate
                    : f -> frame(f, List.copyOf(earlier)).image();
            for (Area a : areas(r, frame, out.width, out.height, lost)) {
                if (!own) out = out.copy();
                own = true;
                cover(out, r, a, frame, others, lost);
            }
            if (r.source() == Repair.Source.BESIDE) earlier.add(r);
        }
        return new Mended(out, List.copyOf(lost));
    }

    private List<Area> areas(Repair r, int frame, int w, int h, List<String> lost) {
        if (r.mask() != 0) {
            float[] m = shapes.at(r.mask(), frame, w, h, 1);
            if (m == null) {
                lost.add(
                        shapes.of(r.mask()) == null
                                ? "the mask of " + r.name() + " is gone"
                                : shapes.of(r.mask()).name() + " is lost by what carries it in frame " + frame);
                return List.of();
            }
            Area a = Area.boxed(m, w, h, r.feather());
            return a == null ? List.of() : List.of(a);
        }
        List<Area> out = new ArrayList<>();
        List<Track> these =
                tracks.stream().filter(k -> r.tracks().contains(k.id())).toList();
        int hidden = 0;
        for (Track t : these) {
            int at = t.at(frame);
            double[] q = at >= 0 ? new double[] {t.x()[at], t.y()[at]} : Companions.place(t, these, frame);
            if (q == null) {
                hidden++;
                continue;
            }
            Area a = Area.disc(t, q[0], q[1], r.radius(), r.feather(), w, h);
            if (a != null) out.add(a);
        }
        int gone = r.tracks().size() - these.size();
        if (gone > 0) lost.add(gone + " of the marks of " + r.name() + " are not followed yet, or were taken out");
        if (hidden > 0)
            lost.add(hidden + " of the marks of " + r.name() + " are not seen in frame " + frame
                    + ", and too few others are that could tell where they are");
        return out;
    }

    private void cover(Image out, Repair r, Area a, int frame, IntFunction<Image> others, List<String> lost) {
        float[][] from = new float[3][a.w() * a.h()];
        float[] found = new float[a.w() * a.h()];
        switch (r.source()) {
            case BESIDE -> beside.copy(out, r, a, from, found);
            case FRAME -> frame(r, a, frame, others, from, found, lost);
            default -> free(r, a, frame, others, from, found, lost);
        }
        for (int c = 0; c < 3; c++) {
            float[] apart = new float[a.w() * a.h()], known = new float[a.w() * a.h()];
            for (int y = 0; y < a.h(); y++)
                for (int x = 0, o = y * a.w(), i = (y + a.y0()) * out.width + a.x0(); x < a.w(); x++, o++, i++) {
                    known[o] = a.part()[o] == 0 ? found[o] : 0;
                    apart[o] = known[o] > 0 ? out.planes[c][i] - from[c][o] : 0;
                }
            Membrane.fill(apart, known, a.w(), a.h());
            for (int y = 0; y < a.h(); y++)
                for (int x = 0, o = y * a.w(), i = (y + a.y0()) * out.width + a.x0(); x < a.w(); x++, o++, i++) {
                    float k = a.part()[o] * found[o];
                    if (k > 0) out.planes[c][i] += k * (Math.max(0, from[c][o] + apart[o]) - out.planes[c][i]);
                }
        }
    }

    private Ways ways(Repair r, List<String> lost) {
        Ways w = r.moves() == Repair.STILL ? Ways.STILL : moves.apply(r.moves());
        if (w == null)
            lost.add(r.name() + " does not know how the picture moves behind it: "
                    + (r.moves() == Repair.GROUND ? "the camera is not solved" : "that mask is not carried"));
        return w;
    }

    private void frame(
            Repair r, Area a, int frame, IntFunction<Image> others, float[][] from, float[] found, List<String> lost) {
        Ways w = ways(r, lost);
        if (w == null) return;
        if (r.from() < first || r.from() > last) {
            lost.add(r.name() + " is copied from frame " + r.from() + ", which the shot does not have");
            return;
        }
        copy(others.apply(r.from()), w, a, frame, r.from(), null, from, found);
    }

    private void free(
            Repair r, Area a, int frame, IntFunction<Image> others, float[][] from, float[] found, List<String> lost) {
        Ways w = ways(r, lost);
        if (w == null) return;
        int open = 0;
        for (float v : a.part()) if (v > 0) open++;
        // First beyond what the mask may cover at all; what is left may lie in a bay of it.
        for (int bays = 0; bays < 2; bays++)
            for (int step = 1; step <= (bays == 0 ? FURTHEST : FURTHEST / 6) && open > 0; step++)
                for (int f : new int[] {frame - step, frame + step}) {
                    if (f < first || f > last || open == 0) continue;
                    // Reading a frame, and its mask, costs more than to see whether anything can come of it.
                    double[] box = shapes.bounds(r.mask(), f);
                    if (box == null || !mayBeFree(w, a, frame, f, bays == 0 ? box : NOWHERE, found)) continue;
                    float[] covered = shapes.at(r.mask(), f, a.wide(), a.high(), 1);
                    if (covered != null) open -= copy(others.apply(f), w, a, frame, f, covered, from, found);
                }
        if (open > 0) lost.add(r.name() + ": " + open + " pixels of frame " + frame + " are free in no other frame");
    }

    /** Whether a pixel that is still to be found lies in the other picture, and beyond what may cover it there. */
    private boolean mayBeFree(Ways w, Area a, int frame, int f, double[] box, float[] found) {
        double[] q = new double[2];
        for (int y = 0; y < a.h(); y++)
            for (int x = 0; x < a.w(); x++) {
                int o = y * a.w() + x;
                if (found[o] > 0 || !(a.part()[o] > 0)) continue;
                if (!w.at(frame, a.x0() + x + 0.5, a.y0() + y + 0.5, f, q)) continue;
                boolean inside = q[0] >= 0 && q[1] >= 0 && q[0] < a.wide() && q[1] < a.high();
                if (inside && (q[0] < box[0] || q[1] < box[1] || q[0] > box[2] || q[1] > box[3])) return true;
            }
        return false;
    }

    /** Fills what is not found yet. @param covered of the other frame, or null. @return covered pixels it filled */
    private int copy(Image im, Ways w, Area a, int frame, int f, float[] covered, float[][] from, float[] found) {
        int[] filled = new int[a.h()];
        Image.rows(a.h(), y -> {
            double[] q = new double[2];
            Cubic at = new Cubic(im.width, im.height);
            for (int x = 0, o = y * a.w(); x < a.w(); x++, o++) {
                if (found[o] > 0) continue;
                if (!w.at(frame, a.x0() + x + 0.5, a.y0() + y + 0.5, f, q)) continue;
                int u = (int) Math.floor(q[0]), v = (int) Math.floor(q[1]);
                if (u < 0 || v < 0 || u >= im.width || v >= im.height) continue;
                if (covered != null && covered[v * im.width + u] > 0) continue;
                at.at((float) (q[0] - 0.5), (float) (q[1] - 0.5));
                for (int c = 0; c < 3; c++) from[c][o] = Math.max(0, at.of(im.planes[c]));
                found[o] = 1;
                if (a.part()[o] > 0) filled[y]++;
            }
        });
        int n = 0;
        for (int k : filled) n += k;
        return n;
    }
}
