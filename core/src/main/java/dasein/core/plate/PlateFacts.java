package dasein.core.plate;

import dasein.core.image.Encoding;
import java.util.List;

/**
 * What is known of a plate without opening it: facts of the footage as it is read, which a database may keep.
 *
 * @param rateSaid whether the file, or a person, said how many frames a second there are; else it is only assumed
 * @param encoding by name; @param kind for people, for example "h264 movie"
 * @param bitDepth of a movie, 0 for stills, whose depth is not told
 * @param aspect width of a stored pixel over its height, as the file says
 * @param timecode of the first frame, empty where the file has none
 * @param warnings sentences on what is odd about the file
 */
public record PlateFacts(
        int width,
        int height,
        int first,
        int last,
        int rateNum,
        int rateDen,
        boolean rateSaid,
        String encoding,
        String kind,
        int bitDepth,
        double aspect,
        String timecode,
        List<String> warnings)
        implements Span {

    public static PlateFacts of(Plate p) {
        var movie = p.facts();
        return new PlateFacts(
                p.width(),
                p.height(),
                p.first(),
                p.last(),
                p.rate().num(),
                p.rate().den(),
                p.rateSaid(),
                p.encoding().name(),
                p.kind(),
                movie == null ? 0 : movie.bitDepth(),
                movie == null ? 1 : movie.aspect(),
                movie == null ? "" : movie.timecode(),
                movie == null ? List.of() : movie.warnings(p.count()));
    }

    public Rate rate() {
        return new Rate(rateNum, rateDen);
    }

    public Encoding colour() {
        return Encoding.of(encoding);
    }
}
