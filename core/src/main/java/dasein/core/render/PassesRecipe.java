package dasein.core.render;

/**
 * How the passes are rendered.
 *
 * @param size part of the plate's size, 1 for the final
 * @param minSamples samples for every pixel; {@code maxSamples} no pixel exceeds
 * @param noise relative error at which a part of the picture is done, e.g. 0.02
 * @param bounces light bounces after the first hit
 * @param shutterDeg opening of the shutter for motion blur, 180 is half of the frame's time; 0 for none; below 0 for
 *     what was noted on set
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
        boolean straight) {
    public static final PassesRecipe BLANK = new PassesRecipe(1, 8, 48, 0.04, 2, -1, true, false);

    public Quality quality() {
        return new Quality(minSamples, maxSamples, noise, bounces, denoise);
    }
}
