package dasein.core.ground;

import java.util.List;

/**
 * How the set's frame is found.
 *
 * @param groundPoints numbers of solved points that lie on the ground, three or more; empty: proposed from all points
 * @param originPoint point whose foot on the ground becomes the origin; 0: the ground under the middle of the picture
 * @param headingFrom point from which, and {@code headingTo} towards which, -Z runs; 0: the way the first camera looks
 * @param yardsticks known distances; the scale is their least-squares fit
 * @param catcher the part of the ground that receives shadow, in metres
 * @param wet how the ground mirrors, 0 dry to 1 water; {@code wetRoughness} of the film, 0 to 1
 */
public record SetRecipe(List<Integer> groundPoints, int originPoint, int headingFrom, int headingTo, List<Yardstick> yardsticks,
    Catcher catcher, double wet, double wetRoughness) {

    /** A distance known from the set, between two solved points. */
    public record Yardstick(String name, int from, int to, double metres) {}

    /** A rectangle on the ground: its middle, and its size along X and Z. */
    public record Catcher(double x, double z, double width, double depth) {}

    public static final SetRecipe BLANK = new SetRecipe(List.of(), 0, 0, 0, List.of(), new Catcher(0, 0, 14, 14), 0, 0.25);
}
