package dasein.app.stage.output;

import dasein.app.scene.Comps;
import dasein.app.stage.Desk;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.format.Dpx;
import dasein.core.format.Exr;
import dasein.core.format.MovieSpec;
import dasein.core.format.Sound;
import dasein.core.format.Stills;
import dasein.core.format.StraightExr;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.Straighten;
import dasein.core.output.Format;
import dasein.core.output.Lettering;
import dasein.core.output.Names;
import dasein.core.plate.Conform;
import dasein.core.plate.Plate;
import dasein.core.plate.Timecode;
import dasein.core.render.pass.PassList;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import java.io.IOException;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;

/** What one output is made of: how frames are dressed, where they go, and what is said of them. */
final class Delivery {
    private static final float JPEG = 0.95f;

    private final Desk desk;
    private final Shot s;
    private final Plate plate;
    private final Writing w;
    private final String shot, show;
    private final long revision;
    private final Encoding encoding;
    /** Of the plate's first frame; null where there is none that counts. */
    private final Timecode start;
    /** Why there is no sound, for the sentence at the end. */
    private String silence = "";

    Delivery(Desk desk, Shot s, Plate plate, Writing w, String shot, String show, long revision) {
        this.desk = desk;
        this.s = s;
        this.plate = plate;
        this.w = w;
        this.shot = shot;
        this.show = show;
        this.revision = revision;
        encoding = w.encodedAs(plate.encoding());
        start = start(s, plate);
    }

    private static Timecode start(Shot s, Plate plate) {
        String own = s.plate().timecode(),
                code =
                        !own.isEmpty()
                                ? own
                                : plate.facts() == null ? "" : plate.facts().timecode();
        try {
            return code.isEmpty() ? null : Timecode.parse(code, plate.rate());
        } catch (BadInput none) {
            return null;
        }
    }

    String silence() {
        return silence;
    }

    private String timecode(int frame) {
        return start == null ? "" : start.plus(frame - plate.first()).toString();
    }

    /** In its shape, and lettered. */
    Image dressed(Image im, int frame) {
        Image out = w.reframe().of(im);
        return w.burnIn()
                ? Lettering.burnt(
                        out,
                        String.format(Locale.ROOT, "%s v%03d", shot, w.version()),
                        String.format(Locale.ROOT, "%04d", frame),
                        timecode(frame))
                : out;
    }

    Image slate(Image like) {
        return Lettering.slate(
                like.width,
                like.height,
                List.of(
                        shot,
                        show,
                        String.format(Locale.ROOT, "version %03d, revision %d", w.version(), revision),
                        "frames " + w.first() + " to " + w.last() + ", " + (w.last() - w.first() + 1) + " in all, at "
                                + plate.rate().words() + " a second",
                        timecode(w.first()).isEmpty() ? "no timecode" : "from " + timecode(w.first()),
                        like.width + " x " + like.height + ", " + w.kind().label + ", " + encoding.label,
                        LocalDate.now().toString()));
    }

    Sink sink(Path to, Image first) throws IOException {
        return w.kind().movie == null ? zip(to) : movie(to, first);
    }

    private MovieSink movie(Path to, Image first) {
        int before = w.slate() ? 1 : 0;
        float[][] sound = w.sound() ? sound(before) : null;
        String code = start == null
                ? ""
                : start.plus(w.first() - plate.first() - before).toString();
        return new MovieSink(
                to,
                new MovieSpec(
                        w.kind().movie,
                        first.width,
                        first.height,
                        plate.rate().num(),
                        plate.rate().den(),
                        encoding,
                        code,
                        sound != null),
                sound);
    }

    /** @param before frames of silence */
    private float[][] sound(int before) {
        Path file = desk.media().path(s.plate().file());
        if (plate.facts() == null) return silent("stills have no sound");
        if (!s.plate().conform().equals(Conform.NONE) || !s.plate().rate().isEmpty())
            return silent("the plate runs at another rate than its sound");
        double rate = plate.rate().perSecond();
        float[][] heard = Sound.of(file, (w.first() - plate.first()) / rate, (w.last() - w.first() + 1) / rate);
        if (heard == null) return silent("the plate has none");
        if (before == 0) return heard;
        int quiet = (int) Math.round(before / rate * Sound.RATE);
        float[][] out = new float[2][heard[0].length + quiet];
        for (int c = 0; c < 2; c++) System.arraycopy(heard[c], 0, out[c], quiet, heard[c].length);
        return out;
    }

    private float[][] silent(String why) {
        silence = ", without sound: " + why;
        return null;
    }

    ZipSink zip(Path to) throws IOException {
        Format k = w.kind();
        return new ZipSink(to, k.suffix, this::picture, f -> Names.frame(shot, f, k.suffix), shot, revision, about());
    }

