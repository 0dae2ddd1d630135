package dasein.core.model.file;

import dasein.core.BadInput;
import dasein.core.model.Material;
import dasein.core.model.Texture;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.StringTokenizer;

/** Wavefront MTL materials, read as metal and rough; also the Pr, Pm, norm and map_ names that many programs add. */
final class Mtl {
    private static final long MAX_BYTES = 32 << 20;

    private final Siblings files;
    private final Map<String, Raw> known = new HashMap<>();
    private final Map<String, Texture> textures = new HashMap<>();
    private final Set<String> remarks = new LinkedHashSet<>(), missing = new LinkedHashSet<>();

    Mtl(Siblings files) {
        this.files = files;
    }

    /** As written. */
    private static final class Raw {
        float[] kd = {0.8f, 0.8f, 0.8f}, ke = {0, 0, 0};
        float d = 1, ns = -1, pr = -1, pm = -1;
        String mapKd, mapD, mapKe, norm;
    }

    List<String> remarks() {
        return List.copyOf(remarks);
    }

    List<String> missing() {
        return List.copyOf(missing);
    }

    void read(String named) {
        Path p = files.find(named);
        if (p == null) {
            missing.add(named.substring(named.replace('\\', '/').lastIndexOf('/') + 1));
            remarks.add("Its materials " + named + " are not there; all is grey.");
            return;
        }
        try {
            if (Files.size(p) > MAX_BYTES)
                throw new BadInput(p.getFileName() + " is too large for a file of materials");
            Raw now = new Raw();
            for (String line : Files.readAllLines(p, StandardCharsets.ISO_8859_1)) {
                StringTokenizer t = new StringTokenizer(line);
                if (!t.hasMoreTokens()) continue;
                try {
                    switch (t.nextToken()) {
                        case "newmtl" -> known.put(ObjReader.rest(t), now = new Raw());
                        case "Kd" -> colour(t, now.kd);
                        case "Ke" -> colour(t, now.ke);
                        case "Ns" -> now.ns = Float.parseFloat(t.nextToken());
                        case "d" -> now.d = Float.parseFloat(t.nextToken());
                        case "Tr" -> now.d = 1 - Float.parseFloat(t.nextToken());
                        case "Pr" -> now.pr = Float.parseFloat(t.nextToken());
                        case "Pm" -> now.pm = Float.parseFloat(t.nextToken());
                        case "map_Kd" -> now.mapKd = file(t);
                        case "map_d" -> now.mapD = file(t);
                        case "map_Ke" -> now.mapKe = file(t);
                        case "norm" -> now.norm = file(t);
                        case "map_Bump", "map_bump", "bump" ->
                            remarks.add("Bump maps are not shown; save a normal map (norm) instead.");
                        case "map_Ks", "map_Ns", "map_Pr", "map_Pm", "disp", "decal", "refl" ->
                            remarks.add("Maps other than of colour, opacity, glow and normals are not shown.");
                        default -> {}
                    }
                } catch (NumberFormatException | java.util.NoSuchElementException e) {
                    throw new BadInput(p.getFileName() + " is damaged: \"" + line.strip() + "\"", e);
                }
            }
        } catch (IOException e) {
            throw new BadInput(p.getFileName() + " cannot be read", e);
        }
    }

    private static void colour(StringTokenizer t, float[] to) {
        String first = t.nextToken();
        if (first.equals("spectral") || first.equals("xyz")) return;
        to[0] = Float.parseFloat(first);
        for (int k = 1; k < 3; k++) to[k] = t.hasMoreTokens() ? Float.parseFloat(t.nextToken()) : to[0];
    }

    /** What is left after options such as "-s 1 1 1". */
    private static String file(StringTokenizer t) {
        List<String> all = new ArrayList<>();
        while (t.hasMoreTokens()) all.add(t.nextToken());
        int i = 0;
        while (i < all.size() - 1 && all.get(i).startsWith("-")) {
            i++;
            while (i < all.size() - 1 && all.get(i).matches("-?[0-9.]+|on|off|[rgbmlz]")) i++;
        }
        return String.join(" ", all.subList(i, all.size()));
    }

    /** @param name empty for polygons without a material */
    Material get(String name) {
        Raw r = known.get(name);
        if (r == null) {
            if (!name.isEmpty()) remarks.add("Its material " + name + " is not there; it is grey.");
            r = new Raw();
        }
        Texture base = texture(r.mapKd, true), glow = texture(r.mapKe, true);
        // With a picture the colour beside it is often left black by writers; the picture then counts alone (common
        // practice).
        boolean black = base != null && r.kd[0] + r.kd[1] + r.kd[2] == 0;
        boolean cut = r.mapD != null && r.mapD.equals(r.mapKd);
        if (r.mapD != null && !cut) remarks.add("Opacity maps apart from the colour's picture are not shown.");
        float rough = r.pr >= 0 ? r.pr : r.ns < 0 ? 0.8f : roughness(r.ns);
        return new Material(
                name.isEmpty() ? "material" : name,
                new float[] {black ? 1 : r.kd[0], black ? 1 : r.kd[1], black ? 1 : r.kd[2], r.d},
                base,
                Math.max(0, Math.min(1, r.pm)),
                Math.max(0.02f, Math.min(1, rough)),
                null,
                texture(r.norm, false),
                1,
                r.ke,
                glow,
                cut ? 0.5f : 0,
                r.d < 1,
                true);
    }

    /** From a Blinn-Phong exponent: alpha = sqrt(2 / (n + 2)) (Walter et al. 2007), roughness is its root. */
    static float roughness(float exponent) {
        return (float) Math.pow(2 / (exponent + 2), 0.25);
    }

    private Texture texture(String named, boolean colour) {
        if (named == null) return null;
        return textures.computeIfAbsent(named + colour, k -> {
            Path p = files.find(named);
            if (p == null) {
                missing.add(named.substring(named.replace('\\', '/').lastIndexOf('/') + 1));
                return colour ? Texture.chequered() : null;
            }
            return files.fit(Texture.read(p, colour, false));
        });
    }
}
