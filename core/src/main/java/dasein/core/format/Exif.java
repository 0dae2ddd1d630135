package dasein.core.format;

import com.twelvemonkeys.imageio.metadata.CompoundDirectory;
import com.twelvemonkeys.imageio.metadata.Directory;
import com.twelvemonkeys.imageio.metadata.Entry;
import com.twelvemonkeys.imageio.metadata.jpeg.JPEG;
import com.twelvemonkeys.imageio.metadata.jpeg.JPEGSegment;
import com.twelvemonkeys.imageio.metadata.jpeg.JPEGSegmentUtil;
import com.twelvemonkeys.imageio.metadata.tiff.TIFF;
import com.twelvemonkeys.imageio.metadata.tiff.TIFFReader;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import javax.imageio.ImageIO;
import javax.imageio.stream.ImageInputStream;

/**
 * What a camera wrote down beside a photograph (Exif 2.3), of JPEG and TIFF files; 0 where it did not.
 *
 * @param seconds of the exposure; @param focal35Mm focal length as of a 36 mm wide picture
 */
public record Exif(double seconds, double fNumber, double iso, double focal35Mm) {
    public static final Exif NONE = new Exif(0, 0, 0, 0);

    private static final int SECONDS = 0x829A, F_NUMBER = 0x829D, ISO = 0x8827, FOCAL_35 = 0xA405;

    /** Light on the sensor for the same scene, in arbitrary units; 0 where time, f-stop or speed is not known. */
    public double exposure() {
        return seconds > 0 && fNumber > 0 && iso > 0 ? seconds * iso / (fNumber * fNumber) : 0;
    }

    /** Field of view across the picture's width, radians; 0 where it is not known. */
    public double field() {
        return focal35Mm > 0 ? 2 * Math.atan(18 / focal35Mm) : 0;
    }

    /** Of a file that has none, or whose notes are damaged: {@link #NONE}. */
    public static Exif read(Path path) {
        String n = path.getFileName().toString().toLowerCase(Locale.ROOT);
        try (ImageInputStream in = ImageIO.createImageInputStream(path.toFile())) {
            if (n.endsWith(".tif") || n.endsWith(".tiff")) return of(new TIFFReader().read(in));
            if (!n.endsWith(".jpg") && !n.endsWith(".jpeg")) return NONE;
            List<JPEGSegment> all = JPEGSegmentUtil.readSegments(in, JPEG.APP1, "Exif");
            if (all.isEmpty()) return NONE;
            try (InputStream data = all.get(0).data()) {
                // A padding byte stands between the name and the directory.
                data.skipNBytes(1);
                try (ImageInputStream part = ImageIO.createImageInputStream(data)) {
                    return of(new TIFFReader().read(part));
                }
            }
        } catch (IOException | RuntimeException e) {
            // Notes are a help; a photograph with damaged ones is still a photograph.
            return NONE;
        }
    }

    private static Exif of(Directory d) {
        Directory first = d instanceof CompoundDirectory all && all.directoryCount() > 0 ? all.getDirectory(0) : d;
        Entry sub = first.getEntryById(TIFF.TAG_EXIF_IFD);
        Directory notes = sub != null && sub.getValue() instanceof Directory inner ? inner : first;
        return new Exif(number(notes, SECONDS), number(notes, F_NUMBER), number(notes, ISO), number(notes, FOCAL_35));
    }

    private static double number(Directory d, int tag) {
        Entry e = d.getEntryById(tag);
        Object v = e == null ? null : e.getValue();
        if (v instanceof int[] several && several.length > 0) v = several[0];
        double n = v instanceof Number number ? number.doubleValue() : 0;
        return n > 0 && n < 1e9 ? n : 0;
    }
}
