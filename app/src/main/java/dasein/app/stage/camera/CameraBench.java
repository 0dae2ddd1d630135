package dasein.app.stage.camera;

import dasein.app.stage.Desk;
import dasein.app.stage.Seen;
import dasein.core.lens.Lens;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.solve.CameraMatch;
import dasein.core.solve.Cleaning;
import dasein.core.solve.Hints;
import dasein.core.solve.SolveDifference;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.StillSolver;
import dasein.core.solve.file.CameraExchange;
import dasein.core.track.DrawnMask;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import tools.jackson.databind.JsonNode;

/** What the panel of the Camera stage shows. */
@Component
class CameraBench {
    private final Desk desk;

    CameraBench(Desk desk) {
        this.desk = desk;
    }

    void fill(Model m, Seen s) {
        Shot shot = s.shot();
        SolvedCamera c = s.camera();
        PlateFacts p = s.plate();
        m.addAttribute("trackFacts", s.facts("tracks", Prints.tracks(shot)));

        m.addAttribute("lenses", desk.shelf().shelf("lens"));
        m.addAttribute(
                "surfaces",
                shot.tracks().masks().stream()
                        .filter(k -> k.carry() == DrawnMask.Carry.PLANE)
                        .toList());
        m.addAttribute("turns", CameraExchange.TURNS.keySet());
        if (shot.camera().locked()) m.addAttribute("lineErrors", lineErrors(shot, c));
        if (shot.camera().locked()) m.addAttribute("placeErrors", placeErrors(shot, c));
        double readout = shot.camera().hints().readout();
        m.addAttribute(
                "readoutMs",
                p == null || readout == 0 || readout == Hints.SOLVE_READOUT
                        ? ""
                        : String.format(
                                Locale.ROOT, "%.2f", 1000 * readout / p.rate().perSecond()));
        m.addAttribute("findsReadout", readout == Hints.SOLVE_READOUT);
        m.addAttribute("keptSolves", keptSolves(shot, c));
        m.addAttribute(
                "movers",
                shot.tracks().groups().stream()
                        .filter(g ->
                                g.moving() && shot.camera().objects().stream().noneMatch(o -> o.group() == g.id()))
                        .toList());
        m.addAttribute(
                "things",
                shot.camera().objects().stream()
                        .map(o -> new Thing(o, s.facts("object", Prints.object(shot, o))))
                        .toList());
        if (c == null) return;
        m.addAttribute(
                "worst",
                c.points().stream()
                        .sorted(Comparator.comparingDouble(q -> -q.rmsPx()))
                        .limit(6)
                        .toList());
        m.addAttribute(
                "mm",
                shot.plate().sensorWidthMm() > 0
                        ? c.frames().get(0).focalPx() * shot.plate().sensorWidthMm() / c.width()
                        : 0.0);
        m.addAttribute(
                "above",
                c.points().stream().filter(q -> q.rmsPx() > Cleaning.limit(c)).count());
        m.addAttribute("bars", bars(c));
        m.addAttribute(
                "focalSaid",
                focal(c, shot.plate().sensorWidthMm())
                        + (shot.plate().focalMm() > 0 && shot.plate().sensorWidthMm() > 0
                                ? String.format(
                                        Locale.ROOT,
                                        "; the notes say %.4g",
                                        shot.plate().focalMm())
                                : ""));
        m.addAttribute("bentSaid", bent(c));
    }

    /** "28.03 mm +- 0.05", in pixels where the film back is not known, and from where to where a zoom goes. */
    private static String focal(SolvedCamera c, double sensorMm) {
        double k = sensorMm > 0 ? sensorMm / c.width() : 1, lo = Double.MAX_VALUE, hi = 0;
        String unit = sensorMm > 0 ? "mm" : "px";
        for (SolvedCamera.Frame f : c.frames()) {
            lo = Math.min(lo, f.focalPx() * k);
            hi = Math.max(hi, f.focalPx() * k);
        }
        String off = Double.isNaN(c.focalOff()) || c.focalOff() == 0
                ? c.focalOff() == 0 ? ", held" : ""
                : String.format(Locale.ROOT, sensorMm > 0 ? " \u00b1 %.2f" : " \u00b1 %.1f", c.focalOff() * k);
        return hi - lo > 0.002 * hi
                ? String.format(Locale.ROOT, "%.2f to %.2f %s%s", lo, hi, unit, off)
                : String.format(Locale.ROOT, sensorMm > 0 ? "%.2f %s%s" : "%.1f %s%s", lo, unit, off);
    }

    record LineError(int index, String axis, String off) {}

