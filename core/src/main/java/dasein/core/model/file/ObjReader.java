package dasein.core.model.file;

import dasein.core.BadInput;
import dasein.core.model.Material;
import dasein.core.model.Model;
import java.io.BufferedReader;
import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.StringTokenizer;

/**
 * Wavefront OBJ: polygons with places, texture places, normals and materials. Curves, surfaces and points are left out
 * and said.
 */
final class ObjReader {
    static final int MOST_PLACES = 20_000_000;

    private final String name;
    private final Mtl materials;
    private final Set<String> remarks = new LinkedHashSet<>();
    private final Map<String, MeshBuilder> parts = new LinkedHashMap<>();
    private float[] xyz = new float[3 * 1024], uv = new float[2 * 1024], normal = new float[3 * 1024];
    private int places, textures, normals;
    private MeshBuilder now;
    private boolean smooth;

    private ObjReader(String name, Mtl materials) {
        this.name = name;
        this.materials = materials;
    }

    /** @param files what may be named by it */
    static Imported read(Path path, Siblings files) {
        Mtl mtl = new Mtl(files);
        ObjReader r = new ObjReader(path.getFileName().toString(), mtl);
        r.parse(path);
        return r.made();
    }

    /** Only the places, for further frames of a sequence. */
    static float[] places(Path path) {
        ObjReader r = new ObjReader(path.getFileName().toString(), new Mtl(new Siblings(List.of())));
        r.parse(path);
        return Arrays.copyOf(r.xyz, 3 * r.places);
    }

    /** For each vertex of each part of what {@link #read} gives, the number of its place in the file. */
    static List<int[]> order(Path path) {
        ObjReader r = new ObjReader(path.getFileName().toString(), new Mtl(new Siblings(List.of())));
        r.parse(path);
        return r.parts.values().stream()
                .filter(b -> !b.empty())
                .map(MeshBuilder::places)
                .toList();
    }

    private void parse(Path path) {
        now = parts.computeIfAbsent("", k -> new MeshBuilder());
        try (BufferedReader in = Files.newBufferedReader(path, StandardCharsets.ISO_8859_1)) {
            StringBuilder whole = new StringBuilder();
            long number = 0;
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                number++;
                if (line.endsWith("\\")) {
                    whole.append(line, 0, line.length() - 1).append(' ');
                    continue;
                }
                try {
                    line(whole.length() == 0 ? line : whole.append(line).toString());
                } catch (NumberFormatException | IndexOutOfBoundsException e) {
                    throw new BadInput(name + " is damaged in line " + number + ": \"" + line.strip() + "\"", e);
                }
                whole.setLength(0);
            }
        } catch (MalformedInputException e) {
            throw new BadInput(name + " is not an OBJ model", e);
        } catch (IOException e) {
            throw new BadInput(name + " cannot be read", e);
        }
        if (parts.values().stream().allMatch(MeshBuilder::empty)) throw new BadInput(name + " holds no polygons");
    }

    private void line(String line) {
        StringTokenizer t = new StringTokenizer(line);
        if (!t.hasMoreTokens()) return;
        switch (t.nextToken()) {
            case "v" -> {
                xyz = room(xyz, 3 * places);
                for (int k = 0; k < 3; k++) xyz[3 * places + k] = number(t);
                if (t.countTokens() >= 3) remarks.add("Colours of its vertices are not shown.");
                if (++places > MOST_PLACES) throw new BadInput(name + " has more than " + MOST_PLACES + " places");
            }
            case "vt" -> {
                uv = room(uv, 2 * textures);
                uv[2 * textures] = number(t);
                // The format counts v upwards from the lower edge, glTF downwards from the upper.
                uv[2 * textures + 1] = 1 - (t.hasMoreTokens() ? number(t) : 0);
                textures++;
            }
            case "vn" -> {
                normal = room(normal, 3 * normals);
                for (int k = 0; k < 3; k++) normal[3 * normals + k] = number(t);
                normals++;
            }
            case "f" -> face(t);
            case "s" -> smooth |= t.hasMoreTokens() && !Set.of("0", "off").contains(t.nextToken());
            case "usemtl" -> now = parts.computeIfAbsent(rest(t), k -> new MeshBuilder());
            case "mtllib" -> materials.read(rest(t));
            case "p", "l" -> remarks.add("Points and lines are left out.");
            case "curv", "curv2", "surf", "vp" -> remarks.add("Curved surfaces are left out; save it as polygons.");
            default -> {}
        }
    }

    static String rest(StringTokenizer t) {
        return t.hasMoreTokens() ? t.nextToken("").strip() : "";
    }

    private float number(StringTokenizer t) {
        float v = Float.parseFloat(t.nextToken());
        if (!Float.isFinite(v)) throw new NumberFormatException();
        return v;
    }

    private static float[] room(float[] a, int at) {
        return at + 3 > a.length ? Arrays.copyOf(a, 2 * a.length) : a;
    }

    private void face(StringTokenizer t) {
        int n = t.countTokens();
        if (n < 3) return;
        int[] v = new int[n], vt = new int[n], vn = new int[n];
        for (int i = 0; i < n; i++) {
            String s = t.nextToken();
            int a = s.indexOf('/'), b = a < 0 ? -1 : s.indexOf('/', a + 1);
            v[i] = at(a < 0 ? s : s.substring(0, a), places);
            vt[i] = a < 0 || a + 1 == (b < 0 ? s.length() : b)
                    ? -1
                    : at(s.substring(a + 1, b < 0 ? s.length() : b), textures);
            vn[i] = b < 0 || b + 1 == s.length() ? -1 : at(s.substring(b + 1), normals);
        }
        for (int k : Outline.triangles(xyz, v)) now.add(v[k], vt[k], vn[k]);
    }

    /** Numbers count from 1, or backwards from the last with a minus. */
    private static int at(String s, int count) {
        int i = Integer.parseInt(s), k = i < 0 ? count + i : i - 1;
        if (k < 0 || k >= count) throw new IndexOutOfBoundsException();
        return k;
    }

    private Imported made() {
        List<Model.Part> out = new java.util.ArrayList<>();
        List<Material> used = new java.util.ArrayList<>();
        parts.forEach((mat, b) -> {
            if (b.empty()) return;
            used.add(materials.get(mat));
            out.add(b.part(0, used.size() - 1, xyz, uv, normal, smooth));
        });
        remarks.addAll(materials.remarks());
        int dot = name.lastIndexOf('.');
        Model.Node root = new Model.Node(
                dot > 0 ? name.substring(0, dot) : name,
                -1,
                new float[3],
                new float[] {0, 0, 0, 1},
                new float[] {1, 1, 1},
                new float[0]);
        return new Imported(
                new Model(root.name(), List.of(root), out, List.of(), List.of(), used.toArray(Material[]::new)),
                List.copyOf(remarks),
                materials.missing());
    }
}
