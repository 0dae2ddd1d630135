package dasein.core.format;

import dasein.core.image.Image;
import dasein.core.lens.Straighten;
import java.nio.file.Path;
import java.util.Map;
import java.util.Set;

/**
 * Straight frames and the maps between them and the plate, as EXR: the overscan that keeps all of the plate stands in
 * the data window, the plate in the display window.
 */
public final class StraightExr {
    private StraightExr() {}

    /** @param plate the frame as the lens bent it, scene-linear */
    public static void writeFrame(Path path, Straighten s, Image plate) {
        Image im = s.undistorted(plate);
        Exr.write(
                path,
                new int[] {s.left, s.top, s.wide, s.high},
                new int[] {0, 0, plate.width, plate.height},
                Map.of("R", im.planes[0], "G", im.planes[1], "B", im.planes[2]),
                Set.of(),
                Map.of());
    }

    /** ST map, 32-bit float, that straightens a plate of width x height. */
    public static void writeUndistortMap(Path path, Straighten s, int width, int height) {
        float[][] m = s.undistortMap();
        Exr.write(
                path,
                new int[] {s.left, s.top, s.wide, s.high},
                new int[] {0, 0, width, height},
                Map.of("R", m[0], "G", m[1], "B", new float[m[0].length]),
                Set.of("R", "G", "B"),
                Map.of());
    }

    /** ST map, 32-bit float, that bends a straight picture again. */
    public static void writeRedistortMap(Path path, Straighten s, int width, int height) {
        float[][] m = s.redistortMap();
        Exr.write(
                path,
                width,
                height,
                Map.of("R", m[0], "G", m[1], "B", new float[m[0].length]),
                Set.of("R", "G", "B"),
                Map.of());
    }
}
