package dasein.core.output;

import dasein.core.BadInput;
import dasein.core.format.MovieKind;
import java.util.Arrays;

/** Kinds of files that a finished shot is written as. */
public enum Format {
    H264("h264", MovieKind.H264),
    AV1("av1", MovieKind.AV1),
    WEBM("webm", MovieKind.WEBM),
    VC3("vc3", MovieKind.VC3),
    FFV1("ffv1", MovieKind.FFV1),
    PNG("png", "PNG, 8 bit", ".png"),
    PNG16("png16", "PNG, 16 bit", ".png"),
    TIFF("tiff", "TIFF, 16 bit", ".tif"),
    JPEG("jpeg", "JPEG", ".jpg"),
    DPX("dpx", "DPX, 10 bit", ".dpx"),
    EXR("exr", "EXR, half", ".exr"),
    EXR32("exr32", "EXR, float", ".exr"),
    /** Rendered passes as they are, or some of them. */
    PASSES("passes", "EXR passes", ".exr"),
    /** What each drawn mask, what stands in front and each performer covers. */
    MATTES("mattes", "mattes, EXR", ".exr"),
    /** The plate without the lens's distortion, and the maps there and back. */
    STRAIGHT("straight", "undistorted plate, ST maps", ".exr");
    public final String key, label, suffix;
    /** Null for frames. */
    public final MovieKind movie;

    Format(String key, MovieKind movie) {
        this.key = key;
        this.label = movie.label;
        this.suffix = movie.suffix;
        this.movie = movie;
    }

    Format(String key, String label, String suffix) {
        this.key = key;
        this.label = label;
        this.suffix = suffix;
        this.movie = null;
    }

    /** Of the file that is handed over. */
    public String file() {
        return movie == null ? ".zip" : suffix;
    }

    /** Whether light is written as it is, without any encoding. */
    public boolean light() {
        return this == EXR || this == EXR32 || !finished();
    }

    /** Whether it is a picture of the finished shot, that can be cut and lettered. */
    public boolean finished() {
        return this != PASSES && this != MATTES && this != STRAIGHT;
    }

    public static Format of(String key) {
        return Arrays.stream(values())
                .filter(f -> f.key.equals(key))
                .findFirst()
                .orElseThrow(() -> new BadInput("nothing is written as " + key));
    }
}
