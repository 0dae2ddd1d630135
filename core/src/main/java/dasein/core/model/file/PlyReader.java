package dasein.core.model.file;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.model.Material;
import dasein.core.model.Model;
import java.io.BufferedInputStream;
import java.io.DataInputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** Polygon files (PLY), as text or binary of either order. */
final class PlyReader {
    private static final int MOST_HEADER = 400;

    private record Property(String name, String type, String count) {}

    private record Element(String name, int count, List<Property> properties) {}

    private enum Order {
        TEXT,
        LITTLE,
        BIG
    }

    private final String name;
    private final DataInputStream in;
    private Order order = Order.TEXT;

    private PlyReader(String name, InputStream in) {
        this.name = name;
        this.in = new DataInputStream(new BufferedInputStream(in, 1 << 16));
    }

    static Imported read(Path path) {
        String name = path.getFileName().toString();
        try (InputStream in = Files.newInputStream(path)) {
            return new PlyReader(name, in).all(Files.size(path));
        } catch (EOFException e) {
            throw new BadInput(name + " is cut short", e);
        } catch (IOException | NumberFormatException | IndexOutOfBoundsException e) {
            throw new BadInput(name + " is damaged", e);
        }
    }

    private String line() throws IOException {
        StringBuilder b = new StringBuilder();
        for (int c = in.read(); c != '\n'; c = in.read()) {
            if (c < 0) throw new EOFException();
            if (c != '\r') b.append((char) c);
            if (b.length() > 4096) throw new BadInput(name + " is not a PLY model");
        }
        return b.toString().strip();
    }

    /** What comes, in its order. */
    private List<Element> header(long size) throws IOException {
        if (!line().equals("ply")) throw new BadInput(name + " is not a PLY model");
        List<Element> elements = new ArrayList<>();
        for (int i = 0; ; i++) {
            if (i > MOST_HEADER) throw new BadInput(name + " is not a PLY model");
            String[] t = line().split("\\s+");
            if (t[0].equals("end_header")) break;
            switch (t[0]) {
                case "format" ->
                    order = t[1].equals("ascii")
                            ? Order.TEXT
                            : t[1].equals("binary_little_endian") ? Order.LITTLE : Order.BIG;
                case "element" -> {
                    int n = Integer.parseInt(t[2]);
                    // Every entry takes a byte at least.
                    if (n < 0 || n > size || n > 3 * ObjReader.MOST_PLACES)
                        throw new BadInput(name + " is damaged: it says that it has " + t[2] + " of " + t[1]);
                    elements.add(new Element(t[1], n, new ArrayList<>()));
                }
                case "property" ->
                    elements.get(elements.size() - 1)
                            .properties
                            .add(t[1].equals("list") ? new Property(t[4], t[3], t[2]) : new Property(t[2], t[1], null));
                default -> {}
            }
        }
        return elements;
    }

