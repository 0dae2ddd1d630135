package dasein.core.comp;

import java.util.List;

/**
 * How CG is brought to the plate. The plate itself is never graded.
 *
 * @param gain multiplies the performer's light
 * @param blacks lifts the performer's darkest parts to this level (scene-linear)
 * @param saturation of the performer, 1 as rendered, 0 grey
 * @param softnessPx Gaussian sigma in pixels of the full-size plate
 * @param grain standard deviation in code values of 0 to 1, laid on the performer
 * @param shadow density of the shadow, 1 as rendered
 * @param shadowTint factor on the shadow's strength for red, green and blue
 * @param bounce factor on the light performers give back to the ground; {@code reflection} on their mirror image
 */
public record CompRecipe(
        double gain,
        double blacks,
        double saturation,
        double softnessPx,
        double grain,
        double shadow,
        List<Double> shadowTint,
        double bounce,
        double reflection) {
    public static final CompRecipe BLANK = new CompRecipe(1, 0, 1, 0.6, 0.008, 1, List.of(1.0, 1.0, 1.0), 1, 1);
}
