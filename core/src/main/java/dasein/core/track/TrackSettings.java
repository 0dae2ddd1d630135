package dasein.core.track;

/**
 * How to follow marks automatically.
 *
 * @param count marks wanted in every frame, 20 to 5000
 * @param threshold weakest corner accepted, as a fraction of a strong corner in the picture, 0 to 1
 * @param region half size of the followed region in pixels, 4 to 25
 * @param minLength shorter tracks are dropped, in frames
 */
public record TrackSettings(int count, double threshold, int region, int minLength) {
    public static final TrackSettings DEFAULT = new TrackSettings(400, 0.02, 7, 6);
}
