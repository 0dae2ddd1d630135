package dasein.core.solve.file;

import dasein.core.BadInput;
import dasein.core.format.SafeWrite;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.Reach;
import dasein.core.solve.SolvedCamera;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The solve as JSON, schema {@code dasein-camera/1}: poses camera-to-world (row-major 3x4), camera looks along -Z, +Y
 * up.
 */
public final class CameraFile {
    private static final String SCHEMA = "dasein-camera/1";
    private static final long MAX_BYTES = 200L << 20;
    private static final JsonMapper JSON = new JsonMapper();

    private CameraFile() {}

    public static String toJson(SolvedCamera s) {
        ObjectNode o = JSON.createObjectNode();
        o.put("schema", SCHEMA)
                .put("width", s.width())
                .put("height", s.height())
                .put("rate", s.rate().toString())
                .put("kind", s.kind());
        o.put("rmsPx", s.rmsPx()).put("parallaxPx", s.parallaxPx());
        if (s.readout() != 0) o.put("readout", s.readout());
        if (s.measured()) o.put("measured", true);
        ObjectNode lens = o.putObject("lens");
        lens.put("k1", s.k1())
                .put("k2", s.k2())
                .put("k3", s.lens().k3())
                .put("p1", s.lens().p1())
                .put("p2", s.lens().p2());
        lens.putArray("centrePx").add(s.centreX()).add(s.centreY());
        ArrayNode frames = o.putArray("frames");
        for (SolvedCamera.Frame f : s.frames()) {
            ObjectNode n = frames.addObject();
            n.put("frame", f.frame());
            ArrayNode m = n.putArray("cameraToWorld");
            for (double v : f.pose().matrix()) m.add(v);
            n.put("focalPx", f.focalPx()).put("rmsPx", f.rmsPx()).put("tracks", f.tracks());
            if (!Double.isNaN(f.off()))
                n.putObject("uncertainty").put("path", f.off()).put("rotationDeg", f.offDeg());
        }
        ArrayNode points = o.putArray("points");
        for (SolvedCamera.Point p : s.points()) {
            ObjectNode n = points.addObject();
            n.put("id", p.id());
            n.putArray("position")
                    .add(p.position().x())
                    .add(p.position().y())
                    .add(p.position().z());
            n.put("rmsPx", p.rmsPx());
            if (!Double.isNaN(p.off())) n.put("uncertainty", p.off());
        }
        if (!Double.isNaN(s.focalOff())) o.putObject("uncertainty").put("focalPx", s.focalOff());
        if (s.reach() != null) {
            ObjectNode r = o.putObject("reach");
            r.put("near", s.reach().near()).put("far", s.reach().far());
            put(r, "withinPx", s.reach().within());
            put(r, "nearerPx", s.reach().nearer());
            put(r, "beyondPx", s.reach().beyond());
        }
        ArrayNode remarks = o.putArray("remarks");
        s.remarks().forEach(remarks::add);
        return JSON.writeValueAsString(o);
    }

    private static void put(ObjectNode o, String name, double v) {
        if (!Double.isNaN(v)) o.put(name, v);
    }

    private static Reach reach(JsonNode n) {
        return n.isObject()
                ? new Reach(
                        n.path("near").asDouble(0),
                        n.path("far").asDouble(0),
                        n.path("withinPx").asDouble(Double.NaN),
                        n.path("nearerPx").asDouble(Double.NaN),
                        n.path("beyondPx").asDouble(Double.NaN))
                : null;
    }

    public static void write(Path path, SolvedCamera s) {
        SafeWrite.to(path, tmp -> Files.writeString(tmp, toJson(s)));
    }

    public static SolvedCamera read(Path path) {
        try {
            if (Files.size(path) > MAX_BYTES)
                throw new BadInput(path.getFileName() + " is too large for a camera file");
            return fromJson(Files.readString(path));
        } catch (IOException e) {
            throw new BadInput("the camera file " + path + " cannot be read", e);
        }
    }

    public static SolvedCamera fromJson(String text) {
        try {
            JsonNode o = JSON.readTree(text);
            if (!SCHEMA.equals(o.path("schema").asString("")))
                throw new BadInput("this is not a camera file: its schema must be " + SCHEMA);
            List<SolvedCamera.Frame> frames = new ArrayList<>();
            for (JsonNode n : o.path("frames")) {
                double[] m = new double[12];
                if (n.path("cameraToWorld").size() != 12)
                    throw new BadInput("frame " + n.path("frame").asInt(0)
                            + " of the camera file needs twelve numbers in cameraToWorld");
                for (int i = 0; i < 12; i++)
                    m[i] = number(n.path("cameraToWorld").get(i));
                frames.add(new SolvedCamera.Frame(
                        n.path("frame").asInt(0),
                        Pose.fromMatrix(m),
                        number(n.path("focalPx")),
                        n.path("rmsPx").asDouble(0),
                        n.path("tracks").asInt(0),
                        n.path("uncertainty").path("path").asDouble(Double.NaN),
                        n.path("uncertainty").path("rotationDeg").asDouble(Double.NaN)));
            }
            if (frames.isEmpty()) throw new BadInput("the camera file holds no frames");
            frames.sort(java.util.Comparator.comparingInt(SolvedCamera.Frame::frame));
            List<SolvedCamera.Point> points = new ArrayList<>();
            for (JsonNode n : o.path("points")) {
                JsonNode p = n.path("position");
                points.add(new SolvedCamera.Point(
                        n.path("id").asInt(0),
                        new Vec3(number(p.get(0)), number(p.get(1)), number(p.get(2))),
                        n.path("rmsPx").asDouble(0),
                        n.path("uncertainty").asDouble(Double.NaN)));
            }
            int w = o.path("width").asInt(0), h = o.path("height").asInt(0);
            if (w <= 0 || h <= 0) throw new BadInput("the camera file lacks the plate's width and height");
            JsonNode lens = o.path("lens"), c = lens.path("centrePx");
            List<String> remarks = new ArrayList<>();
            for (JsonNode n : o.path("remarks")) remarks.add(n.asString(""));
            return new SolvedCamera(
                    w,
                    h,
                    Rate.parse(o.path("rate").asString("24/1")),
                    o.path("kind").asString("moving"),
                    o.path("rmsPx").asDouble(0),
                    o.path("parallaxPx").asDouble(0),
                    new Lens(
                            frames.get(0).focalPx(),
                            c.size() == 2 ? c.get(0).asDouble() : w / 2.0,
                            c.size() == 2 ? c.get(1).asDouble() : h / 2.0,
                            lens.path("k1").asDouble(0),
                            lens.path("k2").asDouble(0),
                            lens.path("k3").asDouble(0),
                            lens.path("p1").asDouble(0),
                            lens.path("p2").asDouble(0)),
                    frames,
                    points,
                    o.path("uncertainty").path("focalPx").asDouble(Double.NaN),
                    readout(o.path("readout")),
                    o.path("measured").asBoolean(false),
                    remarks,
                    reach(o.path("reach")));
        } catch (JacksonException e) {
            throw new BadInput("the camera file is damaged: " + e.getOriginalMessage(), e);
        }
    }

    private static double readout(JsonNode n) {
        double r = n.asDouble(0);
        if (!(Math.abs(r) <= 1))
            throw new BadInput("the readout in the camera file must lie between -1 and 1 of a frame");
        return r;
    }

    private static double number(JsonNode n) {
        if (n == null || !n.isNumber())
            throw new BadInput("the camera file has something that is not a number where a number belongs");
        return n.asDouble();
    }
}
