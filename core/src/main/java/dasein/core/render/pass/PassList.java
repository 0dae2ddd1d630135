package dasein.core.render.pass;

import static dasein.core.render.pass.Pass.Noise.ADDED;
import static dasein.core.render.pass.Pass.Noise.NEIGHBOURS;
import static dasein.core.render.pass.Pass.Over.ALL;
import static dasein.core.render.pass.Pass.Over.CATCHERS;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.render.pass.Pass.Smoothing;
import java.util.List;
import java.util.function.Function;

/** All passes, each declared once. */
public final class PassList {
    private PassList() {}

    /** Premultiplied radiance of the performers; smoothed by itself, guided by normals, distances and colours. */
    public static final Pass BEAUTY = light("beauty", null, PassPictures::beauty, "R", "G", "B");
    /** Their coverage. */
    public static final Pass ALPHA = part("alpha", 0, null, PassPictures::alpha, "A");
    /** Light on the catcher with performers over without, per colour; exactly 1 where none can matter. */
    public static final Pass SHADOW = part(
            "shadow",
            1,
            new Smoothing(CATCHERS, Pass.Noise.SHADOW, 4),
            PassPictures::shadow,
            "shadow.R",
            "shadow.G",
            "shadow.B");
    /** Radiance to add to the plate; exactly 0 where none can matter. */
    public static final Pass BOUNCE = light(
            "bounce", new Smoothing(CATCHERS, ADDED, 4), PassPictures::bounce, "bounce.R", "bounce.G", "bounce.B");
    /** Likewise; negative where a performer stands before a brighter sky. */
    public static final Pass REFLECTION = light(
            "reflection",
            new Smoothing(CATCHERS, ADDED, 2),
            PassPictures::reflection,
            "reflection.R",
            "reflection.G",
            "reflection.B");
    /** Open part of the hemisphere. */
    public static final Pass AO = part("ao", 1, new Smoothing(ALL, NEIGHBOURS, 2), PassPictures::ao, "ao.Y");
    /** Metres along the view axis, infinite where nothing is. */
    public static final Pass DEPTH = exact("depth", Float.POSITIVE_INFINITY, PassPictures::depth, "Z");
    /** World space, times alpha. */
    public static final Pass NORMAL = light("normal", null, PassPictures::normal, "normal.X", "normal.Y", "normal.Z");
    /** Pixels a frame to the right and down. */
    public static final Pass MOTION = light("motion", null, PassPictures::motion, "motion.U", "motion.V");
    /** Number of the performer, 0 for none. */
    public static final Pass ID = exact("id", 0, null, "performer.id");

    /** In the order in which they are offered, and in which their noise is filtered out. */
    public static final List<Pass> ALL_PASSES =
            List.of(BEAUTY, ALPHA, SHADOW, BOUNCE, REFLECTION, AO, DEPTH, NORMAL, MOTION, ID);

    private static Pass light(String name, Smoothing s, Function<Passes, Image> picture, String... channels) {
        return new Pass(name, List.of(channels), false, 0, false, s, picture);
    }

    private static Pass part(
            String name, float neutral, Smoothing s, Function<Passes, Image> picture, String... channels) {
        return new Pass(name, List.of(channels), false, neutral, true, s, picture);
    }

    private static Pass exact(String name, float neutral, Function<Passes, Image> picture, String channel) {
        return new Pass(name, List.of(channel), true, neutral, false, null, picture);
    }

    /** Names of those that can be looked at. */
    public static List<String> shown() {
        return ALL_PASSES.stream()
                .filter(p -> p.picture() != null)
                .map(Pass::name)
                .toList();
    }

    /** @throws BadInput when none that can be looked at is called so */
    public static Pass named(String name) {
        return ALL_PASSES.stream()
                .filter(p -> p.name().equals(name) && p.picture() != null)
                .findFirst()
                .orElseThrow(() -> new BadInput("there is no pass " + name));
    }
}