    private Map<String, String> about() {
        Map<String, String> a = new LinkedHashMap<>();
        a.put("show", show);
        a.put("version", Integer.toString(w.version()));
        a.put("kind", w.kind().label);
        a.put("frames", w.first() + " to " + w.last() + " at " + plate.rate().words() + " a second");
        a.put("encoding", w.kind().light() ? "scene-linear, Rec. 709 primaries" : encoding.label);
        if (start != null) a.put("timecode", "from " + timecode(w.first()));
        if (!w.reframe().none()) a.put("shape", w.shape() + (w.width() > 0 ? ", " + w.width() + " px wide" : ""));
        return a;
    }

    private void picture(Path to, int frame, Image im) throws IOException {
        switch (w.kind()) {
            case EXR, EXR32 -> {
                Map<String, float[]> planes = new LinkedHashMap<>();
                for (int c = 0; c < 3; c++) planes.put("RGB".substring(c, c + 1), im.planes[c]);
                Exr.write(
                        to,
                        im.width,
                        im.height,
                        planes,
                        w.kind() == Format.EXR32 ? planes.keySet() : Set.of(),
                        attributes(frame));
            }
            case PNG -> Stills.writePng(to, im, encoding);
            case PNG16 -> Stills.writePng16(to, im, encoding);
            case TIFF -> Stills.writeTiff16(to, im, encoding);
            case JPEG -> Stills.writeJpeg(to, Stills.toBuffered(im, encoding), JPEG);
            case DPX -> Dpx.write(to, im, encoding, frame, plate.rate().perSecond(), timecode(frame));
            default -> throw new IllegalStateException("no picture: " + w.kind());
        }
    }

    private Map<String, String> attributes(int frame) {
        Map<String, String> a = new TreeMap<>();
        a.put(Exr.COUNTER, Integer.toString(frame));
        a.put(Exr.RATE, plate.rate().num() + "/" + plate.rate().den());
        a.put("shot", shot);
        if (!timecode(frame).isEmpty()) a.put(Exr.TIMECODE, timecode(frame));
        return a;
    }

    /** Rendered passes of a frame as they lie there, or those of them that were asked for. */
    void passes(ZipSink zip, int frame) throws IOException {
        Path file = desk.filtered().file(s, frame);
        if (file == null) throw new BadInput("the passes of frame " + frame + " are missing");
        if (w.passes().isEmpty()) {
            zip.add(Names.frame(shot, frame, ".exr"), file);
            return;
        }
        Exr.Channels all = Exr.read(file);
        Map<String, float[]> some = new TreeMap<>();
        Set<String> exact = PassList.ALL_PASSES.stream()
                .filter(p -> p.exact())
                .flatMap(p -> p.channels().stream())
                .collect(Collectors.toSet());
        for (String name : w.passes())
            PassList.ALL_PASSES.stream()
                    .filter(p -> p.name().equals(name))
                    .flatMap(p -> p.channels().stream())
                    .forEach(c -> some.put(c, all.plane(c)));
        int[] data = {all.originX(), all.originY(), all.width(), all.height()};
        exact.retainAll(some.keySet());
        Exr.write(zip.scratch(), data, all.display(), some, exact, attributes(frame));
        zip.add(Names.frame(shot, frame, ".exr"), zip.scratch());
    }

    void mattes(ZipSink zip, int frame) throws IOException {
        Comps.Mattes m = desk.comps().mattes(s, plate, frame);
        Exr.write(zip.scratch(), m.width(), m.height(), m.channels(), Set.of(), attributes(frame));
        zip.add(Names.frame(shot + "_mattes", frame, ".exr"), zip.scratch());
    }

    /** The undistorted plate with the maps there and back; of a zoom those of its first frame. */
    void straight(Path to, Progress progress) throws IOException {
        SolvedCamera c = desk.results().camera(s);
        try (ZipSink zip = zip(to)) {
            Path one = zip.scratch();
            Straighten maps = new Straighten(c.lens(w.first()), plate.width(), plate.height());
            StraightExr.writeUndistortMap(one, maps, plate.width(), plate.height());
            zip.add("undistort.exr", one);
            StraightExr.writeRedistortMap(one, maps, plate.width(), plate.height());
            zip.add("redistort.exr", one);
            for (int f = w.first(); f <= w.last(); f++) {
                progress.at((double) (f - w.first()) / (w.last() - w.first() + 1), "frame " + f);
                StraightExr.writeFrame(one, new Straighten(c.lens(f), plate.width(), plate.height()), plate.frame(f));
                zip.add(Names.frame(shot + "_straight", f, ".exr"), one);
            }
            zip.finish();
        }
    }
}
