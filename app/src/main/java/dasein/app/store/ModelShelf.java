package dasein.app.store;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.cast.Card;
import dasein.core.cast.Footage;
import dasein.core.cast.Retarget;
import dasein.core.model.Model;
import dasein.core.model.Motion;
import dasein.core.model.file.BvhReader;
import dasein.core.model.file.Imported;
import dasein.core.model.file.ModelFile;
import dasein.core.model.file.ModelReader;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Models and motions of the shelf. A model is kept as one GLB; the files it came from are kept beside it, so that it
 * can be read otherwise or be given what it lacked.
 */
@Component
public class ModelShelf {
    private static final JsonMapper JSON = new JsonMapper();
    private static final int MOST_FILES = 4000, MOST_NOTE = 400;
    private static final long MOST_BYTES = 4L << 30;

    /** Motions are small and asked for on every page. */
    private final Map<String, Motion> motions = new java.util.concurrent.ConcurrentHashMap<>();

    private final MediaStore media;
    private final MediaMapper mapper;

    private final ApplicationEventPublisher events;

    ModelShelf(MediaStore media, MediaMapper mapper, ApplicationEventPublisher events) {
        this.events = events;
        this.media = media;
        this.mapper = mapper;
    }

    /** A model that has come, or stands in another's place. */
    public record Shelved(String hash) {}

    /** A file as it is sent. */
    public record Sent(String name, InputStream in) {}

    /**
     * Files that came, to be shelved. @param folder within the media's, by its name; @param bytes of all; @param
     * instead of which model it is to stand, empty for none
     */
    public record Gathered(String folder, String name, long bytes, String instead, String note) {
        /** Above this, reading takes so long that it is work of its own. */
        private static final long LONG = 24L << 20;

        public boolean takesLong() {
            return bytes > LONG;
        }
    }

    /** One GLB, or a model with all it names, or a zip of them. */
    public Media bring(List<Sent> files, ModelFile.Reading how) {
        return shelve(gather(files), how, Progress.NONE);
    }

    /** The same files, not read yet. */
    public Gathered gather(List<Sent> files) {
        String name = MediaStore.plainName(files.get(0).name()), bare = name.replaceAll("[._-]?\\d+$", "");
        boolean counted = files.size() > 1 && files.get(1).name().matches("(?i).*\\.obj");
        // Frames of one moving mesh are called by what they share.
        return gathered(counted && !bare.isEmpty() ? bare : name, "", "", folder -> {
            for (Sent s : files) put(folder, s);
        });
    }

    /** What a model came from, with more files beside it, to be read otherwise. */
    public Gathered gather(String hash, List<Sent> more, String note) {
        MediaMapper.ShelfItem item = model(hash);
        String said = note.length() > MOST_NOTE ? note.substring(0, MOST_NOTE) : note;
        return gathered(item.name(), hash, said, folder -> {
            Path source = media.source(hash);
            if (source != null)
                for (Path p : ModelFile.in(source))
                    Files.copy(p, folder.resolve(p.getFileName().toString()));
            else Files.copy(media.path(hash), folder.resolve(item.name().replaceAll("[^A-Za-z0-9 _-]", "_") + ".glb"));
            for (Sent s : more) put(folder, s);
        });
    }

    private interface Puts {
        void into(Path folder) throws IOException;
    }

    private Gathered gathered(String name, String instead, String note, Puts puts) {
        Path folder = media.folder();
        try {
            puts.into(folder);
            long bytes = 0;
            for (Path p : ModelFile.in(folder)) bytes += Files.size(p);
            return new Gathered(folder.getFileName().toString(), name, bytes, instead, note);
        } catch (IOException e) {
            media.deleteQuietly(folder);
            throw new UncheckedIOException(e);
        } catch (RuntimeException e) {
            media.deleteQuietly(folder);
            throw e;
        }
    }

    private static void put(Path folder, Sent s) throws IOException {
        if (s.name().toLowerCase(java.util.Locale.ROOT).endsWith(".zip")) {
            long total = 0;
            int count = 0;
            try (ZipInputStream in = new ZipInputStream(s.in())) {
                for (ZipEntry e = in.getNextEntry(); e != null; e = in.getNextEntry()) {
                    String n = e.getName().replace('\\', '/');
                    n = n.substring(n.lastIndexOf('/') + 1);
                    if (e.isDirectory() || n.startsWith(".") || n.length() > 120 || !ModelFile.known(n)) continue;
                    if (++count > MOST_FILES)
                        throw new BadInput(s.name() + " holds more than " + MOST_FILES + " files");
                    total += copy(in, folder.resolve(n), MOST_BYTES - total, s.name());
                }
            } catch (java.util.zip.ZipException e) {
                throw new BadInput(s.name() + " is a damaged zip", e);
            }
            return;
        }
        if (!ModelFile.known(s.name()))
            throw new BadInput(s.name()
                    + " is no model in an open format, and nothing one names; " + ModelFile.KINDS
                    + " can be brought in, with their pictures. Ask its maker for a GLB, or a DAE.");
        copy(s.in(), folder.resolve(s.name()), MOST_BYTES, s.name());
    }

    private static long copy(InputStream in, Path to, long most, String name) throws IOException {
        long total = 0;
        byte[] buffer = new byte[1 << 16];
        try (OutputStream out = Files.newOutputStream(to)) {
            for (int k = in.read(buffer); k > 0; k = in.read(buffer)) {
                total += k;
                if (total > most) throw new BadInput(name + " unpacks to more than 4 GB");
                out.write(buffer, 0, k);
            }
        }
        return total;
    }

    /** Lets go of files that will not be shelved. */
    public void drop(Gathered g) {
        media.deleteQuietly(media.gathered(g.folder()));
    }

