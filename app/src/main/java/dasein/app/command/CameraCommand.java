package dasein.app.command;

import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraExchange;
import java.nio.file.Path;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

@Command(name = "camera", description = "Cameras to and from elsewhere.")
public final class CameraCommand {
    @Command(description = "Convert between .json, .glb, .usda and .csv, by the files' endings.")
    int convert(
            @Option(names = "--in", required = true) Path in,
            @Option(names = "--out", required = true) Path out,
            @Option(names = "--up", defaultValue = "y", description = "axis of the input that stands upright: y or z")
                    String up,
            @Option(names = "--scale", defaultValue = "1", description = "the input's unit in metres") double scale,
            @Option(names = "--frame-offset", defaultValue = "0") int offset,
            @Option(
                            names = "--turn",
                            defaultValue = "none",
                            description = "how the input's camera is turned, for example \"90 degrees about X\"")
                    String turn) {
        if (!up.equals("y") && !up.equals("z")) throw new dasein.core.BadInput("--up must be y or z, not " + up);
        SolvedCamera c = CameraExchange.read(in, new CameraExchange.Reading(up.equals("z"), scale, offset, turn));
        CameraExchange.write(out, c);
        System.err.printf(
                "%d frames, %d points, path %.2f long%n",
                c.frames().size(), c.points().size(), c.pathLength());
        return 0;
    }
}
