package dasein.app.store;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.format.Stills;
import dasein.core.image.Cube;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.MapFacts;
import dasein.core.plate.Conform;
import dasein.core.plate.Plate;
import dasein.core.solve.file.CameraExchange;
import dasein.core.solve.file.LensFile;
import dasein.core.track.HandMark;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import java.io.EOFException;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipException;
import java.util.zip.ZipInputStream;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * Files under the media root: what was brought in (by content hash) and what was computed (by kind and fingerprint).
 * Everything is streamed to a temporary name, checked by content, then renamed.
 */
@Component
public class MediaStore {
    private static final Pattern FRAME =
            Pattern.compile("(?i)[^.].*?\\d+\\.(png|jpe?g|exr|tiff?|dpx)|\\d+\\.(png|jpe?g|exr|tiff?|dpx)");
    private static final String NO_FRAMES = " holds no numbered PNG, JPEG, TIFF, DPX or EXR frames";
    private static final String GROWING = ".part-up-";
    private static final int MOST_ZIP_FRAMES = 20_000;
    private static final long MOST_ZIP_BYTES = 200L << 30;
    private static final int LARGEST_ENVIRONMENT = 16_384;

    private final Path root;
    private final MediaMapper mapper;
    /** Where hashes lie, as it was found before. */
    private final Map<String, Path> paths = new ConcurrentHashMap<>();
    /** One at a time of those who bring in the same content. */
    private final Object[] bringing = Stream.generate(Object::new).limit(64).toArray();

    MediaStore(@Value("${dasein.media}") String root, MediaMapper mapper) throws IOException {
        this.root = Path.of(root).toAbsolutePath().normalize();
        this.mapper = mapper;
        Files.createDirectories(this.root.resolve("in"));
        Files.createDirectories(this.root.resolve("out"));
    }

    /** The file (or folder of frames) of a hash. */
    public Path path(String hash) {
        if (!hash.matches("[0-9a-f]{64}")) throw new BadInput("no such file");
        Path known = paths.get(hash);
        if (known != null && Files.exists(known)) return known;
        Path found = stored(hash);
        if (found == null) throw new BadInput("a file of this shot is missing from the media folder");
        paths.put(hash, found);
        return found;
    }

