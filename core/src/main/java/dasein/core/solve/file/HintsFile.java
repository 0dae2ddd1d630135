package dasein.core.solve.file;

import dasein.core.BadInput;
import dasein.core.format.JsonFile;
import dasein.core.math.Vec3;
import dasein.core.solve.Hints;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.JsonNode;

/**
 * Weights and measured places as JSON: {@code {"weights": [{"track": 3, "weight": 2}], "measured": [{"track": 5,
 * "position": [x, y, z], "off": 0.01}]}}.
 */
public final class HintsFile {
    private static final long MAX_BYTES = 4 << 20;
    private static final double USUAL_OFF = 0.01;

    private HintsFile() {}

    public static Hints read(Path path) {
        JsonNode all = JsonFile.read(path, MAX_BYTES, "file of hints");
        List<Hints.Weight> weights = new ArrayList<>();
        for (JsonNode w : all.path("weights"))
            weights.add(
                    new Hints.Weight(w.path("track").asInt(0), w.path("weight").asDouble(Double.NaN)));
        List<Hints.Measured> measured = new ArrayList<>();
        for (JsonNode m : all.path("measured")) {
            double[] p = new double[3];
            for (int i = 0; i < 3; i++) p[i] = m.path("position").path(i).asDouble(Double.NaN);
            if (!(Math.abs(p[0]) < 1e6 && Math.abs(p[1]) < 1e6 && Math.abs(p[2]) < 1e6))
                throw new BadInput("a measured place in " + path.getFileName() + " needs three numbers in position");
            measured.add(new Hints.Measured(
                    m.path("track").asInt(0), Vec3.of(p), m.path("off").asDouble(USUAL_OFF)));
        }
        return Hints.NONE.withWeights(weights).withMeasured(measured);
    }
}
