package dasein.core.model.file;

import dasein.core.BadInput;
import dasein.core.model.Model;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Models of all kinds that can be brought in: GLB and glTF, COLLADA, OBJ with its materials, a numbered sequence of
 * OBJ, PLY and STL. Formats without units or an upward axis are guessed, and may be told.
 */
public final class ModelFile {
    /**
     * The largest side of a thing in metres beyond which its numbers are taken for centimetres, and for millimetres.
     */
    private static final double TOO_LARGE = 60, FAR_TOO_LARGE = 900;

    private static final Pattern NUMBERED = Pattern.compile("(.*?)(\\d+)\\.obj", Pattern.CASE_INSENSITIVE);

    private ModelFile() {}

    /** What can be brought in, for sentences. */
    public static final String KINDS = "GLB, glTF, DAE, OBJ, PLY and STL";

    /**
     * How a model is to be read. @param up {@code y}, {@code z} or empty to guess; @param unit metres for one, 0 to
     * guess; @param rate frames a second of a sequence; @param size to which it is brought
     */
    public record Reading(String up, double unit, double rate, WorkingSize size) {
        public static final Reading GUESS = new Reading("", 0, 24);

        public Reading(String up, double unit, double rate) {
            this(up, unit, rate, WorkingSize.SERVES);
        }
    }

    /**
     * @param unit, up what was guessed or told, 0 and empty where the file says it; @param told whether either can be
     *     told; @param lighter whether triangles or pictures were brought to a working size
     */
    public record Read(Imported imported, String up, double unit, boolean told, boolean lighter) {}

    /** @param files all that came together: one model, and what it names; or the frames of one sequence */
    public static Read read(List<Path> files, Reading how) {
        Siblings all = new Siblings(files, how.size());
        Read r = plain(files, how, all);
        List<String> remarks = new ArrayList<>();
        if (Lighter.hasStrands(r.imported.model())) return r;
        Model was = r.imported.model(), m = Lighter.of(was, how.size().most(was.triangles()), remarks);
        boolean smaller = all.largest() > 0;
        if (smaller) remarks.add("Pictures of up to " + all.largest() + " texels a side were made smaller.");
        if (m == was && !smaller) return r;
        remarks.addAll(r.imported.remarks());
        Imported i = new Imported(m, List.copyOf(remarks), r.imported.missing());
        return new Read(i, r.up, r.unit, r.told, true);
    }

    private static Read plain(List<Path> files, Reading how, Siblings all) {
        List<Path> obj = named(files, "obj"),
                gltf = named(files, "glb", "gltf"),
                dae = named(files, "dae"),
                ply = named(files, "ply"),
                stl = named(files, "stl");
        if (gltf.size() + dae.size() + ply.size() + stl.size() + (obj.isEmpty() ? 0 : 1) > 1)
            throw new BadInput("several models came together; bring them in one after the other");
        if (!gltf.isEmpty()) return new Read(ModelReader.imported(gltf.get(0), all), "", 0, false, false);
        Imported plain;
        boolean zUp = false;
        if (!dae.isEmpty()) {
            boolean says = how.up().isEmpty() && how.unit() <= 0;
            List<String> said = new ArrayList<>();
            Imported i = ModelReader.imported(dae.get(0), GltfPack.collada(dae.get(0), all, !says, said), all);
            said.addAll(i.remarks());
            plain = new Imported(i.model(), said, i.missing());
            if (says) return new Read(plain, "", 0, true, false);
        } else if (!obj.isEmpty())
            plain = obj.size() == 1
                    ? ObjReader.read(obj.get(0), all)
                    : ObjSequence.read(sequence(obj), all, how.rate());
        else if (!ply.isEmpty()) plain = PlyReader.read(ply.get(0));
        else if (!stl.isEmpty()) {
            plain = StlReader.read(stl.get(0));
            // Solids are mostly drawn lying on x and y (common practice).
            zUp = true;
        } else throw new BadInput("no model is among these files; " + KINDS + " can be brought in");
        if (!how.up().isEmpty()) zUp = how.up().equals("z");
        double unit = how.unit() > 0 ? how.unit() : unit(plain.model());
        List<String> remarks = new ArrayList<>(plain.remarks());
        if (how.up().isEmpty() || how.unit() <= 0)
            remarks.add(0, String.format(Locale.ROOT, "Guessed: %s up, numbers in %s.", zUp ? "Z" : "Y", said(unit)));
        return new Read(
                new Imported(upright(plain.model(), zUp, unit), List.copyOf(remarks), plain.missing()),
                zUp ? "z" : "y",
                unit,
                true,
                false);
    }

    private static String said(double unit) {
        return unit == 1
                ? "metres"
                : unit == 0.01
                        ? "centimetres"
                        : unit == 0.001 ? "millimetres" : unit == 0.0254 ? "inches" : unit + " m";
    }

