package dasein.app.command;

import dasein.core.format.SafeWrite;
import dasein.core.ground.GroundFit;
import dasein.core.ground.PicksFile;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

@Command(
        name = "set",
        description = "Lay ground, heading and true size of a solved camera and write it in the set's frame.")
public final class SetCommand implements Callable<Integer> {
    @Option(names = "--camera", required = true)
    Path camera;

    @Option(
            names = "--picks",
            required = true,
            description = "points on the ground, yardsticks, origin, heading, vertical, as JSON")
    Path picks;

    @Option(names = "--out", required = true)
    Path out;

    @Override
    public Integer call() {
        SolvedCamera solve = CameraFile.read(camera);
        GroundFit.Result g = GroundFit.fit(solve, PicksFile.read(picks));
        SolvedCamera c = solve.in(g.toSet());
        JsonMapper json = new JsonMapper();
        ObjectNode all = (ObjectNode) json.readTree(CameraFile.toJson(g.scaled() ? c.asMeasured() : c));
        ObjectNode set = all.putObject("set");
        set.put("scaled", g.scaled())
                .put("flatnessMetres", g.flatness())
                .put("groundPoints", g.points().size());
        ArrayNode checks = set.putArray("checks");
        for (GroundFit.Check k : g.checks())
            checks.addObject()
                    .put("name", k.name())
                    .put("wanted", k.wanted())
                    .put("got", k.got())
                    .put("unit", k.unit())
                    .put("contradicts", k.contradicts());
        SafeWrite.to(out, tmp -> Files.writeString(tmp, json.writeValueAsString(all)));
        System.err.printf(
                "ground through %d points, %.2f cm flat%s%n",
                g.points().size(), 100 * g.flatness(), g.scaled() ? "" : "; nothing gave the true size");
        for (GroundFit.Check k : g.checks())
            System.err.printf(
                    "%s: %s %s, solved %s%s%n",
                    k.name(),
                    number(k.wanted()),
                    k.unit(),
                    number(k.got()),
                    k.contradicts() ? "; it contradicts the rest" : "");
        return 0;
    }

    private static String number(double v) {
        return String.format(java.util.Locale.ROOT, "%.3f", v);
    }
}