    private Imported all(long size) throws IOException {
        List<Element> elements = header(size);
        float[] xyz = null, normal = null, uv = null, colour = null;
        MeshBuilder faces = new MeshBuilder();
        List<String> remarks = new ArrayList<>();
        for (Element e : elements) {
            boolean vertex = e.name.equals("vertex");
            if (vertex) {
                xyz = new float[3 * e.count];
                if (e.properties.stream().anyMatch(p -> p.name.equals("nx"))) normal = new float[3 * e.count];
                if (e.properties.stream().anyMatch(p -> p.name.matches("s|u|texture_u"))) uv = new float[2 * e.count];
                if (e.properties.stream().anyMatch(p -> p.name.equals("red"))) {
                    colour = new float[4 * e.count];
                    java.util.Arrays.fill(colour, 1);
                }
            }
            for (int i = 0; i < e.count; i++) {
                String[] text = order == Order.TEXT ? line().split("\\s+") : null;
                int at = 0;
                for (Property p : e.properties) {
                    if (p.count == null) {
                        double v = text == null ? number(p.type) : Double.parseDouble(text[at++]);
                        if (!vertex) continue;
                        switch (p.name) {
                            case "x" -> xyz[3 * i] = (float) v;
                            case "y" -> xyz[3 * i + 1] = (float) v;
                            case "z" -> xyz[3 * i + 2] = (float) v;
                            case "nx" -> normal[3 * i] = (float) v;
                            case "ny" -> normal[3 * i + 1] = (float) v;
                            case "nz" -> normal[3 * i + 2] = (float) v;
                            case "s", "u", "texture_u" -> uv[2 * i] = (float) v;
                            case "t", "v", "texture_v" -> uv[2 * i + 1] = 1 - (float) v;
                            case "red", "green", "blue" -> {
                                if (colour != null)
                                    colour[4 * i + (p.name.equals("red") ? 0 : p.name.equals("green") ? 1 : 2)] =
                                            shade(p.type, v);
                            }
                            default -> {}
                        }
                        continue;
                    }
                    int n = (int) (text == null ? number(p.count) : Double.parseDouble(text[at++]));
                    if (n < 0 || n > 10_000) throw new BadInput(name + " is damaged: a face has " + n + " corners");
                    int[] corners = new int[n];
                    for (int k = 0; k < n; k++)
                        corners[k] = (int) (text == null ? number(p.type) : Double.parseDouble(text[at++]));
                    if (!e.name.equals("face") || !p.name.matches("vertex_ind(ex|ices)") || n < 3 || xyz == null)
                        continue;
                    for (int c : corners)
                        if (c < 0 || c >= xyz.length / 3)
                            throw new BadInput(name + " is damaged: a face names a corner that does not exist");
                    boolean n3 = normal != null, t2 = uv != null;
                    for (int k : Outline.triangles(xyz, corners))
                        faces.add(corners[k], t2 ? corners[k] : -1, n3 ? corners[k] : -1);
                }
            }
        }
        if (faces.empty())
            throw new BadInput(name + (xyz == null ? " holds no places" : " is a cloud of points without faces"));
        for (float v : xyz) if (!Float.isFinite(v)) throw new BadInput(name + " is damaged: a place lies nowhere");
        Model.Part part = faces.part(0, 0, xyz, uv, normal, true);
        if (colour == null) return plain(name, part, remarks, 0.5f);
        int[] places = faces.places();
        float[] own = new float[4 * places.length];
        for (int i = 0; i < places.length; i++) System.arraycopy(colour, 4 * places[i], own, 4 * i, 4);
        return plain(name, part.with(own), remarks, 1);
    }

    /** Bytes are codes of a picture (common practice of scanners), other numbers linear. */
    private static float shade(String type, double v) {
        return (float) Math.max(0, Math.min(1, type.matches("uchar|uint8") ? Encoding.SRGB.decode(v / 255) : v));
    }

    /** @param base grey of its material */
    static Imported plain(String name, Model.Part part, List<String> remarks, float base) {
        int dot = name.lastIndexOf('.');
        Model.Node root = new Model.Node(
                dot > 0 ? name.substring(0, dot) : name,
                -1,
                new float[3],
                new float[] {0, 0, 0, 1},
                new float[] {1, 1, 1},
                new float[0]);
        Material grey = new Material(
                "material",
                new float[] {base, base, base, 1},
                null,
                0,
                0.7f,
                null,
                null,
                1,
                new float[3],
                null,
                0,
                false,
                true);
        return new Imported(
                new Model(root.name(), List.of(root), List.of(part), List.of(), List.of(), new Material[] {grey}),
                List.copyOf(remarks),
                List.of());
    }

    private double number(String type) throws IOException {
        int bytes =
                switch (type) {
                    case "char", "int8", "uchar", "uint8" -> 1;
                    case "short", "int16", "ushort", "uint16" -> 2;
                    case "int", "int32", "uint", "uint32", "float", "float32" -> 4;
                    case "double", "float64" -> 8;
                    default -> throw new BadInput(name + " has numbers of a kind \"" + type + "\" that is not known");
                };
        long v = 0;
        for (int k = 0; k < bytes; k++) {
            long b = in.readUnsignedByte();
            v = order == Order.LITTLE ? v | b << 8 * k : v << 8 | b;
        }
        return switch (type) {
            case "char", "int8" -> (byte) v;
            case "short", "int16" -> (short) v;
            case "int", "int32" -> (int) v;
            case "float", "float32" -> Float.intBitsToFloat((int) v);
            case "double", "float64" -> Double.longBitsToDouble(v);
            default -> v;
        };
    }
}
