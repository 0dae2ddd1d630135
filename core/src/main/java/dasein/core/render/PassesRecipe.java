package dasein.core.render;

import dasein.core.render.pass.PassSet;
import java.util.Collections;
import java.util.Set;
import java.util.TreeSet;

/**
 * How the passes are rendered.
 *
 * @param size part of the plate's size, 1 for the final
 * @param minSamples samples for every pixel; {@code maxSamples} no pixel exceeds
 * @param noise relative error at which a part of the picture is done, e.g. 0.02
 * @param bounces light bounces after the first hit
 * @param shutterDeg opening of the shutter for motion blur, 180 is half of the frame's time; 0 for none; below 0 for
 *     what was noted on set
 * @param lights how far light is kept apart, so that the comp can balance it
 * @param sets further passes to be written
 * @param contactCm reach of the contact pass
 * @param overFrames neighbours on each side by which the noise of a frame is filtered, too
 * @param straight rendered for the undistorted plate, with the overscan that keeps all of it; the comp bends it again
 */
public record PassesRecipe(
        double size,
        int minSamples,
        int maxSamples,
        double noise,
        int bounces,
        double shutterDeg,
        boolean denoise,
        boolean straight,
        LightGroups.Apart lights,
        Set<PassSet> sets,
        double contactCm,
        Focus focus,
        int overFrames) {
    private static final double CONTACT_CM = 30;
    public static final int MOST_FRAMES = 4;
    public static final PassesRecipe BLANK = new PassesRecipe(
            1, 4, 32, 0.08, 2, -1, true, false, LightGroups.Apart.TOGETHER, Set.of(), CONTACT_CM, Focus.OFF, 2);

    /** Nothing kept but what every comp needs. */
    public PassesRecipe(
            double size,
            int minSamples,
            int maxSamples,
            double noise,
            int bounces,
            double shutterDeg,
            boolean denoise,
            boolean straight) {
        this(
                size,
                minSamples,
                maxSamples,
                noise,
                bounces,
                shutterDeg,
                denoise,
                straight,
                LightGroups.Apart.TOGETHER,
                Set.of(),
                CONTACT_CM,
                Focus.OFF,
                0);
    }

    /** What an older document does not say is at rest. */
    public PassesRecipe {
        if (lights == null) lights = LightGroups.Apart.TOGETHER;
        // In order, so that the same wish has the same fingerprint.
        sets = sets == null ? Set.of() : Collections.unmodifiableSet(new TreeSet<>(sets));
        if (contactCm <= 0) contactCm = CONTACT_CM;
        if (focus == null) focus = Focus.OFF;
        overFrames = Math.max(0, Math.min(MOST_FRAMES, overFrames));
    }

    /** What is kept: what is asked for, and what the filter over frames needs. */
    public Set<PassSet> kept() {
        if (overFrames == 0) return sets;
        Set<PassSet> all = new TreeSet<>(sets);
        all.add(PassSet.FILTERS);
        return all;
    }

    public PassesRecipe keeping(Set<PassSet> other) {
        return new PassesRecipe(
                size,
                minSamples,
                maxSamples,
                noise,
                bounces,
                shutterDeg,
                denoise,
                straight,
                lights,
                other,
                contactCm,
                focus,
                overFrames);
    }

    public PassesRecipe withShutter(double deg) {
        return new PassesRecipe(
                size,
                minSamples,
                maxSamples,
                noise,
                bounces,
                deg,
                denoise,
                straight,
                lights,
                sets,
                contactCm,
                focus,
                overFrames);
    }

    public Quality quality() {
        return new Quality(minSamples, maxSamples, noise, bounces, denoise);
    }
}
