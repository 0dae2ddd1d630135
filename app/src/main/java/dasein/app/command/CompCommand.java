package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.comp.Beside;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.format.MovieWriter;
import dasein.core.format.Stills;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Mending;
import dasein.core.shot.ShotScene;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.function.Supplier;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

@Command(name = "comp", description = "Put plate and passes together: PNG frames into a folder, or a movie.")
public final class CompCommand implements Callable<Integer> {
    private static final long BITS_PER_PIXEL_SECOND = 8;

    @Option(names = "--scene", required = true)
    Path scene;

    @Option(names = "--passes", required = true, description = "folder written by render")
    Path passes;

    @Option(names = "--plate")
    Path plate;

    @Option(names = "--out", required = true, description = "a folder, or a name ending in .mp4")
    Path out;

    @Override
    public Integer call() {
        SceneFile file = SceneFile.read(scene);
        TreeMap<Integer, Path> frames = frames();
        try (Plate p = file.plate(plate)) {
            boolean movie = out.toString().toLowerCase(java.util.Locale.ROOT).endsWith(".mp4");
            MovieWriter writer = null;
            Mending mending = file.mending(p);
            // Only straight passes need it, and then it is loaded once.
            Supplier<ShotScene> scene = once(() -> file.scene(p));
            try {
                for (var e : frames.entrySet()) {
                    Passes read = Passes.read(e.getValue());
                    Image source = mending.frame(e.getKey()).image();
                    Passes pass = read.straight()
                            ? read.bent(scene.get().straighten(e.getKey(), (double) read.pictureWidth / source.width))
                            : read;
                    if (pass.width > source.width
                            || Math.abs((double) pass.width / source.width - (double) pass.height / source.height)
                                    > 0.01) {
                        throw new BadInput(e.getValue().getFileName() + " is " + pass.width + " x " + pass.height
                                + ", which does not fit the plate, " + source.width + " x " + source.height);
                    }
                    double part = (double) pass.width / source.width;
                    Image small = part == 1 ? source : source.resize(pass.width, pass.height);
                    CompRecipe r = file.shot().comp().at(e.getKey(), p.rate().perSecond());
                    Image done = Comp.frame(
                            small,
                            pass,
                            r,
                            p.encoding(),
                            part,
                            e.getKey(),
                            new Beside(
                                    mending.matte(small, e.getKey(), part),
                                    file.table(),
                                    mending.apart(r, pass, e.getKey(), part, file.pieceModels())
                                            .there()));
                    if (movie) {
                        if (writer == null)
                            writer = new MovieWriter(
                                    out,
                                    done.width,
                                    done.height,
                                    p.rate().num(),
                                    p.rate().den(),
                                    p.encoding().movie(),
                                    BITS_PER_PIXEL_SECOND * done.width * done.height);
                        writer.write(done);
                    } else {
                        Stills.writePng(out.resolve(String.format("%04d.png", e.getKey())), done, p.encoding());
                    }
                    System.err.println("frame " + e.getKey());
                }
                if (writer != null) writer.finish();
            } finally {
                if (writer != null) writer.close();
            }
        }
        return 0;
    }

    private TreeMap<Integer, Path> frames() {
        TreeMap<Integer, Path> found = new TreeMap<>();
        try (Stream<Path> list = Files.list(passes)) {
            for (Path f : list.toList()) {
                String n = f.getFileName().toString();
                if (n.matches("\\d{1,9}\\.exr")) found.put(Integer.parseInt(n.substring(0, n.length() - 4)), f);
            }
        } catch (IOException e) {
            throw new BadInput("the folder " + passes + " cannot be read", e);
        }
        if (found.isEmpty())
            throw new BadInput("the folder " + passes + " holds no passes; render writes them as 0001.exr and so on");
        return found;
    }

    private static <T> Supplier<T> once(Supplier<T> make) {
        List<T> made = new ArrayList<>();
        return () -> {
            if (made.isEmpty()) made.add(make.get());
            return made.get(0);
        };
    }
}
