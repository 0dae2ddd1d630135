package dasein.core.render;

/**
 * How hard to work on a frame.
 *
 * @param minSamples samples every pixel gets
 * @param maxSamples samples no pixel exceeds
 * @param noise relative error at which a tile is done, e.g. 0.02; 0 always takes maxSamples
 * @param bounces light bounces after the first hit, 0 to 16
 * @param denoise filter what noise is left
 */
public record Quality(int minSamples, int maxSamples, double noise, int bounces, boolean denoise) {
    public static final Quality DRAFT = new Quality(4, 16, 0.05, 1, true);
    public static final Quality FINAL = new Quality(16, 128, 0.015, 3, true);
}
