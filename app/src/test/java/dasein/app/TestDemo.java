package dasein.app;

import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** The demo's files with a shorter range and nothing placed yet, so that tests need not solve the whole shot. */
final class TestDemo {
    private TestDemo() {}

    /**
     * A camera that is known, for the plate LW_040 as it lies in the demo folder: whoever needs no more than that need
     * solve nothing.
     */
    static Path camera(Path to, int frames) throws IOException {
        List<SolvedCamera.Frame> of = new ArrayList<>();
        for (int f = 1; f <= frames; f++)
            of.add(new SolvedCamera.Frame(
                    f, Pose.lookAt(new Vec3(-0.6 + 0.05 * f, 1.6, 5), new Vec3(0, 1.1, 0), Vec3.Y), 1080, 0.3, 60));
        CameraFile.write(
                to,
                new SolvedCamera(
                                960,
                                540,
                                new Rate(24, 1),
                                "moving",
                                0.3,
                                9,
                                new Lens(1080, 480, 270, -0.08, 0),
                                of,
                                List.of())
                        .asMeasured());
        return to;
    }

    static Path make(int lastFrame) {
        try {
            Path folder = Files.createTempDirectory("dasein-demo");
            for (String f : new String[] {
                "LW_010.mp4",
                "kit/slipway_latlong.exr",
                "models/strider.glb",
                "models/mule.glb",
                "models/skimmer.glb",
                "motions/shake.bvh"
            }) {
                Files.createDirectories(folder.resolve(f).getParent());
                Files.copy(Path.of("demo").resolve(f), folder.resolve(f));
            }
            Files.writeString(
                    folder.resolve("LW_010.json"),
                    "{\"plate\": {\"file\": \"@plate\", \"last\": " + lastFrame
                            + ", \"sensorWidthMm\": 24.9, \"focalMm\": 28}, \"light\": {\"environment\": \"@map\"}}");
            return folder;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
