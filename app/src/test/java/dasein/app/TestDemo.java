package dasein.app;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** The demo's files with a shorter range and nothing placed yet, so that tests need not solve the whole shot. */
final class TestDemo {
    private TestDemo() {}

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
