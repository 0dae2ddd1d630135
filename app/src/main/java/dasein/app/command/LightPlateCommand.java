package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.format.Exr;
import dasein.core.format.JsonFile;
import dasein.core.light.sky.PlateLight;
import dasein.core.light.sky.PlateSphere;
import dasein.core.math.Vec3;
import dasein.core.plate.Plate;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

@Command(name = "plate", description = "A guess of the light from the plate's own frames, where no map was shot.")
final class LightPlateCommand implements Callable<Integer> {
    @Option(names = "--plate", required = true)
    Path plate;

    @Option(names = "--camera", required = true, description = "camera.json in the set's frame")
    Path camera;

    @Option(names = "--place", defaultValue = "0,1,-5", description = "x,y,z: where the performers stand, metres")
    String place;

    @Option(names = "--sun", description = "sun.json as dasein light sun writes it")
    Path sun;

    @Option(names = "--lit", description = "frame,x,y: level ground in the sun")
    String lit;

    @Option(names = "--shade", description = "frame,x,y: the same ground in a shadow that is open to the sky")
    String shade;

    @Option(names = "--albedo", description = "of that ground; 0.3 where it is not said")
    double albedo;

    @Option(names = "--size", defaultValue = "1024", description = "width of the map")
    int size;

    @Option(names = "--out", required = true, description = "map.exr, in the set's frame")
    Path out;

    @Override
    public Integer call() {
        LightCommand.checkSize(size);
        double[] at = Console.numbers(place, "--place");
        if (at.length != 3 || !(at[1] > 0)) throw new BadInput("--place must be x,y,z with y above the ground");
        SolvedCamera c = CameraFile.read(camera);
        try (Plate p = Plate.open(plate, null, null)) {
            double white = p.encoding().decode(1);
            PlateSphere s = PlateSphere.of(p::frame, white, c, Vec3.of(at), size, Console.progress());
            PlateLight.Result r = PlateLight.of(s, hints(p));
            Exr.writeColour(out, r.map());
            System.err.printf(
                    "%.0f %% of the sphere was seen; sky: %s%s. All else is a guess.%n",
                    100 * r.seen(),
                    r.skySaid(),
                    r.sun() == null ? "; no sun was put in (that takes --sun, --lit and --shade)" : "");
        }
        return 0;
    }

    private PlateLight.Hints hints(Plate p) {
        Vec3 towards = null;
        double angle = Math.toRadians(0.533);
        if (sun != null) {
            JsonNode n = JsonFile.read(sun, 1 << 20, "sun");
            if (n.path("towards").size() != 3) throw new BadInput(sun.getFileName() + " has no \"towards\"");
            towards = new Vec3(
                            n.path("towards").get(0).asDouble(),
                            n.path("towards").get(1).asDouble(),
                            n.path("towards").get(2).asDouble())
                    .unit();
            if (n.has("angleDeg")) angle = Math.toRadians(n.path("angleDeg").asDouble());
        }
        return new PlateLight.Hints(towards, angle, ground(p, lit, "--lit"), ground(p, shade, "--shade"), albedo);
    }

    private static double[] ground(Plate p, String s, String option) {
        if (s == null) return null;
        double[] v = Console.numbers(s, option);
        if (v.length != 3) throw new BadInput(option + " must be frame,x,y");
        return LightCommand.mean(p.frame((int) v[0]), v[1], v[2], 1.5, option);
    }
}