    private static List<LineError> lineErrors(Shot s, SolvedCamera c) {
        double[] off = c == null ? null : StillSolver.residuals(s.camera().lines(), c);
        List<LineError> out = new ArrayList<>();
        for (int i = 0; i < s.camera().lines().size(); i++)
            out.add(new LineError(
                    i,
                    s.camera().lines().get(i).axis().name().toLowerCase(Locale.ROOT),
                    off == null ? "" : String.format(Locale.ROOT, "%.1f px", off[i])));
        return out;
    }

    private static List<LineError> placeErrors(Shot s, SolvedCamera c) {
        List<CameraMatch.Placed> all = s.camera().match().points();
        double[] off = c == null || all.size() < 4 ? null : StillSolver.pointResiduals(all, c);
        List<LineError> out = new ArrayList<>();
        for (int i = 0; i < all.size(); i++)
            out.add(new LineError(i, "", off == null ? "" : String.format(Locale.ROOT, "%.1f px", off[i])));
        return out;
    }

    /** A solve that was kept, or the one of the present settings (print empty). */
    record KeptSolve(String print, String name, String said, String differs, boolean counts) {}

    private List<KeptSolve> keptSolves(Shot s, SolvedCamera now) {
        if (s.camera().kept().isEmpty()) return List.of();
        List<KeptSolve> out = new ArrayList<>();
        String counts = Prints.camera(s), own = Prints.settings(s);
        if (s.camera().kept().stream().noneMatch(k -> k.print().equals(own)))
            out.add(new KeptSolve(
                    "",
                    "as set now",
                    said(desk.results().facts("camera", own)),
                    "",
                    s.camera().use().isEmpty()));
        for (CameraRecipe.Kept k : s.camera().kept()) {
            boolean mine = k.print().equals(counts);
            SolvedCamera c = mine || now == null ? null : desk.results().keptSolve(k.print());
            SolveDifference d = c == null ? null : SolveDifference.of(now, c);
            out.add(new KeptSolve(
                    k.print(),
                    k.name(),
                    said(desk.results().facts("camera", k.print())),
                    d == null
                            ? ""
                            : String.format(
                                    Locale.ROOT,
                                    "path differs by %.2f %%, direction by %.2f deg, focal length by %.2f %%",
                                    100 * d.path(),
                                    d.turnDeg(),
                                    100 * d.focal()),
                    mine));
        }
        return out;
    }

    private static String said(JsonNode f) {
        return f == null
                ? "not solved"
                : String.format(
                        Locale.ROOT,
                        "%.2f px, focal %.0f px, %d frames, %d points",
                        f.path("rms").asDouble(),
                        f.path("focalPx").asDouble(),
                        f.path("frames").asInt(),
                        f.path("points").asInt());
    }

    /** A thing that moves by itself, and what came of it; null while it is not solved. */
    record Thing(CameraRecipe.Moved of, JsonNode facts) {
        public String said() {
            return facts == null
                    ? "not solved"
                    : String.format(
                            Locale.ROOT,
                            "%.2f px, frames %d to %d, %.2f away at first",
                            facts.path("rms").asDouble(),
                            facts.path("from").asInt(),
                            facts.path("to").asInt(),
                            facts.path("distance").asDouble());
        }
    }

    private static String bent(SolvedCamera c) {
        Lens l = c.lens();
        List<String> out = new ArrayList<>(List.of(String.format(Locale.ROOT, "k1 %.4f", l.k1())));
        if (l.k2() != 0) out.add(String.format(Locale.ROOT, "k2 %.4f", l.k2()));
        if (l.k3() != 0) out.add(String.format(Locale.ROOT, "k3 %.4f", l.k3()));
        if (l.p1() != 0 || l.p2() != 0) out.add(String.format(Locale.ROOT, "p %.5f, %.5f", l.p1(), l.p2()));
        double x = l.centreX() - c.width() / 2.0, y = l.centreY() - c.height() / 2.0;
        if (x != 0 || y != 0) out.add(String.format(Locale.ROOT, "centre %+.1f, %+.1f px", x, y));
        return String.join(", ", out);
    }

    /** Histogram of per-track errors for the proof: share of the tallest in [0, 1], 34 bins of 0.05 px. */
    private static List<Double> bars(SolvedCamera c) {
        int[] n = new int[34];
        for (SolvedCamera.Point q : c.points()) n[Math.min(33, (int) (q.rmsPx() * 20))]++;
        int most = 1;
        for (int k : n) most = Math.max(most, k);
        List<Double> out = new ArrayList<>();
        for (int k : n) out.add((double) k / most);
        return out;
    }
}
