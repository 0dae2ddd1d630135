package dasein.core.render;

import dasein.core.model.Mesh;
import dasein.core.render.pass.Mattes;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** Names of what may be seen, ready to be counted by mesh and triangle. */
final class MatteIds {
    private static final String NAMELESS = "nameless";

    /** By kind, in the order of the names. */
    final Map<Mattes.Kind, Map<String, Integer>> names = new EnumMap<>(Mattes.Kind.class);

    private final int[] performer;
    private final int[][] material, part, first;

    MatteIds(List<Mesh> meshes, Keep keep) {
        for (Mattes.Kind k : Mattes.Kind.values()) names.put(k, new TreeMap<>());
        int n = meshes.size();
        performer = new int[n];
        material = new int[n][];
        part = new int[n][];
        first = new int[n][];
        for (int m = 0; m < n; m++) {
            Mesh k = meshes.get(m);
            if (k.role() != Mesh.Role.PERFORMER) continue;
            Keep.Name name = keep.performers().get(k.performer());
            if (name == null) name = new Keep.Name("performer " + k.performer(), List.of(), new int[0]);
            performer[m] = id(Mattes.Kind.PERFORMER, name.performer());
            material[m] = new int[k.materials().length];
            for (int i = 0; i < material[m].length; i++)
                material[m][i] = id(Mattes.Kind.MATERIAL, k.materials()[i].name());
            String own = name.performer();
            part[m] = name.parts().stream()
                    .mapToInt(p -> id(Mattes.Kind.PART, own + "/" + p))
                    .toArray();
            first[m] = name.first();
        }
    }

    private int id(Mattes.Kind k, String name) {
        return names.get(k).computeIfAbsent(name == null || name.isEmpty() ? NAMELESS : name, Mattes::id);
    }

    void count(Mattes.Counts[] counts, int pixel, Mesh k, int mesh, int triangle, int copy) {
        counts[Mattes.Kind.PERFORMER.ordinal()].add(pixel, performer[mesh]);
        int i = k.materialOf()[triangle] + (k.copies() == null ? 0 : k.copies().firstMaterial()[copy]);
        counts[Mattes.Kind.MATERIAL.ordinal()].add(pixel, material[mesh][i]);
        if (part[mesh].length == 0) return;
        int at = Arrays.binarySearch(first[mesh], triangle);
        counts[Mattes.Kind.PART.ordinal()].add(pixel, part[mesh][at >= 0 ? at : -at - 2]);
    }
}
