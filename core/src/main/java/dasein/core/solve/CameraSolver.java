package dasein.core.solve;

import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.plate.Rate;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Collectors;

/** The camera from its tracks: decides what it did, or is told, and says what a person should know of the result. */
public final class CameraSolver {
    public static final int FEWEST_TRACKS = 8;

    static final int FEWEST_FRAMES = 5;
    /** A nodal solve that leaves more than this at the median mark was no nodal camera, pixels. */
    private static final double NODAL_PX = 0.8;
    /** With less parallax than this the turning camera is tried first, pixels. */
    private static final double LITTLE_PX = 6;
    /** A focal length less certain than this part says nothing of the camera. */
    private static final double ABSURD = 0.3;
    /** With a smaller part of all sightings in it a solve went astray. */
    private static final double LEAST_AGREE = 0.2;

    private CameraSolver() {}

    /** @throws NoSolution with the reason in a sentence */
    public static SolvedCamera solve(
            List<Track> all, int width, int height, Rate rate, SolveSettings s, Progress progress) {
        List<Track> tracks = part(all, s.hints());
        double readout = s.hints().readout();
        if (readout == 0) return atOnce(tracks, width, height, rate, s, progress);
        SolvedCamera c = atOnce(tracks, width, height, rate, s, progress.part(0, 0.4));
        SolveSettings same = s.with(c.kind().equals("nodal") ? SolveSettings.Kind.NODAL : SolveSettings.Kind.MOVING);
        return RollingShutter.solve(
                c,
                tracks,
                readout,
                (from, marks) -> goOn(from, marks, same, MovingSolver.SHIFTED, Progress.NONE),
                progress.part(0.4, 1));
    }

    private static List<Track> part(List<Track> tracks, Hints h) {
        if (h.first() == 0 && h.last() == 0) return tracks;
        return tracks.stream()
                .map(t -> t.within(
                        h.first() == 0 ? Integer.MIN_VALUE : h.first(), h.last() == 0 ? Integer.MAX_VALUE : h.last()))
                .filter(t -> t.length() > 1)
                .toList();
    }

    private static SolvedCamera atOnce(
            List<Track> tracks, int width, int height, Rate rate, SolveSettings s, Progress progress) {
        if (tracks.size() < FEWEST_TRACKS)
            throw new NoSolution(
                    "there are only " + tracks.size() + " tracks; a camera needs at least " + FEWEST_TRACKS);
        Observations obs = new Observations(tracks);
        if (obs.frames < FEWEST_FRAMES)
            throw new NoSolution("there are only " + obs.frames + " frames; a camera needs at least " + FEWEST_FRAMES);
        if (obs.onOneLine(width))
            throw new NoSolution(
                    "all marks lie on one line: they say nothing about the camera; find marks all over the picture");
        List<String> remarks = new ArrayList<>();
        List<Track> standing = still(tracks, width, height, remarks);
        if (standing.size() < tracks.size()) obs = new Observations(standing);
        KindChoice choice = KindChoice.of(obs, width, height);
        SolvedCamera c =
                switch (s.kind()) {
                    case MOVING -> moving(standing, width, height, rate, s, choice, progress);
                    case NODAL -> nodal(standing, width, height, rate, s, choice, remarks, progress);
                    case AUTO -> auto(standing, width, height, rate, s, choice, remarks, progress);
                };
        remarks.add(0, s.kind() == SolveSettings.Kind.NODAL ? choice.reason() : choice.reason(c.kind()));
        return said(c, standing, s, remarks);
    }

    /** With gaps as they are wanted, and what a person should know. */
    private static SolvedCamera said(SolvedCamera solved, List<Track> tracks, SolveSettings s, List<String> remarks) {
        refuseAbsurd(solved, tracks);
        SolvedCamera c = s.hints().fillGaps() ? solved.filled() : solved;
        remarks.addAll(c.remarks());
        remarks.addAll(doubts(c, s));
        return c.with(remarks);
    }

