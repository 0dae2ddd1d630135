package dasein.app.stage.output;

import dasein.app.stage.CallSheet;
import dasein.app.stage.Desk;
import dasein.app.stage.Seen;
import dasein.app.stage.presence.Findings;
import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.format.Stills;
import dasein.core.ground.GroundFit;
import dasein.core.image.Image;
import dasein.core.math.Vec3;
import dasein.core.output.Sheet;
import dasein.core.plate.PlateFacts;
import dasein.core.presence.Finding;
import dasein.core.presence.Verdict;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import java.awt.image.BufferedImage;
import java.io.IOException;
import java.io.OutputStream;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** What a shot is and how it stands, on a few pages for people. */
final class ShotReport {
    private static final int WIDE = 640;
    private static final int PICTURES = 3;

    private final Seen s;
    private final Desk desk;
    private final List<CallSheet.Entry> lines;

    ShotReport(Seen s, List<CallSheet.Entry> lines) {
        this.s = s;
        this.desk = s.desk();
        this.lines = lines;
    }

    void write(OutputStream out) throws IOException {
        String name = s.head().row().name();
        try (Sheet p = new Sheet(name)) {
            p.title(name);
            p.text(s.head().row().showName() + ", revision "
                    + s.head().revision().id() + ", " + LocalDate.now());
            if (s.plate() != null) p.pictures(pictures(), 0.32f);
            p.heading("How it stands");
            p.table(
                    lines.stream()
                            .map(l -> List.of(l.name(), l.state(), l.proof()))
                            .toList(),
                    0.16f,
                    0.14f,
                    0.7f);
            if (s.plate() != null) plate(p);
            if (s.camera() != null) camera(p);
            performers(p);
            light(p);
            findings(p);
            p.write(out);
        }
    }

    /** Finished frames over the whole of the shot; of what is not rendered the plate. */
    private List<BufferedImage> pictures() {
        Shot shot = s.shot();
        List<Integer> rendered = s.renderedInCut();
        List<BufferedImage> out = new ArrayList<>();
        var colour = s.plate().colour().shown();
        try (var lent = desk.plates().need(shot)) {
            for (int k = 0; k < PICTURES; k++) {
                int f = rendered.isEmpty()
                        ? s.cutFirst() + (s.cutLast() - s.cutFirst()) * k / (PICTURES - 1)
                        : rendered.get((rendered.size() - 1) * k / (PICTURES - 1));
                Image im = desk.comps().frame(shot, f);
                if (im == null) im = lent.plate().frame(f);
                out.add(Stills.toBuffered(im.resize(WIDE, Math.round((float) WIDE * im.height / im.width)), colour));
            }
        }
        return out;
    }

    private static String said(String form, Object... v) {
        return String.format(Locale.ROOT, form, v);
    }

    private void plate(Sheet p) throws IOException {
        PlateFacts f = s.plate();
        p.heading("Plate");
        List<List<String>> rows = new ArrayList<>();
        rows.add(List.of("footage", f.kind() + ", " + f.width() + " x " + f.height() + ", " + f.colour().label));
        rows.add(List.of(
                "frames",
                s.cutFirst() + " to " + s.cutLast() + " at " + f.rate().words() + " a second"
                        + (s.first() != s.cutFirst() || s.last() != s.cutLast()
                                ? ", with handles " + s.first() + " to " + s.last()
                                : "")));
        if (!s.shot().plate().notes().isBlank())
            rows.add(List.of("notes", s.shot().plate().notes()));
        for (String w : f.warnings()) rows.add(List.of("to mind", w));
        p.table(rows, 0.16f, 0.84f);
    }

    private void camera(Sheet p) throws IOException {
        SolvedCamera c = s.camera();
        p.heading("Camera, lens and set");
        List<List<String>> rows = new ArrayList<>();
        rows.add(List.of(
                "solve",
                said(
                        "%.2f px RMS over %d frames, %d points, %s",
                        c.rmsPx(), c.frames().size(), c.points().size(), c.kind())));
        double sensor = s.shot().plate().sensorWidthMm(),
                focal = c.frame(c.first()).focalPx();
        rows.add(List.of(
                "lens",
                said("%.0f px", focal)
                        + (sensor > 0 ? said(", %.1f mm on %.1f mm", focal * sensor / c.width(), sensor) : "")
                        + said(", k1 %.4f, k2 %.4f", c.k1(), c.k2())));
        for (String r : c.remarks()) rows.add(List.of("remark", r));
        GroundFit.Result set = desk.results().set(s.shot());
        if (set != null)
            for (GroundFit.Check k : set.checks())
                rows.add(List.of(
                        k.name(),
                        said("%.3f %s measured, %.3f solved, off by %.3f", k.wanted(), k.unit(), k.got(), k.off())));
        p.table(rows, 0.22f, 0.78f);
        plan(p, desk.results().cameraInSet(s.shot()));
    }

