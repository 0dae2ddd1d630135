package dasein.shoot;

import dasein.core.format.Exr;
import dasein.core.format.MovieWriter;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.scene.Mesh;
import dasein.core.scene.Model;
import dasein.core.scene.ModelReader;
import dasein.core.scene.Placement;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/**
 * Makes the demo material anew: {@code demo/} (plate, kit, models) and {@code shoot/truth/} (for tests). Clean frames are kept
 * in a work folder, so that an interrupted shoot goes on where it stopped.
 */
public final class Shoot {
    private static final int SAMPLES = 6;
    private static final int TRUTH_SAMPLES = 16;
    private static final long BITS_PER_SECOND = 7_400_000;

    private Shoot() {}

    /** @param args work folder, demo folder, truth folder, then any of models, plate, kit, truth (all when none is named) */
    public static void main(String[] args) throws Exception {
        Path work = Path.of(args[0]), demo = Path.of(args[1]), truth = Path.of(args[2]);
        List<String> parts = args.length > 3 ? List.of(args).subList(3, args.length) : List.of("models", "plate", "kit", "truth");
        Files.createDirectories(demo.resolve("models"));
        Files.createDirectories(truth);
        Path strider = demo.resolve("models/strider.glb");
        if (parts.contains("models")) {
            Strider.write(strider);
            Mule.write(demo.resolve("models/mule.glb"));
        }
        if (parts.equals(List.of("models"))) return;
        Stage stage = new Stage();
        if (parts.contains("plate")) {
            stage.frames(work.resolve("LW_010"), 1, Walk.FRAMES, f -> List.of(), SAMPLES);
            movie(work.resolve("LW_010"), demo.resolve("LW_010.mp4"));
        }
        if (parts.contains("kit")) Kit.write(stage, demo.resolve("kit"));
        if (parts.contains("truth")) {
            Truth.write(stage.set, truth.resolve("LW_010.json"));
            Model m = ModelReader.read(strider);
            for (int f : Truth.WITH_STRIDER) {
                Path clean = work.resolve(String.format("strider_%04d.exr", f));
                if (!Files.exists(clean)) Exr.writeColour(clean, stage.frame(f, List.of(strider(m, f)), TRUTH_SAMPLES, 1));
                Stills.writePng(truth.resolve(String.format("LW_010_strider_%04d.png", f)), Sensor.expose(Exr.readColour(clean), 1000 + f), Encoding.REC709);
            }
        }
    }

    private static Mesh strider(Model m, int frame) {
        double half = Walk.SHUTTER / 2;
        return Placement.mesh(Truth.STRIDER, m, (frame - half - 1) / Walk.RATE, (frame + half - 1) / Walk.RATE);
    }

    private static void movie(Path frames, Path file) {
        try (MovieWriter w = new MovieWriter(file, Walk.WIDTH, Walk.HEIGHT, Walk.RATE, 1, Encoding.REC709, BITS_PER_SECOND)) {
            for (int f = 1; f <= Walk.FRAMES; f++) {
                Path clean = frames.resolve(String.format("%04d.exr", f));
                if (!Files.exists(clean)) return;
                Image im = Exr.readColour(clean);
                w.write(Sensor.expose(im, f));
            }
        }
    }
}
