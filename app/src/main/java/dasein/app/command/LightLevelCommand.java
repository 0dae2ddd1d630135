package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.format.Exr;
import dasein.core.format.JsonFile;
import dasein.core.format.SafeWrite;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Sun;
import dasein.core.light.SunSearch;
import dasein.core.light.ball.Circle;
import dasein.core.light.level.GreyBall;
import dasein.core.light.level.LightLevel;
import dasein.core.light.level.Swatch;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Plate;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@Command(name = "level", description = "Level and colour of a map, and its sun's, from surfaces seen in the plate.")
final class LightLevelCommand implements Callable<Integer> {
    @Option(names = "--plate", required = true)
    Path plate;

    @Option(names = "--map", required = true, description = "EXR or HDR")
    Path map;

    @Option(names = "--swatches", required = true, description = "swatches.json: ground, walls, a grey ball")
    Path swatches;

    @Option(names = "--camera", description = "camera.json, where a ball is read: the map's frame is the set's")
    Path camera;

    @Option(names = "--out", required = true, description = "level.json")
    Path out;

    @Option(names = "--map-out", description = "the map at its new level, EXR")
    Path mapOut;

    @Override
    public Integer call() {
        Image picture = Stills.read(map, Encoding.LINEAR);
        SunSearch.Found f = SunSearch.in(picture);
        JsonNode all = JsonFile.read(swatches, 4 << 20, "file of swatches");
        Sun sun = f.sun();
        if (all.path("sun").size() == 3) sun = new Sun(vector(all.path("sun"), "sun"), 0.0093, new float[] {0, 0, 0});
        LightLevel.Result r;
        try (Plate p = Plate.open(plate, null, null)) {
            r = LightLevel.of(new Environment(f.rest(), 0, 1), sun, swatches(p, all, sun));
        }
        Map<String, Object> m = new LinkedHashMap<>();
        m.put("map", r.map());
        m.put("mapStops", r.mapStops());
        m.put("levelKnown", r.levelKnown());
        if (r.sun() != null) m.put("sunIrradiance", r.sun());
        m.put("offStops", r.off());
        SafeWrite.to(out, tmp -> Files.writeString(tmp, new JsonMapper().writeValueAsString(m) + "\n"));
        if (mapOut != null) Exr.writeColour(mapOut, levelled(picture, f, r));
        System.err.printf(
                "the map %+.2f stops, colour %.3f %.3f %.3f%s%n",
                r.mapStops(),
                r.map()[0],
                r.map()[1],
                r.map()[2],
                r.levelKnown() ? "" : "; only the sun against the map: no reflectance was said");
        return 0;
    }

    /** What the sun has too much or too little is put into its own texels. */
    private static Image levelled(Image picture, SunSearch.Found f, LightLevel.Result r) {
        Image to = f.rest().copy();
        for (int c = 0; c < 3; c++) {
            float own = f.sun() == null ? 0 : f.sun().irradiance()[c];
            double k = r.sun() == null || own <= 0 ? r.map()[c] : r.sun()[c] / own;
            for (int i = 0; i < to.planes[c].length; i++) {
                float sky = f.rest().planes[c][i];
                to.planes[c][i] = (float) (r.map()[c] * sky + k * (picture.planes[c][i] - sky));
            }
        }
        return to;
    }

    private List<Swatch> swatches(Plate p, JsonNode all, Sun sun) {
        List<Swatch> out = new ArrayList<>();
        for (JsonNode n : all.path("swatches")) {
            String of = n.path("of").asString("surface " + (out.size() + 1));
            if (n.path("at").size() != 2) throw new BadInput(of + " needs \"at\" as [x, y]");
            double[] light = LightCommand.mean(
                    p.frame(n.path("frame").asInt(p.first())),
                    n.path("at").get(0).asDouble(),
                    n.path("at").get(1).asDouble(),
                    n.path("radius").asDouble(3),
                    of);
            Vec3 normal = n.has("normal") ? vector(n.path("normal"), of) : Vec3.Y;
            out.add(new Swatch(
                    of,
                    light,
                    normal,
                    albedo(n.path("albedo"), of),
                    n.path("lit").asBoolean(false)));
        }
        JsonNode b = all.path("ball");
        if (b.isObject()) {
            if (b.path("circle").size() != 3) throw new BadInput("the ball needs its \"circle\" as [x, y, r]");
            int frame = b.path("frame").asInt(p.first());
            SolvedCamera c = camera == null ? null : CameraFile.read(camera);
            if (c != null && !c.has(frame)) throw new BadInput("the camera of frame " + frame + " is not known");
            Circle circle = new Circle(
                    b.path("circle").get(0).asDouble(),
                    b.path("circle").get(1).asDouble(),
                    b.path("circle").get(2).asDouble());
            out.addAll(GreyBall.swatches(
                    p.frame(frame),
                    circle,
                    b.path("albedo").asDouble(0.18),
                    c == null ? Quat.IDENTITY : GreyBall.facing(c, frame, circle),
                    sun == null ? null : sun.towards()));
        }
        return out;
    }

    private static double[] albedo(JsonNode n, String of) {
        if (n.isMissingNode() || n.isNull()) return null;
        if (n.isNumber()) return new double[] {n.asDouble(), n.asDouble(), n.asDouble()};
        if (n.size() != 3) throw new BadInput("the albedo of " + of + " must be one number or three");
        return new double[] {n.get(0).asDouble(), n.get(1).asDouble(), n.get(2).asDouble()};
    }

    private static Vec3 vector(JsonNode n, String of) {
        if (n.size() != 3) throw new BadInput("a direction of " + of + " must be three numbers");
        Vec3 v = new Vec3(n.get(0).asDouble(), n.get(1).asDouble(), n.get(2).asDouble());
        if (!(v.length() > 1e-6)) throw new BadInput("a direction of " + of + " has no length");
        return v.unit();
    }
}
