package dasein.app.stage.light;

import dasein.app.stage.Seen;
import dasein.core.BadInput;
import dasein.core.ground.Piece;
import dasein.core.light.Clues;
import dasein.core.light.LightRecipe;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.level.LightLevel;
import dasein.core.light.level.PlateMatch;
import dasein.core.light.pano.MapTurn;
import dasein.core.light.sun.ShadowSun;
import dasein.core.light.sun.SolarPosition;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;

/** The plate's light and the shot's side by side, by what was marked: what the bench shows as proof. */
@Component
class LightProof {
    /** A figure of the plate and the same in this light, in words. */
    record Row(String what, String plate, String light) {}

    private final Clueing clueing;

    LightProof(Clueing clueing) {
        this.clueing = clueing;
    }

    void put(Model m, Seen s) {
        Clues c = s.shot().light().clues();
        if (c.when() != null) when(m, s, c.when());
        if (s.camera() == null || c.marks() == 0) return;
        List<Row> rows = new ArrayList<>();
        List<String> trouble = new ArrayList<>();
        try {
            Lighting now = clueing.now(s, s.first());
            tried(trouble, () -> shadows(m, s, c, now));
            tried(trouble, () -> density(rows, clueing.ground(s), now));
            tried(trouble, () -> softness(m, rows, s, c, now));
            for (Piece p : clueing.casters(s)) tried(trouble, () -> outline(m, s, p));
            tried(trouble, () -> grey(rows, s, c, now));
            tried(trouble, () -> pairs(m, s, c));
        } catch (BadInput e) {
            trouble.add(e.getMessage());
        }
        if (!rows.isEmpty()) m.addAttribute("proofRows", rows);
        if (!trouble.isEmpty()) m.addAttribute("clueTrouble", trouble);
    }

    /** What one kind of mark cannot tell does not keep the others from telling. */
    private static void tried(List<String> trouble, Runnable r) {
        try {
            r.run();
        } catch (BadInput e) {
            trouble.add(e.getMessage());
        }
    }

    private void shadows(Model m, Seen s, Clues c, Lighting now) {
        if (c.shadows().isEmpty()) return;
        ShadowSun.Result r = clueing.sun(s);
        m.addAttribute("sunFound", r);
        m.addAttribute(
                "drawn", r.lines().stream().collect(Collectors.toMap(ShadowSun.Drawn::name, Function.identity())));
        if (now.suns().isEmpty()) return;
        Vec3 is = now.suns().get(0).towards();
        m.addAttribute("sunOff", Math.toDegrees(Math.acos(Math.max(-1, Math.min(1, is.dot(r.towards()))))));
    }

    /** How much of the light a shadow takes, and what colour it has beside lit ground. */
    private static void density(List<Row> rows, PlateMatch.Ground g, Lighting now) {
        if (!(g.ratio() > 0)) return;
        float[] sky = now.environment().irradiance(Vec3.Y), all = now.irradiance(Vec3.Y);
        double[] shaded = new double[3], lit = new double[3];
        for (int k = 0; k < 3; k++) {
            shaded[k] = sky[k];
            lit[k] = all[k];
        }
        rows.add(new Row("shadow takes", taken(g.ratio()), taken(PlateMatch.ratio(now))));
        rows.add(new Row("its tint", tint(g.lit(), g.shaded()), tint(lit, shaded)));
    }

    /** @param ratio of ground in the sun over the same in its shadow */
    private static String taken(double ratio) {
        return said("%.0f %%", 100 * (1 - 1 / ratio));
    }

    /** Red and blue against green. */
    private static String tint(double[] lit, double[] shaded) {
        double green = shaded[1] / lit[1];
        return said("%.2f, %.2f", shaded[0] / lit[0] / green, shaded[2] / lit[2] / green);
    }

    private void softness(Model m, List<Row> rows, Seen s, Clues c, Lighting now) {
        if (c.edges().isEmpty()) return;
        Map<Integer, Double> sizes = new LinkedHashMap<>();
        for (Clues.Edge e : c.edges()) sizes.put(e.id(), clueing.edge(s, e));
        m.addAttribute("edgeSizes", sizes);
        double is = now.suns().stream()
                .findFirst()
                .map(Sun::angleRadians)
                .map(Math::toDegrees)
                .orElse(0.0);
        rows.add(new Row(
                "edges, sun across", said("%.1f deg", clueing.sunSize(s)), is > 0 ? said("%.1f deg", is) : "no sun"));
    }

    /** The sun by what a piece of the set throws, with the button that puts it there. */
    record Outlined(int piece, String name, String said) {}

    private void outline(Model m, Seen s, Piece p) {
        ShadowSun.Result r = clueing.outline(s, p.id());
        List<Outlined> all = new ArrayList<>();
        if (m.getAttribute("outlined") instanceof List<?> had) had.forEach(o -> all.add((Outlined) o));
        String against = r.lines().stream()
                .filter(ShadowSun.Drawn::contradicts)
                .map(ShadowSun.Drawn::name)
                .collect(Collectors.joining(", "));
        all.add(new Outlined(
                p.id(),
                p.name(),
                said(
                        "By the outline of what %s throws the sun stood %.1f high at %.1f degrees, give or take %.1f%s.",
                        p.name(),
                        r.elevationDeg(),
                        r.azimuthDeg(),
                        r.spreadDeg(),
                        against.isEmpty() ? "" : "; " + against + " does not fit")));
        m.addAttribute("outlined", all);
    }

    private void grey(List<Row> rows, Seen s, Clues c, Lighting now) {
        if (c.greys().isEmpty()) return;
        Sun sun = now.suns().isEmpty() ? null : now.suns().get(0);
        LightLevel.Result r = LightLevel.of(now.environment(), sun, clueing.greys(s));
        double[] k = r.map();
        rows.add(new Row(
                "grey ball, sky",
                said("%+.2f stops", r.mapStops()),
                said("colour %.2f, %.2f", k[0] / k[1], k[2] / k[1])));
        if (r.sun() == null || sun == null) return;
        double mean = 0,
                red = r.sun()[0] / sun.irradiance()[0],
                green = r.sun()[1] / sun.irradiance()[1],
                blue = r.sun()[2] / sun.irradiance()[2];
        for (double v : new double[] {red, green, blue}) mean += v / 3;
        rows.add(new Row(
                "grey ball, sun",
                said("%+.2f stops", Math.log(mean) / Math.log(2)),
                said("colour %.2f, %.2f", red / green, blue / green)));
    }

    private void pairs(Model m, Seen s, Clues c) {
        if (c.pairs().isEmpty()) return;
        MapTurn t = MapTurn.of(clueing.camera(s), c.pairs());
        LightRecipe l = s.shot().light();
        double off = t.turnDeg() - l.turnDeg();
        m.addAttribute(
                "turnSaid",
                said(
                        "By what both show the map turns to %.1f degrees (now %+.1f off); then they miss each other by "
                                + "%.1f.",
                        t.turnDeg(), off - 360 * Math.rint(off / 360), t.residualDeg()));
    }

    private static void when(Model m, Seen s, Clues.When w) {
        SolarPosition p = w.sun();
        m.addAttribute(
                "timeSaid",
                p.elevationDeg() < 0
                        ? said("The sun stood %.1f degrees below the horizon then.", -p.elevationDeg())
                        : said(
                                "The sun stood %.2f degrees high then, at %.2f degrees from north over east.",
                                p.elevationDeg(), p.azimuthDeg()));
    }

    private static String said(String format, Object... v) {
        return String.format(Locale.ROOT, format, v);
    }
}
