package dasein.core.solve.file;

import dasein.core.BadInput;
import dasein.core.format.SafeWrite;
import dasein.core.lens.Lens;
import dasein.core.solve.SolvedCamera;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * A lens as JSON: {@code {"schema": "dasein-lens/1", "width": .., "height": .., "focalPx": .., "centrePx": [..], "k1":
 * .., "k2": .., "k3": .., "p1": .., "p2": .., "rmsPx": ..}}. A camera file may stand in its place: its first frame's
 * lens is taken.
 */
public final class LensFile {
    private static final String SCHEMA = "dasein-lens/1";
    private static final long MAX_BYTES = 200L << 20;
    private static final JsonMapper JSON = new JsonMapper();

    private LensFile() {}

    /** @param rmsPx what its calibration left, pixels; NaN when it was not calibrated */
    public record Calibrated(Lens lens, int width, int height, double rmsPx) {
        /** For pictures of another size of the same shape. */
        public Lens at(int w, int h) {
            if (Math.abs((double) w / h - (double) width / height) > 0.01)
                throw new BadInput("the lens is for pictures of " + width + " x " + height
                        + ", which have another shape than " + w + " x " + h);
            return lens.scaled((double) w / width);
        }
    }

    public static void write(Path path, Calibrated c) {
        Lens l = c.lens;
        ObjectNode o = JSON.createObjectNode()
                .put("schema", SCHEMA)
                .put("width", c.width)
                .put("height", c.height)
                .put("focalPx", l.focalPx());
        o.putArray("centrePx").add(l.centreX()).add(l.centreY());
        o.put("k1", l.k1())
                .put("k2", l.k2())
                .put("k3", l.k3())
                .put("p1", l.p1())
                .put("p2", l.p2());
        if (!Double.isNaN(c.rmsPx)) o.put("rmsPx", c.rmsPx);
        SafeWrite.to(path, tmp -> Files.writeString(tmp, JSON.writeValueAsString(o)));
    }

    public static Calibrated read(Path path) {
        try {
            if (Files.size(path) > MAX_BYTES)
                throw new BadInput(path.getFileName() + " is too large for a " + "lens file");
            String text = Files.readString(path);
            JsonNode o = JSON.readTree(text);
            if (!SCHEMA.equals(o.path("schema").asString(""))) {
                SolvedCamera c = CameraFile.fromJson(text);
                return new Calibrated(c.lens(), c.width(), c.height(), c.rmsPx());
            }
            int w = o.path("width").asInt(0), h = o.path("height").asInt(0);
            double f = o.path("focalPx").asDouble(0);
            JsonNode c = o.path("centrePx");
            if (w <= 0 || h <= 0 || !(f > 0))
                throw new BadInput(path.getFileName() + " lacks width, height or focalPx");
            return new Calibrated(
                    new Lens(
                            f,
                            c.size() == 2 ? c.get(0).asDouble(w / 2.0) : w / 2.0,
                            c.size() == 2 ? c.get(1).asDouble(h / 2.0) : h / 2.0,
                            o.path("k1").asDouble(0),
                            o.path("k2").asDouble(0),
                            o.path("k3").asDouble(0),
                            o.path("p1").asDouble(0),
                            o.path("p2").asDouble(0)),
                    w,
                    h,
                    o.path("rmsPx").asDouble(Double.NaN));
        } catch (IOException e) {
            throw new BadInput("the lens file " + path + " cannot be read", e);
        } catch (JacksonException e) {
            throw new BadInput(path.getFileName() + " is not a lens file that can be read", e);
        }
    }
}