    /** Reads and shelves them; their folder is gone afterwards, and kept beside the model where it is its source. */
    public Media shelve(Gathered g, ModelFile.Reading how, Progress progress) {
        Path folder = media.gathered(g.folder());
        if (!Files.isDirectory(folder))
            throw new BadInput(g.name() + " is on the shelf already, or has to be brought in again");
        try {
            progress.at(0.02, "reading " + g.name());
            List<Path> files = ModelFile.in(folder);
            ModelFile.Read read = ModelFile.read(files, how);
            progress.at(0.6, "writing " + g.name());
            Media m = media.bring(
                    new ByteArrayInputStream(ModelFile.glb(files, read)), g.name() + ".glb", "model", f -> {});
            ObjectNode facts = facts(read.imported().model(), read.imported());
            boolean alone = alone(files, read);
            facts.put("up", read.up())
                    .put("unit", read.unit())
                    .put("told", read.told())
                    .put("lighter", read.lighter())
                    .put("most", how.size().triangles())
                    .put("texels", how.size().texels())
                    .put("source", !alone)
                    .put("note", g.note());
            if (m.hash().equals(g.instead())) mapper.factsOf(m.hash(), JSON.writeValueAsString(facts));
            else mapper.shelve(new MediaMapper.ShelfItem(m.hash(), "model", g.name(), JSON.writeValueAsString(facts)));
            if (!g.instead().isEmpty() && !m.hash().equals(g.instead())) mapper.unshelve(g.instead());
            if (!alone) media.keepSource(folder, m.hash());
            events.publishEvent(new Shelved(m.hash()));
            return m;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } finally {
            media.deleteQuietly(folder);
        }
    }

    /** One GLB by itself is its own source. */
    private static boolean alone(List<Path> files, ModelFile.Read read) {
        return files.size() == 1
                && files.get(0).toString().toLowerCase(java.util.Locale.ROOT).endsWith(".glb")
                && read.imported().missing().isEmpty()
                && !read.lighter();
    }

    private static ObjectNode facts(Model m, Imported i) {
        float[] b = m.bounds();
        ObjectNode facts = JSON.createObjectNode()
                .put("height", b[4] - b[1])
                .put("lowest", b[1])
                .put("length", b[5] - b[2])
                .put("width", b[3] - b[0])
                .put("triangles", m.triangles());
        ArrayNode clips = facts.putArray("clips"),
                remarks = facts.putArray("remarks"),
                missing = facts.putArray("missing");
        for (Model.Clip c : m.clips()) clips.addObject().put("name", c.name()).put("seconds", c.seconds());
        i.remarks().forEach(remarks::add);
        i.missing().forEach(missing::add);
        return facts;
    }

    private MediaMapper.ShelfItem model(String hash) {
        MediaMapper.ShelfItem item = mapper.item(hash);
        if (item == null || !item.kind().equals("model")) throw new BadInput("that model is not on the shelf");
        return item;
    }

    /** A movie or a zip of frames, for cards. */
    public Media footage(InputStream in, String name) {
        Media m = Footage.still(name) ? media.bring(in, name, "plate", Footage::open) : media.plate(in, name);
        try (Footage f = Footage.open(media.path(m.hash()))) {
            boolean alpha = f.frame(0, Card.Cut.ALPHA).clear();
            mapper.shelve(new MediaMapper.ShelfItem(
                    m.hash(),
                    "footage",
                    MediaStore.plainName(name),
                    JSON.writeValueAsString(JSON.createObjectNode()
                            .put("frames", f.count())
                            .put("rate", f.rate())
                            .put("aspect", f.aspect())
                            .put("alpha", alpha))));
        }
        return m;
    }

    public Media motion(InputStream in, String name) {
        Media m = media.bring(in, name, "motion", BvhReader::read);
        Motion k = BvhReader.read(media.path(m.hash()));
        mapper.shelve(new MediaMapper.ShelfItem(
                m.hash(),
                "motion",
                MediaStore.plainName(name),
                JSON.writeValueAsString(JSON.createObjectNode()
                        .put("seconds", k.frames().length * k.frameSeconds())
                        .put("joints", k.joints().size()))));
        return m;
    }

    public Motion motion(String hash) {
        MediaMapper.ShelfItem item = mapper.item(hash);
        if (item == null || !item.kind().equals("motion")) throw new BadInput("that motion is not on the shelf");
        return motions.computeIfAbsent(hash, h -> {
            Motion m = BvhReader.read(media.path(h));
            return new Motion(item.name(), m.joints(), m.frameSeconds(), m.frames());
        });
    }

    /** A model with a motion as a further clip. @return the model that stands in its place */
    public String with(String hash, String motion, Map<String, String> map, boolean inPlace) {
        MediaMapper.ShelfItem item = model(hash);
        Model m = ModelReader.read(media.path(hash));
        byte[] glb = ModelFile.with(media.path(hash), m, Retarget.clip(motion(motion), m, map, inPlace));
        Media made = media.bring(new ByteArrayInputStream(glb), item.name() + ".glb", "model", f -> {});
        ObjectNode facts = (ObjectNode) JSON.readTree(item.facts());
        ArrayNode clips = facts.putArray("clips");
        for (Model.Clip c : ModelReader.read(media.path(made.hash())).clips())
            clips.addObject().put("name", c.name()).put("seconds", c.seconds());
        facts.put("source", false);
        mapper.shelve(new MediaMapper.ShelfItem(made.hash(), "model", item.name(), JSON.writeValueAsString(facts)));
        if (!made.hash().equals(hash)) mapper.unshelve(hash);
        return made.hash();
    }
}
