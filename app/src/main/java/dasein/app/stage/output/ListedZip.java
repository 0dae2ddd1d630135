package dasein.app.stage.output;

import dasein.core.output.Manifest;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.apache.commons.codec.digest.DigestUtils;

/** A zip that ends with a manifest of all that is in it, and a note for people. */
final class ListedZip implements AutoCloseable {
    private final OutputStream to;
    private final ZipOutputStream zip;
    private final List<Manifest.Entry> entries = new ArrayList<>();

    ListedZip(OutputStream to) {
        this.to = to;
        zip = new ZipOutputStream(to);
    }

    /** @param level as {@link java.util.zip.Deflater} has it, of what is added from here on */
    void packing(int level) {
        zip.setLevel(level);
    }

    void add(String name, Path file) throws IOException {
        try (InputStream in = Files.newInputStream(file)) {
            add(name, in);
        }
    }

    void add(String name, byte[] text) throws IOException {
        add(name, new ByteArrayInputStream(text));
    }

    private void add(String name, InputStream from) throws IOException {
        MessageDigest sum = DigestUtils.getSha256Digest();
        zip.putNextEntry(new ZipEntry(name));
        long bytes = new DigestInputStream(from, sum).transferTo(zip);
        zip.closeEntry();
        entries.add(new Manifest.Entry(name, bytes, HexFormat.of().formatHex(sum.digest())));
    }

    /** The list itself is not on the list. */
    void finish(String shot, long revision, Map<String, String> about) throws IOException {
        Manifest m = Manifest.of(shot, revision, about, entries);
        add(Manifest.NAME, m.json().getBytes(StandardCharsets.UTF_8));
        add(Manifest.NOTE, m.note().getBytes(StandardCharsets.UTF_8));
        zip.finish();
    }

    @Override
    public void close() throws IOException {
        // A zip that cannot be ended, on a full disk, would leave the file open.
        try (to) {
            zip.close();
        }
    }
}
