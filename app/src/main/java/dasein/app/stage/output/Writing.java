package dasein.app.stage.output;

import com.fasterxml.jackson.annotation.JsonIgnoreProperties;
import dasein.core.image.Encoding;
import dasein.core.output.Format;
import dasein.core.output.Reframe;
import java.util.List;
import java.util.Locale;
import tools.jackson.databind.json.JsonMapper;

/**
 * What is to be written.
 *
 * @param format key of a {@link Format}; @param first frame, and last
 * @param encoding by name, empty for the plate's own
 * @param shape of {@link Reframe.Shape}, by its label; @param across, down where it lies; @param width 0 for its own
 * @param slate before the first frame; @param burnIn of names and numbers; @param sound of the plate
 * @param version in names and letters; @param passes that are kept of passes, empty for all
 */
@JsonIgnoreProperties(ignoreUnknown = true)
record Writing(
        String format,
        int first,
        int last,
        String encoding,
        String shape,
        double across,
        double down,
        int width,
        boolean slate,
        boolean burnIn,
        boolean sound,
        int version,
        List<String> passes) {
    private static final JsonMapper JSON = JsonMapper.builder().build();

    Writing {
        passes = passes == null ? List.of() : List.copyOf(passes);
        encoding = encoding == null ? "" : encoding;
        shape = shape == null ? Reframe.Shape.WHOLE.label : shape;
    }

    static Writing plain(String format, int first, int last) {
        return new Writing(format, first, last, "", null, 0.5, 0.5, 0, false, false, false, 1, List.of());
    }

    /** @param settings as a task keeps them; those of earlier versions were three words */
    static Writing parse(String settings) {
        if (settings.startsWith("{")) return JSON.readValue(settings, Writing.class);
        String[] a = settings.split(" ");
        return plain(a[0].equals("movie") ? Format.H264.key : a[0], Integer.parseInt(a[1]), Integer.parseInt(a[2]));
    }

    /** As a task's settings keep it. */
    String settings() {
        return JSON.writeValueAsString(this);
    }

    Format kind() {
        return Format.of(format);
    }

    Reframe reframe() {
        return new Reframe(Reframe.Shape.of(shape), across, down, width);
    }

    /** Of a plate that is encoded so. */
    Encoding encodedAs(Encoding plate) {
        if (kind().light()) return Encoding.LINEAR;
        Encoding e = encoding.isEmpty() ? plate : Encoding.of(encoding);
        return kind().movie == null ? e : e.movie();
    }

    /**
     * What decides on the file's content: of two that are alike one is written.
     *
     * @param show, shot their names, which frames are called by and letters say
     */
    String print(String show, String shot) {
        String s = kind() == Format.STRAIGHT ? format : settings();
        return kind().movie != null && !slate && !burnIn ? s : s + " " + show + "/" + shot;
    }

    /** In words: what of, how large and how encoded. @param size pixels; @param all the whole cut */
    String words(Encoding plate, int[] size, boolean all) {
        StringBuilder s = new StringBuilder(kind().label);
        if (!all) s.append(", ").append(first).append(" to ").append(last);
        if (kind().finished()) s.append(String.format(Locale.ROOT, ", %d x %d", size[0], size[1]));
        if (!kind().light()) s.append(", ").append(encodedAs(plate).label);
        if (slate) s.append(", slate");
        if (burnIn) s.append(", burn-in");
        if (!passes.isEmpty()) s.append(", ").append(String.join(" ", passes));
        return s.toString();
    }
}