    private static double unit(Model m) {
        float[] b = m.bounds();
        double large = Math.max(b[3] - b[0], Math.max(b[4] - b[1], b[5] - b[2]));
        return large > FAR_TOO_LARGE ? 0.001 : large > TOO_LARGE ? 0.01 : 1;
    }

    /** Whether a name is that of a file this reads, or of one such files name. */
    public static boolean known(String name) {
        return name.toLowerCase(Locale.ROOT)
                .matches(".*\\.(glb|gltf|bin|dae|obj|mtl|ply|stl|png|jpe?g|webp|ktx2|tga|bmp|tiff?)");
    }

    /** What of these files a shelf keeps: one GLB, as it came where that will do. */
    public static byte[] glb(List<Path> files, Read read) throws IOException {
        List<Path> gltf = named(files, "glb", "gltf");
        if (gltf.isEmpty() || read.lighter())
            return ModelGlb.bytes(read.imported().model());
        GltfPack pack = GltfPack.of(gltf.get(0), new Siblings(files));
        return pack.changed ? pack.glb() : Files.readAllBytes(gltf.get(0));
    }

    /** A GLB with a further clip, or one in place of that of its name; all else stays. */
    public static byte[] with(Path glb, Model model, Model.Clip clip) {
        GltfPack pack = GltfPack.of(glb, new Siblings(List.of()));
        pack.add(model, clip);
        return pack.glb();
    }

    /** Under a node that turns and sizes it. */
    public static Model upright(Model m, boolean zUp, double unit) {
        if (!zUp && unit == 1) return m;
        float h = (float) Math.sqrt(0.5), u = (float) unit;
        List<Model.Node> nodes = new ArrayList<>();
        nodes.add(new Model.Node(
                "as read",
                -1,
                new float[3],
                zUp ? new float[] {-h, 0, 0, h} : new float[] {0, 0, 0, 1},
                new float[] {u, u, u},
                new float[0]));
        for (Model.Node n : m.nodes())
            nodes.add(new Model.Node(
                    n.name(), n.parent() + 1, n.translation(), n.rotation(), n.scale(), n.morphWeights()));
        return new Model(
                m.name(),
                nodes,
                m.parts().stream()
                        .map(p -> new Model.Part(
                                p.node() + 1,
                                p.skin(),
                                p.position(),
                                p.normal(),
                                p.uv(),
                                p.index(),
                                p.material(),
                                p.joints(),
                                p.weights(),
                                p.morphPosition(),
                                p.morphNormal(),
                                p.colour()))
                        .toList(),
                m.skins().stream()
                        .map(s -> new Model.Skin(
                                java.util.Arrays.stream(s.joints())
                                        .map(j -> j + 1)
                                        .toArray(),
                                s.inverseBind()))
                        .toList(),
                m.clips().stream()
                        .map(c -> new Model.Clip(
                                c.name(),
                                c.seconds(),
                                c.channels().stream()
                                        .map(k -> new Model.Channel(
                                                k.node() + 1,
                                                k.property(),
                                                k.times(),
                                                k.values(),
                                                k.width(),
                                                k.interpolation()))
                                        .toList()))
                        .toList(),
                m.materials());
    }

    private static List<Path> named(List<Path> files, String... ends) {
        return files.stream()
                .filter(p -> {
                    String n = p.getFileName().toString().toLowerCase(Locale.ROOT);
                    for (String e : ends) if (n.endsWith("." + e)) return true;
                    return false;
                })
                .toList();
    }

    /** In the order of their numbers, all of one name. */
    private static List<Path> sequence(List<Path> obj) {
        var names = obj.stream()
                .map(p -> NUMBERED.matcher(p.getFileName().toString()))
                .toList();
        if (!names.stream().allMatch(java.util.regex.Matcher::matches)
                || names.stream()
                                .map(m -> m.group(1))
                                .collect(Collectors.toSet())
                                .size()
                        > 1)
            throw new BadInput("several OBJ models came together; only the numbered frames of one can");
        return obj.stream()
                .sorted(java.util.Comparator.comparingLong(p -> {
                    var m = NUMBERED.matcher(p.getFileName().toString());
                    m.matches();
                    return Long.parseLong(
                            m.group(2).length() > 15
                                    ? m.group(2).substring(m.group(2).length() - 15)
                                    : m.group(2));
                }))
                .toList();
    }

    /** All files in a folder. */
    public static List<Path> in(Path folder) {
        try (var list = Files.list(folder)) {
            return list.filter(Files::isRegularFile).sorted().toList();
        } catch (IOException e) {
            throw new BadInput(folder.getFileName() + " cannot be read", e);
        }
    }
}
