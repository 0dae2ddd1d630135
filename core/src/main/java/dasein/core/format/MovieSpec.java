package dasein.core.format;

import dasein.core.image.Encoding;

/**
 * What a movie is to be.
 *
 * @param width, height of its pictures; @param rateNum frames a second over {@code rateDen}
 * @param encoding of its codes, one for looking
 * @param timecode of its first frame, empty for none; @param sound whether it comes with sound
 */
public record MovieSpec(
        MovieKind kind,
        int width,
        int height,
        int rateNum,
        int rateDen,
        Encoding encoding,
        String timecode,
        boolean sound) {
    /** Bits a second for each pixel of H.264: little is lost (measured on film with grain). */
    private static final long BITS_PER_PIXEL_SECOND = 9;

    long bitsPerSecond() {
        return BITS_PER_PIXEL_SECOND * width * height;
    }
}
