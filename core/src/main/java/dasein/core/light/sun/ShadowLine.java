package dasein.core.light.sun;

/**
 * A real shadow as drawn in the plate: the tip of the shadow, and what casts it by its top, its foot below that top, or
 * both. A foot alone holds only which way the shadow runs.
 *
 * @param top, foot pixels in {@code frame}, or null; @param tip pixels in {@code tipFrame}
 * @param footHeight, tipHeight metres above the ground on which foot and shadow's tip lie
 */
public record ShadowLine(
        String name,
        int frame,
        double[] top,
        double[] foot,
        int tipFrame,
        double[] tip,
        double footHeight,
        double tipHeight) {
    public ShadowLine(String name, int frame, double[] foot, double[] top, double[] tip) {
        this(name, frame, top, foot, frame, tip, 0, 0);
    }
}
