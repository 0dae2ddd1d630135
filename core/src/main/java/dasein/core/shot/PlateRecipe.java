package dasein.core.shot;

import dasein.core.plate.Conform;
import java.util.List;
import java.util.function.Consumer;

/**
 * What was brought in, how to read it, and what was written down on set. Numbers that are 0 and texts that are empty
 * are unknown.
 *
 * @param file movie or folder of frames; @param encoding empty for the usual one; @param rate empty for the file's own
 * @param first first frame of the range, 0 for the file's own; {@code last} likewise
 * @param sensorWidthMm film back; @param focalMm focal length; @param fStop of the aperture
 * @param focusMetres distance of focus; @param shutterDeg how long the shutter was open, 360 the whole frame
 * @param timecode of the first frame, where the file's own is to be overruled
 * @param table a {@code .cube} file through which the codes go before {@code encoding} reads them; empty for none
 * @param conform how stored frames become even, progressive ones with square pixels
 * @param handles frames on either side of the range that are tracked and solved, too, but not rendered unless asked for
 * @param distances taped on set; @param photos of chart, ball and place, by their hash
 */
public record PlateRecipe(
        String file,
        String encoding,
        String rate,
        int first,
        int last,
        double sensorWidthMm,
        double focalMm,
        String notes,
        String camera,
        String lens,
        double fStop,
        double focusMetres,
        double shutterDeg,
        double cameraHeightMetres,
        String timecode,
        String table,
        Conform conform,
        int handles,
        List<Distance> distances,
        List<Photo> photos) {
    public static final PlateRecipe BLANK = new PlateRecipe(
            "", "", "", 0, 0, 0, 0, "", "", "", 0, 0, 0, 0, "", "", Conform.NONE, 0, List.of(), List.of());

    /** Other footage under the same notes, read as it says itself. */
    public PlateRecipe withFile(String other) {
        return but(o -> {
            o.file = other;
            o.encoding = o.rate = o.timecode = o.table = "";
            o.first = o.last = 0;
            o.conform = Conform.NONE;
        });
    }

    /** The same footage under another name, read as before. */
    public PlateRecipe named(String other) {
        return but(o -> o.file = other);
    }

    public PlateRecipe withTable(String t) {
        return but(o -> o.table = t);
    }

    public PlateRecipe withPhotos(List<Photo> p) {
        return but(o -> o.photos = List.copyOf(p));
    }

    public PlateRecipe withDistances(List<Distance> d) {
        return but(o -> o.distances = List.copyOf(d));
    }

    public PlateRecipe withConform(Conform c) {
        return but(o -> o.conform = c);
    }

    public PlateRecipe read(String enc, String perSecond, int from, int to) {
        return but(o -> {
            o.encoding = enc;
            o.rate = perSecond;
            o.first = from;
            o.last = to;
        });
    }

    /** Between two things that can be named. */
    public record Distance(String name, double metres) {}

    public record Photo(String hash, String name) {}

    /** A copy while it is changed, so that a change names only what it changes. */
    private static final class Copy {
        private String file;
        private String encoding;
        private String rate;
        private int first;
        private int last;
        private double sensorWidthMm;
        private double focalMm;
        private String notes;
        private String camera;
        private String lens;
        private double fStop;
        private double focusMetres;
        private double shutterDeg;
        private double cameraHeightMetres;
        private String timecode;
        private String table;
        private Conform conform;
        private int handles;
        private List<Distance> distances;
        private List<Photo> photos;
    }

    private PlateRecipe but(Consumer<Copy> change) {
        Copy o = new Copy();
        o.file = file;
        o.encoding = encoding;
        o.rate = rate;
        o.first = first;
        o.last = last;
        o.sensorWidthMm = sensorWidthMm;
        o.focalMm = focalMm;
        o.notes = notes;
        o.camera = camera;
        o.lens = lens;
        o.fStop = fStop;
        o.focusMetres = focusMetres;
        o.shutterDeg = shutterDeg;
        o.cameraHeightMetres = cameraHeightMetres;
        o.timecode = timecode;
        o.table = table;
        o.conform = conform;
        o.handles = handles;
        o.distances = distances;
        o.photos = photos;
        change.accept(o);
        return new PlateRecipe(
                o.file,
                o.encoding,
                o.rate,
                o.first,
                o.last,
                o.sensorWidthMm,
                o.focalMm,
                o.notes,
                o.camera,
                o.lens,
                o.fStop,
                o.focusMetres,
                o.shutterDeg,
                o.cameraHeightMetres,
                o.timecode,
                o.table,
                o.conform,
                o.handles,
                o.distances,
                o.photos);
    }
}