    /** From above, north of the set up: the camera's path, points of the ground, and who stands where. */
    private void plan(Sheet p, SolvedCamera c) throws IOException {
        if (c == null || !c.depth()) return;
        Shot shot = s.shot();
        Blocking b = shot.performers().isEmpty() ? null : desk.scenes().blocking(shot);
        int middle = (c.first() + c.last()) / 2;
        List<double[]> who = new ArrayList<>();
        List<String> names = new ArrayList<>();
        double far = 2;
        for (var f : c.frames()) far = Math.max(far, reach(f.pose().position()));
        for (Performer q : shot.performers()) {
            if (b == null || q.flock() != null) continue;
            Vec3 at = b.foot(q.id(), middle);
            who.add(new double[] {at.x(), at.z()});
            names.add(q.name());
            far = Math.max(far, reach(at));
        }
        double k = 1 / (1.15 * far), apart = Math.pow(10, Math.floor(Math.log10(far)));
        p.plan(0.4f, pen -> {
            for (double m = -10; m <= 10; m++) {
                pen.line(k * m * apart, -1, k * m * apart, 1, 0.92f);
                pen.line(-1, k * m * apart, 1, k * m * apart, 0.92f);
            }
            for (var q : c.points())
                pen.dot(k * q.position().x(), k * q.position().z(), 0.9f, 0.6f);
            Vec3 last = null;
            for (var f : c.frames()) {
                Vec3 at = f.pose().position();
                if (last != null) pen.line(k * last.x(), k * last.z(), k * at.x(), k * at.z(), 0);
                last = at;
            }
            if (last != null) pen.word("camera", k * last.x(), k * last.z());
            for (int i = 0; i < who.size(); i++) {
                pen.dot(k * who.get(i)[0], k * who.get(i)[1], 5, 0);
                pen.word(names.get(i), k * who.get(i)[0], k * who.get(i)[1]);
            }
        });
        p.text(said("Set plan, frame %d; lines are %.0f m apart.", middle, apart));
    }

    private static double reach(Vec3 v) {
        return Math.max(Math.abs(v.x()), Math.abs(v.z()));
    }

    private void performers(Sheet p) throws IOException {
        if (s.shot().performers().isEmpty()) return;
        p.heading("Performers");
        p.table(
                s.shot().performers().stream()
                        .map(q -> List.of(
                                q.name(),
                                q.card() != null ? "a card" : said("%.2f m high", q.heightMetres()),
                                said("at %.2f, %.2f m", q.x(), q.z())))
                        .toList(),
                0.3f,
                0.3f,
                0.4f);
    }

    private void light(Sheet p) throws IOException {
        var l = s.shot().light();
        p.heading("Light and passes");
        var q = s.shot().passes();
        p.table(
                List.of(
                        List.of(
                                "light",
                                (l.environment().isEmpty()
                                                ? "no map"
                                                : "a map from the set, turned by " + said("%.1f degrees", l.turnDeg()))
                                        + ", lamps: " + l.lamps().size() + ", flags and leaves: "
                                        + l.blockers().size()),
                        List.of(
                                "passes",
                                said(
                                        "%d of %d frames rendered, %d to %d samples, at %.0f %% of the plate's size",
                                        s.renderedInCut().size(),
                                        s.plate() == null ? 0 : s.cutLast() - s.cutFirst() + 1,
                                        q.minSamples(),
                                        q.maxSamples(),
                                        100 * q.size()))),
                0.16f,
                0.84f);
    }

    private void findings(Sheet p) throws IOException {
        p.heading("Presence");
        List<Finding> all = Findings.of(s);
        if (all.isEmpty()) {
            p.text("Not looked at yet.");
            return;
        }
        var waived = s.shot().presence().waived();
        p.text(Verdict.of(all, waived.keySet()));
        List<List<String>> rows = new ArrayList<>();
        for (Finding f : all) {
            String how =
                    switch (f.state()) {
                        case GOOD -> "good";
                        case FOUND -> waived.containsKey(f.key()) ? "meant so" : "found";
                        case UNSEEN -> "not seen";
                    };
            rows.add(List.of(
                    f.check(),
                    how,
                    f.state() == Finding.State.UNSEEN
                            ? ""
                            : said("%.3g %s, limit %.3g", f.figure(), f.unit(), f.limit()),
                    waived.getOrDefault(f.key(), f.sentence())));
        }
        p.table(rows, 0.2f, 0.1f, 0.25f, 0.45f);
    }
}