    /** @throws NoSolution where the lens is one that no camera has, or nothing is known of it */
    private static void refuseAbsurd(SolvedCamera c, List<Track> tracks) {
        double seen = tracks.stream().mapToInt(Track::length).sum(),
                agree = c.frames().stream().mapToInt(SolvedCamera.Frame::tracks).sum();
        if (agree < LEAST_AGREE * seen)
            throw new NoSolution(String.format(
                    Locale.ROOT,
                    "only %.0f %% of what the marks show agrees on one camera: most of them may move "
                            + "by themselves, or the lens bends lines strongly. Mask what moves, give the focal length "
                            + "in the plate's notes, or a calibrated lens",
                    100 * agree / seen));
        double off = c.focalOff() / c.lens().focalPx();
        if (!TermChoice.sane(c.lens(), c.width(), c.height()))
            throw new NoSolution(String.format(
                    Locale.ROOT,
                    "the marks lead to a lens that no camera has (focal length %.0f px, k1 %.2f): most of "
                            + "them may move by themselves, as leaves, water and people do. Mask those, or hold the "
                            + "focal length and the lens's terms",
                    c.lens().focalPx(),
                    c.k1()));
        if (off > ABSURD)
            throw new NoSolution(String.format(
                    Locale.ROOT,
                    (c.kind().equals("nodal") ? "the camera stands still, or hardly turned" : "the camera hardly moved")
                            + ": its marks say nothing about the focal length (%.0f px +- %.0f %%). Give it in the "
                            + "plate's notes, or match the frame's perspective",
                    c.lens().focalPx(),
                    100 * off));
    }

    /**
     * Without the groups that move by themselves, which agree among themselves and would else win over what stands
     * where they are many.
     */
    private static List<Track> still(List<Track> tracks, int width, int height, List<String> remarks) {
        Set<Integer> moving = Movers.find(tracks, width, height).stream()
                .flatMap(g -> g.tracks().stream())
                .collect(Collectors.toSet());
        if (moving.isEmpty() || 2 * moving.size() > tracks.size()) return tracks;
        remarks.add(moving.size() + " tracks move by themselves and were left out.");
        return tracks.stream().filter(t -> !moving.contains(t.id())).toList();
    }

    /** With a lens that is known from a calibration: focal length and distortion are held as they are. */
    public static SolvedCamera solve(
            List<Track> tracks, int width, int height, Rate rate, SolveSettings s, Lens held, Progress progress) {
        if (held == null) return solve(tracks, width, height, rate, s, progress);
        SolveSettings straight = new SolveSettings(
                s.kind(), SolveSettings.Focal.HELD, held.focalPx(), LensTerms.NONE, s.smoothPx(), s.seed(), s.hints());
        SolvedCamera c = solve(
                HeldLens.straight(tracks, f -> held, held.focalPx(), width, height),
                width,
                height,
                rate,
                straight,
                progress);
        return c.with(held);
    }

    /**
     * From where an earlier solve of nearly the same tracks stands: for tracks deleted or moved.
     *
     * @param before a solve in its own frame, by the same settings
     */
    public static SolvedCamera again(SolvedCamera before, List<Track> all, SolveSettings s, Progress progress) {
        List<Track> tracks = part(all, s.hints());
        double readout = s.hints().readout();
        if (readout == 0) return goOn(before, tracks, s, MovingSolver.SAME, progress);
        // A readout that was found stays; only the marks have changed.
        double known = readout == Hints.SOLVE_READOUT ? before.readout() : readout;
        SolvedCamera c = RollingShutter.solve(
                before,
                tracks,
                known,
                (from, marks) -> goOn(from, marks, s, MovingSolver.SHIFTED, Progress.NONE),
                progress);
        List<String> said = new ArrayList<>(c.remarks());
        before.remarks().stream().filter(RollingShutter::saysReadout).forEach(said::add);
        return c.with(said);
    }

    private static SolvedCamera goOn(
            SolvedCamera before, List<Track> tracks, SolveSettings s, double[] widest, Progress progress) {
        if (!before.kind().equals("moving"))
            return atOnce(tracks, before.width(), before.height(), before.rate(), s, progress);
        if (tracks.size() < FEWEST_TRACKS)
            throw new NoSolution(
                    "there are only " + tracks.size() + " tracks left; a camera needs at least " + FEWEST_TRACKS);
        List<String> remarks = new ArrayList<>(
                before.remarks().subList(0, Math.min(1, before.remarks().size())));
        List<Track> standing = still(tracks, before.width(), before.height(), remarks);
        SolvedCamera c = MovingSolver.again(before, standing, s, widest, progress);
        return said(c, standing, s, remarks);
    }

