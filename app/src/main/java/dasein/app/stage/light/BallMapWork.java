package dasein.app.stage.light;

import dasein.app.stage.Desk;
import dasein.app.store.Media;
import dasein.app.store.Plates;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.format.SafeWrite;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.light.ball.BallMap;
import dasein.core.light.ball.BallPhotos;
import dasein.core.light.ball.BallProof;
import dasein.core.light.ball.Circle;
import dasein.core.light.ball.Spots;
import dasein.core.light.ball.SunMend;
import dasein.core.light.level.PlateMatch;
import dasein.core.light.photo.Bracket;
import dasein.core.light.photo.Photo;
import dasein.core.shot.Shot;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** Makes a map of the ball's photographs and puts it on the shelf and into the shot. */
@Component
class BallMapWork implements Work {
    static final String KIND = "ballmap";
    private static final int WIDTH = 2048;

    private static final Logger log = LoggerFactory.getLogger(BallMapWork.class);

    private final Desk desk;
    private final MapShelf shelf;

    BallMapWork(Desk desk, MapShelf shelf) {
        this.shelf = shelf;
        this.desk = desk;
    }

    @Override
    public String kind() {
        return KIND;
    }

    @Override
    public String run(Task task, Progress progress) throws Exception {
        Shot s = desk.shots().document(task.revisionId());
        List<Clues.Ball> balls = s.light().clues().balls();
        if (balls.isEmpty()) throw new BadInput("no photographs of a ball were brought in");
        BallPhotos a = view(balls.get(0), null, progress.part(0, 0.4)), b = null;
        if (balls.size() > 1) b = view(balls.get(1), a, progress.part(0.4, 0.7));
        progress.at(0.72, "joining what was seen");
        double ratio = ratio(s);
        String mended = "";
        if (!(ratio > 1))
            try {
                BallPhotos other = b == null ? null : b.sunByFlare();
                a = a.sunByFlare();
                b = other;
                mended = "; its sun mended by the glow around it, which tells less than marked ground would";
            } catch (BadInput e) {
                log.debug("no sun by its flare: {}", e.getMessage());
            }
        List<BallMap.Turned> views = BallMap.joined(a, b);
        double r = balls.get(0).reflectance();
        double[] tint = {r, r, r};
        BallMap.Result m = BallMap.of(views, tint, WIDTH);
        progress.at(0.9, "mending what is cut off");
        Image map = m.map();
        List<Spots.Spot> cutOff = Spots.of(m.clipped(), map);
        boolean sunCut = !cutOff.isEmpty() && cutOff.get(0).towards().y() > 0.02;
        if (sunCut && ratio > 1) {
            map = SunMend.byRatio(map, m.clipped(), ratio).map();
            mended = String.format(Locale.ROOT, "; its sun mended by the ground's ratio of %.2f", ratio);
        }
        BallProof proof = BallProof.of(views.get(0), map, tint);
        Media made = shelf.put(
                task.shotId(),
                map,
                views.size() == 1 ? "ball, one view" : "ball, two views",
                facts(m, proof, sunCut && mended.isEmpty(), mended, views.size()),
                "map of the ball",
                k -> k);
        SafeWrite.to(
                desk.media().result("ballproof", made.hash() + ".png"),
                p -> Stills.writePng(p, proof.picture(), Encoding.SRGB));
        return String.format(
                Locale.ROOT,
                "map made; the ball photographed anew differs by %.2f stops%s%s",
                proof.medianStops(),
                mended,
                sunCut && mended.isEmpty() ? "; its sun is cut off in every photograph" : "");
    }

    private static Map<String, Object> facts(BallMap.Result m, BallProof proof, boolean cut, String mended, int views) {
        Map<String, Object> facts = new LinkedHashMap<>();
        facts.put("made", views == 1 ? "of a ball" : "of two views of a ball");
        facts.put("invented", m.inventedPart());
        facts.put("proofStops", proof.medianStops());
        facts.put("proofWorst", proof.worstStops());
        List<String> said = new ArrayList<>(m.clippedSaid());
        if (!mended.isEmpty()) said.add(mended.substring(2));
        else if (cut) said.add("mark ground in the sun and in the shade, then make it anew: that mends the sun");
        facts.put("said", said);
        return facts;
    }

    /** Of the marked ground; 0 when it was not marked in both. */
    private double ratio(Shot s) {
        if (s.light().clues().patches().isEmpty()) return 0;
        try (Plates.Lent lent = desk.plates().need(s)) {
            return PlateMatch.ground(s.light().clues(), f -> lent.plate().frame(f))
                    .ratio();
        }
    }

    private BallPhotos view(Clues.Ball ball, BallPhotos first, Progress progress) {
        List<Photo> photos = new ArrayList<>();
        ball.photos().stream()
                .sorted(Comparator.comparing(Clues.Photo::name))
                .forEach(p -> photos.add(Photo.read(desk.media().path(p.hash())).named(p.name())));
        Bracket b = Bracket.of(photos, ball.stops().isEmpty() ? null : numbers(ball.stops(), "the stops"));
        double field = ball.fieldDeg() > 0
                ? Math.toRadians(ball.fieldDeg())
                : photos.get(0).exif.field();
        return BallPhotos.of(
                b,
                first == null ? null : first.response(),
                ball.circle().isEmpty() ? null : circle(ball.circle()),
                new BallPhotos.Camera(field),
                progress);
    }

    private static Circle circle(String s) {
        double[] v = numbers(s, "the circle");
        if (v.length != 3 || !(v[2] > 4)) throw new BadInput("the circle must be x, y, radius in pixels");
        return new Circle(v[0], v[1], v[2]);
    }

    static double[] numbers(String s, String what) {
        try {
            double[] v = java.util.Arrays.stream(s.trim().split("[,;\\s]+"))
                    .mapToDouble(Double::parseDouble)
                    .toArray();
            for (double d : v) if (!Double.isFinite(d)) throw new NumberFormatException();
            return v;
        } catch (NumberFormatException e) {
            throw new BadInput(what + " must be numbers with commas between them, not " + s);
        }
    }
}
