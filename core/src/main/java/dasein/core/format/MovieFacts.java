package dasein.core.format;

import java.util.ArrayList;
import java.util.List;

/**
 * What a movie's file says of itself beside size, rate and count.
 *
 * @param turn quarter turns clockwise by which the picture was turned upright (the file's rotation flag), 0 to 3
 * @param aspectNum width of a pixel over its height, with {@code aspectDen}; 1/1 for square or unsaid
 * @param timecode of the first frame as the file writes it, empty when there is none
 * @param uneven places in the file, from 0, before which a frame stands longer or shorter than the rate says
 * @param bitDepth of a sample
 */
public record MovieFacts(
        int turn,
        int aspectNum,
        int aspectDen,
        boolean interlaced,
        String timecode,
        List<Integer> uneven,
        int bitDepth,
        String layout) {

    /** Width of a pixel over its height. */
    public double aspect() {
        return (double) aspectNum / aspectDen;
    }

    /** What a person should know before going on, each a sentence. */
    public List<String> warnings(int frames) {
        List<String> out = new ArrayList<>();
        if (!uneven.isEmpty()) {
            out.add(
                    uneven.size() > frames / 10
                            ? "The frame rate is not constant: " + uneven.size() + " of " + frames
                                    + " frames stand longer or shorter than the rate says. Taken by their "
                                    + "times they stand as long as they did."
                            : "Time jumps "
                                    + (uneven.size() == 1
                                            ? "at frame " + (uneven.get(0) + 1)
                                            : "at " + uneven.size() + " places, first at frame " + (uneven.get(0) + 1))
                                    + ": frames may be missing there.");
        }
        if (interlaced)
            out.add("The picture is interlaced: each frame holds two moments. Tracks and solve will be poor "
                    + "until only one of them is kept.");
        if (aspectNum != aspectDen)
            out.add(String.format(
                    java.util.Locale.ROOT, "The file says its pixels are %.3f as wide as high.", aspect()));
        if (turn != 0) out.add("The file asks to be turned by " + 90 * turn + " degrees; that was done.");
        return out;
    }
}