    private static SolvedCamera moving(
            List<Track> tracks,
            int width,
            int height,
            Rate rate,
            SolveSettings s,
            KindChoice choice,
            Progress progress) {
        if (choice.still()) throw new NoSolution(choice.reason());
        return MovingSolver.solve(tracks, width, height, rate, s, progress);
    }

    private static SolvedCamera nodal(
            List<Track> tracks,
            int width,
            int height,
            Rate rate,
            SolveSettings s,
            KindChoice choice,
            List<String> remarks,
            Progress progress) {
        if (choice.still()) throw new NoSolution(choice.reason());
        SolvedCamera c = NodalSolver.solve(tracks, width, height, rate, s, choice.parallaxPx(), progress)
                .camera();
        if (choice.moves())
            remarks.add(String.format(
                    Locale.ROOT,
                    "It was solved as nodal because that was asked for, but the marks show %.1f px of "
                            + "parallax: solved as moving it would have depth.",
                    choice.parallaxPx()));
        return c;
    }

    private static SolvedCamera auto(
            List<Track> tracks,
            int width,
            int height,
            Rate rate,
            SolveSettings s,
            KindChoice choice,
            List<String> remarks,
            Progress progress) {
        if (choice.still()) throw new NoSolution(choice.reason());
        if (choice.moves()) {
            if (choice.parallaxPx() < LITTLE_PX) {
                SolvedCamera c = fits(tracks, width, height, rate, s, choice, progress.part(0, 0.3));
                if (c != null) return c;
            }
            try {
                return MovingSolver.solve(tracks, width, height, rate, s, progress);
            } catch (NoSolution e) {
                // A camera that hardly moved may look as if it had: the other way must then fit well.
                SolvedCamera c = fits(tracks, width, height, rate, s, choice, progress);
                if (c == null) throw e;
                remarks.add("Solved as moving it found no answer; as a camera that only turned it fits.");
                return c;
            }
        }
        SolvedCamera c = fits(tracks, width, height, rate, s, choice, progress);
        return c != null ? c : MovingSolver.solve(tracks, width, height, rate, s, progress);
    }

    private static SolvedCamera fits(
            List<Track> tracks,
            int width,
            int height,
            Rate rate,
            SolveSettings s,
            KindChoice choice,
            Progress progress) {
        try {
            NodalSolver.Result r = NodalSolver.solve(tracks, width, height, rate, s, choice.parallaxPx(), progress);
            return r.medianPx() < NODAL_PX ? r.camera() : null;
        } catch (NoSolution e) {
            return null;
        }
    }

    /** What the footage does not determine, and what would help. */
    private static List<String> doubts(SolvedCamera c, SolveSettings s) {
        List<String> out = new ArrayList<>();
        double focal = c.focalOff() / c.lens().focalPx();
        if (focal > 0.03)
            out.add(String.format(
                    Locale.ROOT,
                    "The focal length is uncertain by %.0f %%: the footage hardly determines it. Give it in "
                            + "the notes and hold it, or keep it near.",
                    100 * focal));
        if (c.kind().equals("moving")) {
            double[] d = c.points().stream()
                    .filter(p -> p.off() > 0)
                    .mapToDouble(p -> p.off()
                            / p.position().distance(c.frames().get(0).pose().position()))
                    .sorted()
                    .toArray();
            if (d.length > 0 && d[d.length / 2] > 0.1)
                out.add(String.format(
                        Locale.ROOT,
                        "The camera hardly moved sideways: depth is uncertain by %.0f %% at the median "
                                + "point. Give a yardstick, or use nodal.",
                        100 * d[d.length / 2]));
        }
        if (s.focal() == SolveSettings.Focal.HELD && s.focalPx() > 0 && c.rmsPx() > 1)
            out.add(String.format(
                    Locale.ROOT,
                    "With the focal length held the marks are off by %.1f px: it may be wrong. Solve it, or "
                            + "keep it near.",
                    c.rmsPx()));
        if (!s.hints().measured().isEmpty() && !c.measured())
            out.add("Measured places count only for a camera that moved.");
        if (!c.gaps().isEmpty())
            out.add("Too few marks in the frames " + c.gaps()
                    + ": they are left out. Put marks there, or have the gap filled.");
        long gaps = c.frames().stream().filter(f -> f.tracks() == 0).count();
        if (gaps > 0)
            out.add(gaps + (gaps == 1 ? " frame has" : " frames have")
                    + " too few marks and stand between their neighbours.");
        return out;
    }
}
