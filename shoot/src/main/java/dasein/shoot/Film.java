package dasein.shoot;

import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.format.Exr;
import dasein.core.format.MovieWriter;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.model.file.ModelReader;
import java.nio.file.Path;
import java.util.List;

/**
 * LW_010 once more, with something really standing in it: filmed twice, each time with all that chance does to a plate
 * (sampling, grain, codec) and nothing else different. At another hour the plate is shot anew as well.
 *
 * @param name of the files, which begins with that of the plate
 * @param first frame of the camera's way
 */
record Film(String name, Sky hour, Performer cast, String model, int first, int frames) {
    private static final Performer MULE =
            new Performer(1, "mule", "mule.glb", 0.6, 0, -6.0, -60, 1.15, "rolling", 0, 1, true);
    private static final int FEW = 8, FEW_FROM = 45;

    static final Film STRIDER =
            new Film("LW_010_strider", Sky.MORNING, Truth.STRIDER, "strider.glb", Truth.FILMED_FIRST, Truth.FILMED);
    static final List<Film> ALL = List.of(
            STRIDER,
            new Film("LW_010_mule", Sky.MORNING, MULE, "mule.glb", FEW_FROM, FEW),
            new Film("LW_010_noon", Sky.NOON, Truth.STRIDER, "strider.glb", FEW_FROM, FEW),
            new Film("LW_010_evening", Sky.EVENING, Truth.STRIDER, "strider.glb", FEW_FROM, FEW));

    /**
     * What is filmed gives its own light back as the world does: set, then performer, then set again. The plate's set
     * has it once, which further ways change by 0.3 %.
     */
    private static final int BOUNCES = 3;

    boolean ownPlate() {
        return hour != Sky.MORNING;
    }

    Path plate(Path truth, Path demo) {
        return ownPlate() ? truth.resolve(name + ".mp4") : demo.resolve(name.substring(0, 6) + ".mp4");
    }

    /** @param take 1 or 2 */
    Path take(Path truth, int take) {
        return truth.resolve(name + "_" + "ab".charAt(take - 1) + ".mp4");
    }

    /** @param work keeps clean frames, so that an interrupted shoot goes on */
    void shoot(Path work, Path demo, Path truth) throws Exception {
        Stage stage = new Stage(hour);
        Model m = ModelReader.read(Shoot.cast(truth, model));
        if (ownPlate()) movie(stage, work.resolve(name), List.of(), 0, plate(truth, demo));
        for (int take = 1; take <= 2; take++)
            movie(stage, work.resolve(name + "_" + take), List.of(m), take, take(truth, take));
    }

    private void movie(Stage stage, Path work, List<Model> there, int take, Path file) throws Exception {
        stage.frames(
                work,
                first,
                first + frames - 1,
                f -> stage.frame(
                        f, there.stream().map(m -> cast(m, f)).toList(), Shoot.SAMPLES, BOUNCES, 1000 * take + f));
        try (MovieWriter w =
                new MovieWriter(file, Walk.WIDTH, Walk.HEIGHT, Walk.RATE, 1, Encoding.REC709, Shoot.BITS_PER_SECOND)) {
            for (int f = first; f < first + frames; f++) {
                Image clean = Exr.readColour(work.resolve(String.format("%04d.exr", f)));
                w.write(Sensor.expose(clean, 1000L * take + f));
            }
            w.finish();
        }
    }

    private Mesh cast(Model m, int frame) {
        double half = Walk.SHUTTER / 2;
        return Blocking.alone(cast, m, Walk.RATE)
                .meshes(frame - half, frame + half)
                .get(0);
    }
}