    /** What lies under a hash; null where nothing does. The suffix tells readers what they have. */
    private Path stored(String hash) {
        Path file = root.resolve("in").resolve(hash);
        if (Files.isDirectory(file)) return file;
        try (var list = Files.newDirectoryStream(root.resolve("in"), hash + "*")) {
            for (Path p : list) return p;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return null;
    }

    /** What the person called a file. */
    String name(String hash) {
        Media m = mapper.find(hash);
        return m == null ? "the plate" : m.name();
    }

    /** Where a result's file is kept; the folder exists. */
    public Path result(String kind, String name) {
        Path p = root.resolve("out").resolve(kind).resolve(name).normalize();
        if (!p.startsWith(root.resolve("out"))) throw new BadInput("no such result");
        try {
            Files.createDirectories(p.getParent());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return p;
    }

    /** A plate: a movie, or a zip of numbered frames. */
    public Media plate(InputStream in, String name) {
        return bring(in, name, "plate", MediaStore::checkPlate);
    }

    /** A plate that was uploaded piece by piece; the file is gone afterwards. */
    public Media plate(Path uploaded, String name) {
        try {
            Media m = take(uploaded, name, "plate", MediaStore::checkPlate);
            delete(uploaded);
            return m;
        } catch (BadInput e) {
            // It is no plate. Anything else, a full disk for example, is no fault of the upload: that stays.
            delete(uploaded);
            throw e;
        }
    }

    /** A movie, a zip or a folder of numbered frames that lies elsewhere and stays there. */
    public Media plate(Path from, String name, Progress progress) {
        try {
            if (!Files.isDirectory(from)) {
                long all = Math.max(1, Files.size(from));
                try (InputStream in = new FilterInputStream(Files.newInputStream(from)) {
                    private long read;

                    @Override
                    public int read(byte[] b, int off, int len) throws IOException {
                        int n = super.read(b, off, len);
                        progress.at((double) (read += Math.max(0, n)) / all, "copying " + name);
                        return n;
                    }
                }) {
                    return plate(in, name);
                }
            }
            return folder(from, name, progress);
        } catch (IOException e) {
            throw new BadInput(name + " cannot be read", e);
        }
    }

    private Media folder(Path from, String name, Progress progress) throws IOException {
        List<Path> frames;
        try (var list = Files.list(from)) {
            frames = list.filter(p -> FRAME.matcher(p.getFileName().toString()).matches()
                            && Files.isRegularFile(p, LinkOption.NOFOLLOW_LINKS))
                    .sorted()
                    .toList();
        }
        if (frames.isEmpty()) throw new BadInput(name + NO_FRAMES);
        if (frames.size() > MOST_ZIP_FRAMES)
            throw new BadInput(name + " holds more than " + MOST_ZIP_FRAMES + " frames");
        Path copy = Files.createTempDirectory(root.resolve("in"), ".part-");
        try {
            MessageDigest all = MessageDigest.getInstance("SHA-256");
            long bytes = 0;
            for (int i = 0; i < frames.size(); i++) {
                String n = frames.get(i).getFileName().toString();
                progress.at((double) i / frames.size(), "copying " + n);
                Path to = copy.resolve(n);
                Files.copy(frames.get(i), to);
                bytes += Files.size(to);
                all.update((n + "\0" + Durable.sha256(to)).getBytes(java.nio.charset.StandardCharsets.UTF_8));
            }
            String hash = HexFormat.of().formatHex(all.digest());
            return keep(copy, hash, "", new Media(hash, name, "plate", bytes), MediaStore::checkPlate);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        } finally {
            if (Files.exists(copy)) deleteFolder(copy);
        }
    }

    private static void checkPlate(Path file) {
        try (Plate p = Plate.open(file, null, null)) {
            p.frame(p.first());
        } catch (Plate.Gap gap) {
            // The page says so and offers a way out.
            try (Plate p = Plate.open(
                    file, null, null, null, new Conform(Conform.Order.BY_TIME, Conform.Fields.WHOLE, 0, List.of()))) {
                p.frame(p.first());
            }
        }
    }

    /** Takes away what was left half done: uploads nobody went on with for a week, temporary files of a day ago. */
    @EventListener(ApplicationReadyEvent.class)
    void sweep() {
        try (Stream<Path> computed = Files.list(root.resolve("out"))) {
            sweep(root.resolve("in"));
            for (Path kind : computed.filter(Files::isDirectory).toList()) sweep(kind);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private void sweep(Path folder) throws IOException {
        try (DirectoryStream<Path> left = Files.newDirectoryStream(folder, ".part-*")) {
            for (Path p : left) {
                boolean upload = p.getFileName().toString().startsWith(GROWING);
                Instant old = Instant.now().minus(Duration.ofDays(upload ? 7 : 1));
                // Its writer may just be done with it.
                if (Files.exists(p) && Files.getLastModifiedTime(p).toInstant().isBefore(old)) deleteQuietly(p);
            }
        }
    }

    /** Where an upload in pieces grows; its name begins with a dot, so that it is never taken for one of ours. */
    Path growing(String id) {
        return root.resolve("in").resolve(GROWING + id);
    }

    /** A photo taken on set. */
    public Media photo(InputStream in, String name) {
        return bring(in, name, "photo", file -> Stills.read(file, Encoding.SRGB));
    }

    /** A camera solved elsewhere. */
    public Media camera(InputStream in, String name) {
        return bring(in, name, "camera", file -> CameraExchange.read(file, CameraExchange.Reading.PLAIN));
    }

    /** Photographs of a chessboard, as a zip. */
    public Media boards(InputStream in, String name) {
        return bring(in, name, "boards", folder -> {
            if (!Files.isDirectory(folder)) throw new BadInput(name + " is not a zip of photographs");
        });
    }

    /** A calibrated lens, for every shot. */
    public Media lens(InputStream in, String name) {
        Media m = bring(in, name, "lens", LensFile::read);
        mapper.shelve(new MediaMapper.ShelfItem(m.hash(), "lens", plainName(name), "{}"));
        return m;
    }

    public Media table(InputStream in, String name) {
        return bring(in, name, "table", Cube::read);
    }

    /** Tracks as CSV or JSON; those of hand marks' numbers are refused, since ours begin there. */
    public Media tracks(InputStream in, String name) {
        return bring(in, name, "tracks", file -> {
            List<Track> t = TrackFile.read(file);
            if (t.isEmpty()) throw new BadInput(name + " holds no tracks");
            if (t.stream().anyMatch(k -> k.id() < 0 || k.id() >= HandMark.FIRST_ID))
                throw new BadInput(name + " has track numbers below 0 or above " + (HandMark.FIRST_ID - 1));
        });
    }

    public Media environment(InputStream in, String name) {
        return environment(in, name, Map.of());
    }

    /** A lat-long map, for every shot. @param more what is known of it besides what its numbers tell */
    public Media environment(InputStream in, String name, Map<String, Object> more) {
        Map<String, Object> facts = new LinkedHashMap<>(more);
        Media m = bring(in, name, "environment", file -> {
            Image im = Stills.read(file, Encoding.SRGB);
            if (im.width > LARGEST_ENVIRONMENT)
                throw new BadInput(
                        name + " is " + im.width + " pixels wide; at most " + LARGEST_ENVIRONMENT + " can be used");
            if (Math.abs(im.width - 2 * im.height) > 2)
                throw new BadInput(
                        name + " is " + im.width + " x " + im.height + "; a lat-long map is twice as wide as high");
            MapFacts f = MapFacts.of(im);
            facts.put("stops", f.stops());
            if (f.sun()) {
                facts.put("azimuthDeg", f.azimuthDeg());
                facts.put("elevationDeg", f.elevationDeg());
                facts.put("ratio", f.ratio());
            }
        });
        mapper.shelve(new MediaMapper.ShelfItem(
                m.hash(), "environment", plainName(name), new JsonMapper().writeValueAsString(facts)));
        return m;
    }

    static String plainName(String name) {
        int dot = name.lastIndexOf('.');
        return (dot > 0 ? name.substring(0, dot) : name).replace('_', ' ');
    }

    /** An empty folder in which files gather. */
    Path folder() {
        try {
            return Files.createTempDirectory(root.resolve("in"), ".part-");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** One of those, by its name. */
    Path gathered(String folder) {
        if (!folder.matches("\\.part-[A-Za-z0-9]+")) throw new BadInput("no such files");
        return root.resolve("in").resolve(folder);
    }

    void deleteQuietly(Path folder) {
        try {
            if (Files.exists(folder)) deleteFolder(folder);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Keeps the files a model came from, in place of those kept for it before; the folder is gone afterwards. */
    void keepSource(Path folder, String hash) throws IOException {
        Path to = root.resolve("in").resolve("src-" + hash);
        if (Files.exists(to)) deleteFolder(to);
        Files.move(folder, to, StandardCopyOption.ATOMIC_MOVE);
    }

    /** The files a model came from; null when it is its own source. */
    Path source(String hash) {
        if (!hash.matches("[0-9a-f]{64}")) throw new BadInput("no such file");
        Path p = root.resolve("in").resolve("src-" + hash);
        return Files.isDirectory(p) ? p : null;
    }

    /** Throws {@link BadInput} when the file cannot be used. */
    interface Check {
        void of(Path file);
    }

    Media bring(InputStream in, String name, String kind, Check check) {
        Path tmp = null;
        try {
            tmp = Files.createTempFile(root.resolve("in"), ".part-", suffix(name));
            try (OutputStream out = Files.newOutputStream(tmp)) {
                in.transferTo(out);
            }
            return take(tmp, name, kind, check);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } finally {
            delete(tmp);
        }
    }

    private static void delete(Path p) {
        try {
            if (p != null) Files.deleteIfExists(p);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Checks a file that lies under the media root and makes it one of ours; it is moved away when it is good. */
    private Media take(Path file, String name, String kind, Check check) {
        Path folder = null;
        try {
            String hash = Durable.sha256(file);
            Media m = new Media(hash, name, kind, Files.size(file));
            if (m.bytes() == 0) throw new BadInput(name + " is empty");
            Media known = known(m, check);
            if (known != null) return known;
            boolean frames = (kind.equals("plate") || kind.equals("boards")) && isZip(file);
            if (frames) folder = unzip(file, name);
            return frames ? keep(folder, hash, "", m, check) : keep(file, hash, suffix(name), m, check);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } finally {
            if (folder != null) deleteQuietly(folder);
        }
    }

    /**
     * The same content as it was brought in before; null when it is new. What came as one kind is not good as another
     * for that: it is checked again.
     */
    private Media known(Media m, Check check) {
        Media known = mapper.find(m.hash());
        if (known == null || stored(m.hash()) == null) return null;
        if (known.kind().equals(m.kind())) return known;
        Path there = stored(m.hash());
        renamed(there, m.name(), check);
        return m;
    }

    /**
     * Puts a checked file or folder in its place, then into the list. What lies there already, of somebody who brought
     * in the same at the same time or of a program that ended in between, is as good: it has the same content.
     */
    private Media keep(Path from, String hash, String suffix, Media m, Check check) throws IOException {
        synchronized (bringing[Math.floorMod(hash.hashCode(), bringing.length)]) {
            Media known = known(m, check);
            if (known != null) return known;
            renamed(from, m.name(), check);
            Path to = stored(hash);
            if (to == null) {
                to = root.resolve("in").resolve(hash + suffix);
                Durable.force(from);
                try {
                    Files.move(from, to, StandardCopyOption.ATOMIC_MOVE);
                } catch (FileSystemException e) {
                    // Another process was faster.
                    if (!Files.exists(to)) throw e;
                }
                Durable.force(to);
            }
            mapper.insert(m);
            return m;
        }
    }

    /** Runs the check so that its sentence names the person's file, not our temporary one. */
    private static void renamed(Path tmp, String name, Check check) {
        try {
            check.of(tmp);
        } catch (BadInput e) {
            throw new BadInput(e.getMessage().replace(tmp.getFileName().toString(), name), e);
        }
    }

    private static String suffix(String name) {
        int dot = name.lastIndexOf('.');
        String s = dot < 0 ? "" : name.substring(dot).toLowerCase(java.util.Locale.ROOT);
        return s.matches("\\.[a-z0-9]{1,5}") ? s : "";
    }

    private static boolean isZip(Path p) throws IOException {
        try (InputStream in = Files.newInputStream(p)) {
            byte[] h = in.readNBytes(4);
            return h.length == 4 && h[0] == 'P' && h[1] == 'K' && h[2] == 3;
        }
    }

    private Path unzip(Path zip, String name) throws IOException {
        Path folder = Files.createTempDirectory(root.resolve("in"), ".part-");
        long total = 0;
        List<String> taken = new ArrayList<>();
        try (ZipInputStream in = new ZipInputStream(Files.newInputStream(zip))) {
            for (ZipEntry e = in.getNextEntry(); e != null; e = in.getNextEntry()) {
                // Only the last part of the name counts, so nothing can be written outside the folder.
                String n = e.getName().replace('\\', '/');
                n = n.substring(n.lastIndexOf('/') + 1);
                if (e.isDirectory() || n.startsWith(".") || !FRAME.matcher(n).matches()) continue;
                if (taken.size() >= MOST_ZIP_FRAMES)
                    throw new BadInput(name + " holds more than " + MOST_ZIP_FRAMES + " frames");
                byte[] buffer = new byte[1 << 16];
                try (OutputStream out =
                        Files.newOutputStream(folder.resolve(n), java.nio.file.StandardOpenOption.CREATE_NEW)) {
                    for (int k = in.read(buffer); k > 0; k = in.read(buffer)) {
                        total += k;
                        if (total > MOST_ZIP_BYTES) throw new BadInput(name + " unpacks to more than 200 GB");
                        out.write(buffer, 0, k);
                    }
                } catch (java.nio.file.FileAlreadyExistsException x) {
                    throw new BadInput(name + " holds two frames named " + n);
                }
                taken.add(n);
            }
        } catch (ZipException | EOFException e) {
            deleteFolder(folder);
            throw new BadInput(name + " is a damaged zip", e);
        } catch (BadInput | IOException e) {
            deleteFolder(folder);
            throw e;
        }
        if (taken.isEmpty()) {
            deleteFolder(folder);
            throw new BadInput(name + NO_FRAMES);
        }
        return folder;
    }

    private static void deleteFolder(Path folder) throws IOException {
        if (!Files.isDirectory(folder)) {
            Files.deleteIfExists(folder);
            return;
        }
        try (var list = Files.list(folder)) {
            for (Path p : list.toList()) Files.delete(p);
        }
        Files.delete(folder);
    }
}
