package dasein.shoot;

import dasein.core.cast.Blocking;
import dasein.core.format.Exr;
import dasein.core.format.MovieWriter;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.model.file.ModelReader;
import dasein.core.shot.Turntable;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.function.IntToDoubleFunction;
import javax.imageio.ImageIO;

/**
 * Makes the demo material anew: {@code demo/} (plate, kit, models) and {@code shoot/truth/} (for tests). Clean frames
 * are kept in a work folder, so that an interrupted shoot goes on where it stopped.
 */
public final class Shoot {
    static final int SAMPLES = 6;
    private static final int TAKE_SAMPLES = 3;
    static final long BITS_PER_SECOND = 7_400_000;
    private static final long TAKE_BITS_PER_SECOND = 6_000_000;

    private Shoot() {}

    /**
     * @param args work folder, demo folder, truth folder, then any of models, props, plate, takes, films (or some of
     *     these by name), kit, truth (all when none is named)
     */
    public static void main(String[] args) throws Exception {
        Path work = Path.of(args[0]), demo = Path.of(args[1]), truth = Path.of(args[2]);
        List<String> parts = args.length > 3
                ? List.of(args).subList(3, args.length)
                : List.of("models", "props", "plate", "takes", "kit", "truth", "films");
        Files.createDirectories(demo.resolve("models"));
        Files.createDirectories(truth);
        if (parts.contains("models")) {
            Strider.write(demo.resolve("models/strider.glb"));
            Mule.write(demo.resolve("models/mule.glb"));
        }
        if (parts.contains("props")) {
            Skimmer.write(demo.resolve("models/skimmer.glb"));
            Props.write(demo.resolve("models"));
            StriderMotions.write(demo.resolve("motions"));
        }
        if (parts.contains("models") || parts.contains("props")) pictures(demo);
        if (List.of("models", "props").containsAll(parts)) return;
        Stage stage = new Stage();
        if (parts.contains("plate")) {
            stage.frames(work.resolve("LW_010"), 1, Walk.FRAMES, f -> stage.frame(f, List.of(), SAMPLES, 1));
            movie(
                    work.resolve("LW_010"),
                    demo.resolve("LW_010.mp4"),
                    Walk.FRAMES,
                    Walk.WIDTH,
                    Walk.HEIGHT,
                    BITS_PER_SECOND,
                    f -> 1);
        }
        List<Take> takes = Take.ALL.stream()
                .filter(t -> parts.contains("takes") || parts.contains(t.name()))
                .toList();
        if (!takes.isEmpty()) {
            Model mule = ModelReader.read(cast(truth, "mule.glb"));
            Mesh landing = Slipway.landing();
            for (Take t : takes) {
                stage.frames(
                        work.resolve(t.name()),
                        1,
                        t.frames(),
                        f -> stage.frame(t, f, List.of(t.landing() ? landing : mover(t, mule, f)), TAKE_SAMPLES));
                movie(
                        work.resolve(t.name()),
                        demo.resolve(t.name() + ".mp4"),
                        t.frames(),
                        t.width(),
                        t.height(),
                        TAKE_BITS_PER_SECOND,
                        t::exposure);
                Truth.write(t, mule, truth.resolve(t.name() + ".json"));
            }
        }
        if (parts.contains("kit")) Kit.write(stage, demo.resolve("kit"));
        if (parts.contains("hours")) Kit.hours(demo.resolve("kit"));
        if (parts.contains("truth")) Truth.write(stage.set, truth.resolve("LW_010.json"));
        for (Film f : Film.ALL) if (parts.contains("films") || parts.contains(f.name())) f.shoot(work, demo, truth);
    }

    /** Models as they stood before the camera; those of the demo may have become finer since. */
    static Path cast(Path truth, String model) {
        return truth.resolve("cast").resolve(model);
    }

    /** As the shelf shows them, so that they stand there from the first look. */
    private static void pictures(Path demo) throws IOException {
        Files.createDirectories(demo.resolve("pictures"));
        try (var all = Files.list(demo.resolve("models"))) {
            for (Path p : all.sorted().toList()) {
                String name = p.getFileName().toString().replace(".glb", ".png");
                ImageIO.write(
                        Turntable.strip(ModelReader.read(p), Turntable.VIEWS, Turntable.WIDTH, Turntable.HEIGHT),
                        "png",
                        demo.resolve("pictures").resolve(name).toFile());
            }
        }
    }

    /** The mover between shutter open and close: its place moves as well as its wheels. */
    private static Mesh mover(Take t, Model m, int frame) {
        double open = frame - Walk.SHUTTER / 2, close = frame + Walk.SHUTTER / 2;
        Mesh
                a =
                        Blocking.alone(t.moverAt(open), m, Walk.RATE)
                                .meshes(open, open)
                                .get(0),
                b =
                        Blocking.alone(t.moverAt(close), m, Walk.RATE)
                                .meshes(close, close)
                                .get(0);
        return new Mesh(
                a.position0(),
                b.position0(),
                a.normal0(),
                b.normal0(),
                a.uv(),
                a.index(),
                a.materialOf(),
                a.materials(),
                a.performer(),
                a.role());
    }

    private static void movie(
            Path frames, Path file, int count, int width, int height, long bits, IntToDoubleFunction exposure) {
        try (MovieWriter w = new MovieWriter(file, width, height, Walk.RATE, 1, Encoding.REC709, bits)) {
            for (int f = 1; f <= count; f++) {
                Path clean = frames.resolve(String.format("%04d.exr", f));
                if (!Files.exists(clean)) return;
                Image im = Exr.readColour(clean);
                float k = (float) exposure.applyAsDouble(f);
                for (float[] p : im.planes) for (int i = 0; i < p.length; i++) p[i] *= k;
                w.write(Sensor.expose(im, f));
            }
            w.finish();
        }
    }
}
