package dasein.core.track;

/**
 * How to follow marks automatically.
 *
 * @param count marks wanted in every frame, 20 to 5000
 * @param threshold weakest corner accepted, as a fraction of a strong corner in the picture, 0 to 1
 * @param region half size of the followed region in pixels, 4 to 25
 * @param spacing least distance between new marks in pixels; 0: by the count
 * @param minLength shorter tracks are dropped, in frames
 */
public record TrackSettings(int count, double threshold, int region, double spacing, int minLength, Quality quality) {
    public static final TrackSettings DEFAULT = new TrackSettings(400, 0.02, 7, 0, 6, Quality.STANDARD);

    public enum Quality {
        /** From frame to frame only, wide pictures in half their size: quick, drifts a little. */
        DRAFT(4, 0, 2, 0, 0, false),
        /** Held against the mark's first look; picked up again for a second after it was hidden. */
        STANDARD(2, 24, 2, 0, 8, true),
        /** For shaky and blurred footage: larger regions, wider search, several starts. */
        THOROUGH(1, 60, 5, 4, 24, true);

        /** New marks are looked for in every so many frames. */
        final int lookEvery;
        /** Frames for which a hidden mark is looked for. */
        final int regain;
        /** Coarsest pyramid level to start on when all else failed. */
        final int top;
        /** Pixels by which the region is larger than asked: what blur takes in detail is made up by area. */
        final int wider;
        /** An anchor that is not found again (blur, a shadow passing) is given up after so many frames. */
        final int patience;

        final boolean anchored;

        Quality(int lookEvery, int regain, int top, int wider, int patience, boolean anchored) {
            this.lookEvery = lookEvery;
            this.regain = regain;
            this.top = top;
            this.wider = wider;
            this.patience = patience;
            this.anchored = anchored;
        }
    }
}
