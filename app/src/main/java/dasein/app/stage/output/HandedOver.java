package dasein.app.stage.output;

import dasein.app.store.Media;
import dasein.app.store.MediaStore;
import dasein.app.store.ModelShelf;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.model.file.ModelFile;
import dasein.core.output.Manifest;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Enumeration;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipException;
import java.util.zip.ZipFile;
import java.util.zip.ZipOutputStream;
import org.apache.commons.codec.digest.DigestUtils;
import org.springframework.stereotype.Component;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/** A shot that was taken away as a scene, brought into this installation: its document, and all media it names. */
@Component
public class HandedOver {
    static final String DOCUMENT = "document.json", MEDIA = "media.json", RESULTS = "results.json";
    private static final long LONGEST_TEXT = 64L << 20;
    private static final int MOST_FILES = 20_000;

    /** A file of the zip that is one of the document's media. @param name as it was once brought in */
    record Item(String hash, String kind, String name, String file) {}

    private final MediaStore media;
    private final ModelShelf shelf;
    private final Shots shots;
    private final ResultsAlong along;

    HandedOver(MediaStore media, ModelShelf shelf, Shots shots, ResultsAlong along) {
        this.along = along;
        this.media = media;
        this.shelf = shelf;
        this.shots = shots;
    }

    /** @return number of the new shot. @throws BadInput when it is no such zip, or something in it is damaged */
    public long bring(InputStream in, String show, String name) {
        try {
            Path zip = Files.createTempFile("dasein", ".zip");
            try {
                try (OutputStream out = Files.newOutputStream(zip)) {
                    in.transferTo(out);
                }
                return shots.create(show, name, read(zip));
            } finally {
                Files.deleteIfExists(zip);
            }
        } catch (ZipException e) {
            throw new BadInput("that is no zip, or it is cut short", e);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private Shot read(Path file) throws IOException {
        try (ZipFile zip = new ZipFile(file.toFile())) {
            if (zip.size() > MOST_FILES) throw new BadInput("more than " + MOST_FILES + " files are not brought in");
            if (zip.getEntry(DOCUMENT) == null || zip.getEntry(MEDIA) == null || zip.getEntry(Manifest.NAME) == null)
                throw new BadInput("that zip was not taken away from here: it holds no " + DOCUMENT);
            // All of it is looked through before anything is stored.
            for (Manifest.Entry e : Manifest.parse(text(zip, Manifest.NAME)).files()) {
                ZipEntry there = zip.getEntry(e.name());
                if (there == null) throw new BadInput(e.name() + " is missing in that zip");
                try (InputStream in = new Upto(zip.getInputStream(there), e.bytes())) {
                    if (!DigestUtils.sha256Hex(in).equals(e.sha256())) throw new BadInput(e.name() + " is damaged");
                }
            }
            String document = text(zip, DOCUMENT);
            Item[] items = JsonMapper.builder().build().readValue(text(zip, MEDIA), Item[].class);
            for (Item k : items) {
                // What is packed otherwise has another hash here.
                String now = stored(zip, k).hash();
                if (k.hash().matches("[0-9a-f]{64}")) document = document.replace(k.hash(), now);
            }
            Shot s = ShotJson.read(document);
            if (zip.getEntry(RESULTS) != null) results(zip, s);
            return s;
        } catch (JacksonException e) {
            throw new BadInput("what that zip says of itself cannot be read", e);
        }
    }

    private void results(ZipFile zip, Shot s) throws IOException {
        Path folder = Files.createTempDirectory("dasein");
        try {
            ResultsAlong.All all = JsonMapper.builder().build().readValue(text(zip, RESULTS), ResultsAlong.All.class);
            along.bring(s, all, name -> {
                ZipEntry e = zip.getEntry(name);
                if (e == null) throw new BadInput(name + " is missing in that zip");
                Path to = folder.resolve("result" + name.substring(name.lastIndexOf('.')));
                try (InputStream in = zip.getInputStream(e)) {
                    Files.copy(in, to, StandardCopyOption.REPLACE_EXISTING);
                }
                return to;
            });
        } finally {
            try (var left = Files.list(folder)) {
                for (Path p : left.toList()) Files.deleteIfExists(p);
            }
            Files.deleteIfExists(folder);
        }
    }

    private Media stored(ZipFile zip, Item k) throws IOException {
        Path folder = null;
        ZipEntry one = zip.getEntry(k.file());
        if (one == null) folder = packed(zip, k);
        try (InputStream in = one != null ? zip.getInputStream(one) : Files.newInputStream(folder)) {
            String name = folder != null && !k.name().endsWith(".zip") ? k.name() + ".zip" : k.name();
            return switch (k.kind()) {
                case "plate" -> media.plate(in, name);
                case "model" -> shelf.bring(List.of(new ModelShelf.Sent(name, in)), ModelFile.Reading.GUESS);
                case "environment" -> media.environment(in, name);
                case "footage" -> shelf.footage(in, name);
                case "motion" -> shelf.motion(in, name);
                case "photo" -> media.photo(in, name);
                case "camera" -> media.camera(in, name);
                case "lens" -> media.lens(in, name);
                case "table" -> media.table(in, name);
                case "tracks" -> media.tracks(in, name);
                case "boards" -> media.boards(in, name);
                default -> throw new BadInput("nothing is known of files of the kind " + k.kind());
            };
        } finally {
            if (folder != null) Files.deleteIfExists(folder);
        }
    }

    /** Frames lie one by one; they were brought in as a zip, and are again. */
    private static Path packed(ZipFile zip, Item k) throws IOException {
        Path to = Files.createTempFile("dasein", ".zip");
        String under = k.file() + "/";
        int n = 0;
        try (ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(to))) {
            out.setLevel(java.util.zip.Deflater.NO_COMPRESSION);
            for (Enumeration<? extends ZipEntry> all = zip.entries(); all.hasMoreElements(); ) {
                ZipEntry e = all.nextElement();
                if (!e.getName().startsWith(under)) continue;
                out.putNextEntry(new ZipEntry(e.getName().substring(under.length())));
                zip.getInputStream(e).transferTo(out);
                out.closeEntry();
                n++;
            }
        }
        if (n > 0) return to;
        Files.deleteIfExists(to);
        throw new BadInput(k.file() + " is missing in that zip");
    }

    private static String text(ZipFile zip, String name) throws IOException {
        byte[] b = zip.getInputStream(zip.getEntry(name)).readNBytes((int) LONGEST_TEXT + 1);
        if (b.length > LONGEST_TEXT) throw new BadInput(name + " is too long");
        return new String(b, StandardCharsets.UTF_8);
    }

    /** Ends with an error where more comes than was said: a small zip may unpack to any size. */
    private static final class Upto extends FilterInputStream {
        private long left;

        Upto(InputStream in, long most) {
            super(in);
            left = most;
        }

        private int took(int n) {
            left -= Math.max(0, n);
            if (left < 0) throw new BadInput("a file of that zip is longer than the zip says");
            return n;
        }

        @Override
        public int read() throws IOException {
            int v = super.read();
            took(v < 0 ? 0 : 1);
            return v;
        }

        @Override
        public int read(byte[] b, int off, int len) throws IOException {
            return took(super.read(b, off, len));
        }
    }
}
