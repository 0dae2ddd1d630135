package dasein.core.render.pass;

import static dasein.core.render.pass.Pass.Noise.ADDED;
import static dasein.core.render.pass.Pass.Noise.NEIGHBOURS;
import static dasein.core.render.pass.Pass.Over.ALL;
import static dasein.core.render.pass.Pass.Over.CATCHERS;

import dasein.core.image.Image;
import dasein.core.render.pass.Pass.Smoothing;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.function.Function;

/** All passes, each declared once. */
public final class PassList {
    /** Ends the names of passes of light that came by way of something else. */
    public static final String INDIRECT = "_indirect";

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

    /**
     * Those that every comp needs, in the order in which they are offered, and in which their noise is filtered out.
     */
    public static final List<Pass> ALL_PASSES =
            List.of(BEAUTY, ALPHA, SHADOW, BOUNCE, REFLECTION, AO, DEPTH, NORMAL, MOTION, ID);

    public static final Pass DIFFUSE = lobe("diffuse");
    /** All that is mirrored, by coat and sheen too. */
    public static final Pass SPECULAR = lobe("specular");

    public static final Pass TRANSMISSION = lobe("transmission");
    public static final Pass SUBSURFACE = lobe("subsurface");
    public static final Pass EMISSION = lobe("emission");
    /** What a surface returns of white light, times alpha. */
    public static final Pass ALBEDO =
            light("albedo", null, p -> colour(p, "albedo"), "albedo.R", "albedo.G", "albedo.B");
    /** As depth, of the nearest sample alone: no pixel lies between two things. */
    public static final Pass NEAREST = exact(
            "nearest", Float.POSITIVE_INFINITY, p -> PassPictures.distance(p, p.of(PassList.NEAREST)[0]), "nearest.Z");
    /** Metres in the set, of the nearest sample; 0 where nothing is. */
    public static final Pass POSITION = new Pass(
            "position",
            List.of("position.X", "position.Y", "position.Z"),
            true,
            0,
            false,
            null,
            PassPictures::position);
    /** Of the performer's texture, of the nearest sample. */
    public static final Pass UV = new Pass("uv", List.of("uv.U", "uv.V"), true, 0, false, null, PassPictures::uv);
    /** Pixels to where the place will be in the next frame, to the right and down. */
    public static final Pass FORWARD = motion("forward");
    /** Likewise to where it was in the one before. */
    public static final Pass BACK = motion("back");
    /** Open part of the hemisphere within the reach of the recipe. */
    public static final Pass CONTACT = part(
            "contact",
            1,
            new Smoothing(ALL, NEIGHBOURS, 2),
            p -> PassPictures.grey(p, p.of(PassList.CONTACT)[0]),
            "contact.Y");
    /** Camera samples of a pixel. */
    public static final Pass SAMPLES =
            exact("samples", 0, p -> PassPictures.upTo(p, p.of(PassList.SAMPLES)[0]), "samples.Y");
    /** Estimated error before the filter, relative to the level. */
    public static final Pass NOISE = exact("noise", 0, p -> PassPictures.upTo(p, p.of(PassList.NOISE)[0]), "noise.Y");
    /** Estimated deviation of the luminance of beauty, shadow and given light. */
    public static final Pass SPREAD = light("spread", null, null, "spread.beauty", "spread.shadow", "spread.given");
    /** Part of a pixel's samples that tell of a catcher, be it behind performers. */
    public static final Pass CATCHER = light("catcher", null, null, "catcher.Y");
    /** What surfaces return of white light. */
    public static final Pass TINT = light("tint", null, null, "tint.R", "tint.G", "tint.B");
    /** Metres along the view axis to the catcher, behind performers too; 0 where none is. */
    public static final Pass GROUND = light("ground", null, null, "ground.Z");

    /** Part of all light on a catcher that is this light, without performers: only kept for single lights. */
    private static final Pass LIGHT = part("light", 0, null, null, "light.R", "light.G", "light.B");
    /** What single lights have passes of. */
    private static final List<Pass> BY_LIGHT = List.of(BEAUTY, BOUNCE, REFLECTION), STRAIGHT = List.of(SHADOW, LIGHT);

    private static Pass motion(String name) {
        return light(name, null, p -> PassPictures.motion(p, p.of(name)), name + ".U", name + ".V");
    }

    private static Pass lobe(String name) {
        return light(name, null, p -> colour(p, name), name + ".R", name + ".G", name + ".B");
    }

    private static Image colour(Passes p, String name) {
        return new Image(p.width, p.height, p.of(name));
    }

    /** The passes of a single light, whose names end in its own; those on catchers are of its straight light. */
    public static List<Pass> ofLight(String light) {
        List<Pass> all = new ArrayList<>();
        for (Pass p : BY_LIGHT) all.add(p.of(light));
        if (!light.endsWith(INDIRECT)) for (Pass p : STRAIGHT) all.add(p.of(light));
        return all;
    }

    /** What the passes of a written frame are, by its channels. */
    static List<Pass> among(Set<String> channels) {
        List<Pass> all = new ArrayList<>(ALL_PASSES);
        for (PassSet s : PassSet.values()) for (Pass p : s.passes()) if (channels.containsAll(p.channels())) all.add(p);
        channels.stream()
                .filter(c -> c.startsWith("beauty.") && c.endsWith(".R"))
                .forEach(c -> all.addAll(ofLight(c.substring(7, c.length() - 2))));
        return all;
    }

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
        return shown(ALL_PASSES);
    }

    public static List<String> shown(List<Pass> among) {
        return among.stream().filter(p -> p.picture() != null).map(Pass::name).toList();
    }
}
