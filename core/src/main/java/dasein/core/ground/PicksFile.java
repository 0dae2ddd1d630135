package dasein.core.ground;

import dasein.core.BadInput;
import dasein.core.format.JsonFile;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.JsonNode;

/**
 * What a set is laid by, as JSON: {@code {"ground": [P, ...], "yardsticks": [{"name": "door", "metres": 2.1, "a": P,
 * "b": P, "weight": 1}], "origin": P, "heading": [P, P], "vertical": [P, P], "cameraHeightMetres": 1.6, "level":
 * {"frame": 1, "rollDeg": 0.5, "tiltDeg": -4}}}, where P is where a point was picked, {@code {"1": [px, py], "40": [px,
 * py]}}: a pixel for each frame, one frame being enough for a point on the ground. A yardstick without b runs from a
 * down to the ground.
 */
public final class PicksFile {
    private static final long MAX_BYTES = 16 << 20;
    private static final int MOST = 10_000;

    private PicksFile() {}

    public static SetRecipe read(Path path) {
        JsonNode all = JsonFile.read(path, MAX_BYTES, "file of picks");
        if (!all.isObject()) throw new BadInput(path.getFileName() + " is not a file of picks");
        List<PickedPoint> points = new ArrayList<>();
        List<Integer> ground = new ArrayList<>();
        for (JsonNode p : all.path("ground")) ground.add(point(points, p, "ground"));
        List<SetRecipe.Yardstick> sticks = new ArrayList<>();
        for (JsonNode y : all.path("yardsticks")) {
            String name = y.path("name").asString("yardstick " + (sticks.size() + 1));
            sticks.add(new SetRecipe.Yardstick(
                    name,
                    point(points, y.path("a"), name),
                    y.has("b") ? point(points, y.path("b"), name) : SetRecipe.Yardstick.GROUND,
                    y.path("metres").asDouble(0),
                    y.path("weight").asDouble(1)));
        }
        double height = all.path("cameraHeightMetres").asDouble(0);
        if (height > 0)
            sticks.add(new SetRecipe.Yardstick(
                    "camera height", SetRecipe.Yardstick.CAMERA, SetRecipe.Yardstick.GROUND, height));
        int origin = all.has("origin") ? point(points, all.path("origin"), "origin") : 0;
        int[] heading = pair(points, all.path("heading"), "heading"),
                vertical = pair(points, all.path("vertical"), "vertical");
        SetRecipe r = new SetRecipe(ground, origin, heading[0], heading[1], sticks, SetRecipe.BLANK.catcher(), 0, 0.25)
                .withPoints(points);
        JsonNode level = all.path("level");
        if (level.isObject())
            r = r.withLevels(List.of(new SetRecipe.Level(
                    level.path("frame").asInt(1),
                    level.path("rollDeg").asDouble(0),
                    level.has("tiltDeg") ? level.path("tiltDeg").asDouble() : null)));
        if (vertical[0] == 0) return r;
        // Which of the two is above is seen: it lies higher in the picture.
        PickedPoint a = points.get(vertical[0] - PickedPoint.FIRST_ID),
                b = points.get(vertical[1] - PickedPoint.FIRST_ID);
        boolean first = a.picks().get(0).y() < b.picks().get(0).y();
        return r.withUprights(
                List.of(first ? new SetRecipe.Upright(a.id(), b.id()) : new SetRecipe.Upright(b.id(), a.id())));
    }

    private static int[] pair(List<PickedPoint> points, JsonNode two, String what) {
        if (two.isMissingNode() || two.isNull()) return new int[2];
        if (two.size() != 2) throw new BadInput(what + " needs two points");
        return new int[] {point(points, two.get(0), what), point(points, two.get(1), what)};
    }

    private static int point(List<PickedPoint> points, JsonNode p, String what) {
        if (!p.isObject() || p.isEmpty()) throw new BadInput(what + " needs a point as {\"frame\": [px, py]}");
        if (points.size() >= MOST) throw new BadInput("there are more than " + MOST + " picked points");
        PickedPoint out = new PickedPoint(PickedPoint.FIRST_ID + points.size(), what, List.of(), 0);
        for (var e : p.properties()) {
            JsonNode xy = e.getValue();
            if (!e.getKey().matches("\\d{1,9}")
                    || xy.size() != 2
                    || !xy.get(0).isNumber()
                    || !xy.get(1).isNumber()) throw new BadInput(what + " needs a point as {\"frame\": [px, py]}");
            out = out.with(new PickedPoint.Pick(
                    Integer.parseInt(e.getKey()),
                    xy.get(0).asDouble(),
                    xy.get(1).asDouble()));
        }
        points.add(out);
        return out.id();
    }
}
