package dasein.app.stage.output;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.output.Manifest;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.function.IntFunction;
import java.util.zip.Deflater;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import org.apache.commons.codec.digest.DigestUtils;

/** Frames, or other files, in a zip with a manifest. Once it is written every file in it is read again. */
final class ZipSink implements Sink {
    /** Writes one picture. */
    interface Picture {
        void write(Path to, int frame, Image im) throws IOException;
    }

    private final Path to, one;
    private final ListedZip zip;
    private final Picture picture;
    private final IntFunction<String> name;
    private final String shot;
    private final long revision;
    private final Map<String, String> about;

    /** @param name of a frame's file; @param about in words what it is */
    ZipSink(
            Path to,
            String suffix,
            Picture picture,
            IntFunction<String> name,
            String shot,
            long revision,
            Map<String, String> about)
            throws IOException {
        this.to = to;
        this.picture = picture;
        this.name = name;
        this.shot = shot;
        this.revision = revision;
        this.about = about;
        one = Files.createTempFile(to.toAbsolutePath().getParent(), ".part-", suffix);
        zip = new ListedZip(Files.newOutputStream(to));
        // The pictures are packed already.
        zip.packing(Deflater.NO_COMPRESSION);
    }

    @Override
    public void put(int frame, Image im) throws IOException {
        picture.write(one, frame, im);
        add(name.apply(frame), one);
    }

    /** Where a file may be made that is added then. */
    Path scratch() {
        return one;
    }

    void add(String as, Path file) throws IOException {
        zip.add(as, file);
    }

    @Override
    public void finish() throws IOException {
        zip.finish(shot, revision, about);
        zip.close();
        check(to);
    }

    /** @throws BadInput where a file is not what the manifest says */
    static void check(Path zip) throws IOException {
        try (ZipFile z = new ZipFile(zip.toFile())) {
            Manifest m = Manifest.parse(
                    new String(z.getInputStream(z.getEntry(Manifest.NAME)).readAllBytes(), StandardCharsets.UTF_8));
            for (Manifest.Entry e : m.files()) {
                ZipEntry there = z.getEntry(e.name());
                if (there == null) throw new BadInput("the zip was not kept: " + e.name() + " is missing in it");
                try (var in = z.getInputStream(there)) {
                    if (!DigestUtils.sha256Hex(in).equals(e.sha256()))
                        throw new BadInput("the zip was not kept: " + e.name() + " is damaged in it");
                }
            }
        }
    }

    @Override
    public void close() {
        try {
            Files.deleteIfExists(one);
            zip.close();
        } catch (IOException e) {
            // What fails here failed before, or leaves a scratch file that the next start sweeps.
        }
    }
}
