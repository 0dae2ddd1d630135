package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.format.SafeWrite;
import dasein.core.light.Sun;
import dasein.core.light.sun.Penumbra;
import dasein.core.light.sun.ShadowSun;
import dasein.core.light.sun.ShadowsFile;
import dasein.core.light.sun.SolarPosition;
import dasein.core.math.Vec3;
import dasein.core.plate.Plate;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tools.jackson.databind.json.JsonMapper;

@Command(name = "sun", description = "The sun's direction from shadows in the plate, or from place and time.")
final class LightSunCommand implements Callable<Integer> {
    @Option(names = "--camera", description = "camera.json in the set's frame")
    Path camera;

    @Option(names = "--lines", description = "shadows.json: foot, top and tip of real shadows")
    Path lines;

    @Option(names = "--plate", description = "for the sun's size, from the edge in shadows.json")
    Path plate;

    @Option(names = "--place", description = "latitude,longitude[,metres]: degrees, north and east positive")
    String place;

    @Option(names = "--time", description = "such as 2026-06-21T10:15:00+02:00")
    String time;

    @Option(names = "--north-deg", description = "where north lies in the set: 0 along -Z, 90 along +X")
    double north;

    @Option(names = "--out", required = true, description = "sun.json")
    Path out;

    @Override
    public Integer call() {
        Map<String, Object> m = new LinkedHashMap<>();
        if (place != null) byPlace(m);
        else byShadows(m);
        SafeWrite.to(out, tmp -> Files.writeString(tmp, new JsonMapper().writeValueAsString(m) + "\n"));
        System.err.printf(
                "the sun stands %.2f degrees high at %.2f degrees%n",
                (Double) m.get("elevationDeg"), (Double) m.get("azimuthDeg"));
        return 0;
    }

    private void byPlace(Map<String, Object> m) {
        if (time == null) throw new BadInput("--place needs --time");
        double[] p = Console.numbers(place, "--place");
        if (p.length < 2 || p.length > 3) throw new BadInput("--place must be latitude,longitude[,metres]");
        try {
            SolarPosition s = SolarPosition.at(
                    OffsetDateTime.parse(time).toInstant(),
                    new SolarPosition.Place(p[0], p[1], p.length > 2 ? p[2] : 0));
            if (s.elevationDeg() < 0) throw new BadInput("at that time the sun stands below the ground");
            put(
                    m,
                    Sun.direction(Math.toRadians(s.elevationDeg()), Math.toRadians(s.azimuthDeg() + north)),
                    Math.toRadians(0.533));
        } catch (DateTimeException e) {
            throw new BadInput("--time must be like 2026-06-21T10:15:00+02:00, not " + time);
        }
    }

    private void byShadows(Map<String, Object> m) {
        if (camera == null || lines == null)
            throw new BadInput("either --camera and --lines, or --place and --time are needed");
        SolvedCamera c = CameraFile.read(camera);
        ShadowsFile f = ShadowsFile.read(lines);
        ShadowSun.Result r = ShadowSun.of(c, f.lines());
        double angle = 0;
        if (f.edge() != null && plate != null)
            try (Plate p = Plate.open(plate, null, null)) {
                angle = Penumbra.sunAngle(p.frame(f.edge().frame()), c, f.edge(), r.towards());
                System.err.printf("the sun is %.2f degrees across%n", Math.toDegrees(angle));
            }
        put(m, r.towards(), angle);
        m.put("residualDeg", r.residualDeg());
        m.put("spreadDeg", r.spreadDeg());
        List<Map<String, Object>> drawn = new ArrayList<>();
        for (ShadowSun.Drawn d : r.lines()) {
            drawn.add(Map.of("name", d.name(), "offDeg", d.offDeg(), "contradicts", d.contradicts()));
            System.err.printf(
                    "%s: off by %.2f degrees%s%n",
                    d.name(), d.offDeg(), d.contradicts() ? "; it contradicts the others" : "");
        }
        m.put("lines", drawn);
    }

    private static void put(Map<String, Object> m, Vec3 s, double angle) {
        m.put("azimuthDeg", Math.toDegrees(Math.atan2(s.x(), -s.z())));
        m.put("elevationDeg", Math.toDegrees(Math.asin(s.y())));
        m.put("towards", s.array());
        if (angle > 0) m.put("angleDeg", Math.toDegrees(angle));
    }
}
