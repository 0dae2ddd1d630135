package dasein.core.track;

import dasein.core.BadInput;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.function.IntFunction;

/**
 * Where not to look: one picture for the whole shot, or a folder of numbered ones. White (brighter than half) is
 * masked.
 */
public final class Masks {
    private Masks() {}

    /** @return for a frame number the masked pixels, row-major, of the plate's size; null for frames without a mask */
    public static IntFunction<boolean[]> open(Path path, int width, int height) {
        if (!Files.isDirectory(path)) {
            boolean[] all = masked(
                    Stills.read(path, Encoding.LINEAR),
                    width,
                    height,
                    path.getFileName().toString());
            return f -> all;
        }
        Plate plate = Plate.open(path, Encoding.LINEAR, null);
        return f -> f < plate.first() || f > plate.last()
                ? null
                : masked(plate.frame(f), width, height, "the mask of frame " + f);
    }

    private static boolean[] masked(Image im, int width, int height, String what) {
        if (im.width != width || im.height != height)
            throw new BadInput(what + " is " + im.width + " x " + im.height + ", the plate " + width + " x " + height);
        boolean[] m = new boolean[width * height];
        float[] l = im.luminance();
        for (int i = 0; i < m.length; i++) m[i] = l[i] > 0.5f;
        return m;
    }
}
