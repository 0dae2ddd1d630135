package dasein.app.stage.light;

import dasein.app.stage.Desk;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Sun;
import dasein.core.light.pano.CubeFaces;
import dasein.core.light.pano.Fisheyes;
import dasein.core.light.pano.Levelling;
import dasein.core.light.pano.Turned;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/** Lays cube faces or a fisheye pair out as a map, or brings the shot's map upright and takes its tripod out. */
@Component
class PanoramaWork implements Work {
    static final String KIND = "panorama";
    private static final int WIDEST = 8192, FISHEYE_WIDTH = 4096;

    /**
     * @param photos hashes: six faces in the order front, right, back, left, up, down; or a fisheye to the front and
     *     one to the back; none to level the shot's own map
     * @param verticals of upright lines azimuth, elevation of either end; @param horizon azimuth, elevation of places
     *     on it; degrees
     * @param tripodDeg what lies so near to straight down is filled in; 0 for nothing
     */
    record Wanted(
            List<String> photos, double fieldDeg, List<double[]> verticals, List<double[]> horizon, double tripodDeg) {
        static Wanted of(String json) {
            return new JsonMapper().readValue(json, Wanted.class);
        }

        String json() {
            return new JsonMapper().writeValueAsString(this);
        }
    }

    private final Desk desk;
    private final MapShelf shelf;

    PanoramaWork(Desk desk, MapShelf shelf) {
        this.desk = desk;
        this.shelf = shelf;
    }

    @Override
    public String kind() {
        return KIND;
    }

    @Override
    public String run(Task task, Progress progress) throws Exception {
        Wanted w = Wanted.of(task.settings());
        List<String> said = new ArrayList<>();
        Image map;
        String name, made;
        if (w.photos().isEmpty()) {
            String env = desk.shots().document(task.revisionId()).light().environment();
            if (env.isEmpty()) throw new BadInput("there is no map that could be brought upright");
            map = desk.scenes().map(env);
            name = (desk.shelf().item(env) == null
                            ? "map"
                            : desk.shelf().item(env).name()) + " upright";
            made = "brought upright";
        } else {
            List<Image> photos = new ArrayList<>();
            for (String hash : w.photos()) {
                progress.at(0.4 * photos.size() / w.photos().size(), "reading the pictures");
                photos.add(Stills.read(desk.media().path(hash), Encoding.SRGB));
            }
            progress.at(0.4, "laying the pictures onto the sphere");
            boolean cube = photos.size() == 6;
            map = cube
                    ? CubeFaces.latLong(photos, Math.min(WIDEST, 4 * photos.get(0).width))
                    : Fisheyes.latLong(
                            photos.get(0),
                            Fisheyes.found(photos.get(0)),
                            photos.get(1),
                            Fisheyes.found(photos.get(1)),
                            w.fieldDeg(),
                            FISHEYE_WIDTH);
            name = made = cube ? "of cube faces" : "of a fisheye pair";
        }
        double black = w.photos().isEmpty() ? 0 : Levelling.filled(map);
        progress.at(0.6, "bringing it upright");
        if (!w.verticals().isEmpty() || !w.horizon().isEmpty()) {
            Levelling.Result r = w.verticals().size() >= 2
                    ? Levelling.byVerticals(uv(w.verticals()), 1, 1)
                    : Levelling.byHorizon(uv(w.horizon()), 1, 1);
            map = Turned.by(map, r.turn());
            said.add(String.format(
                    Locale.ROOT, "it leaned by %.2f degrees; what was drawn misses by %.2f", r.tiltDeg(), r.offDeg()));
        }
        progress.at(0.8, "writing the map");
        if (w.tripodDeg() > 0) {
            map = Levelling.patched(map, w.tripodDeg());
            black += (1 - Math.cos(Math.toRadians(w.tripodDeg()))) / 2;
        }
        Map<String, Object> facts = new LinkedHashMap<>();
        facts.put("made", made);
        facts.put("invented", black);
        facts.put("said", said);
        shelf.put(task.shotId(), map, name, facts, "map " + made, k -> k);
        return "map " + made + (said.isEmpty() ? "" : ": " + said.get(0));
    }

    /** Pairs of azimuth and elevation as places of a map of one by one. */
    private static double[][] uv(List<double[]> angles) {
        return angles.stream()
                .map(a -> {
                    double[] out = new double[a.length];
                    for (int k = 0; k + 1 < a.length; k += 2) {
                        double[] q = Environment.toUv(Sun.direction(Math.toRadians(a[k + 1]), Math.toRadians(a[k])));
                        out[k] = q[0];
                        out[k + 1] = q[1];
                    }
                    return out;
                })
                .toArray(double[][]::new);
    }

    /** Groups of numbers, as the page sends them: a,b,c,d;a,b,c,d */
    static List<double[]> groups(String s, int n, String what) {
        if (s.isBlank()) return List.of();
        List<double[]> out = Arrays.stream(s.split(";"))
                .map(g -> BallMapWork.numbers(g, what))
                .toList();
        for (double[] g : out) if (g.length != n) throw new BadInput(what + " must be groups of " + n + " numbers");
        if (out.size() > 60) throw new BadInput("more than 60 of " + what + " are not used");
        return out;
    }
}
