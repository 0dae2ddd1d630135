package dasein.core.model.file;

import dasein.core.model.Model;
import dasein.core.model.Posing;
import java.nio.FloatBuffer;
import java.nio.IntBuffer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import org.lwjgl.system.MemoryUtil;
import org.lwjgl.util.meshoptimizer.MeshOptimizer;

/**
 * Fewer triangles for the same shape: edges are drawn together where that shows least (quadric error metrics, Garland
 * and Heckbert 1997, by the library), with the same error allowed everywhere, so that small dense parts give more than
 * large plain ones. Vertices stay where they are, with all that hangs on them.
 */
final class Lighter {
    /** Of the model's size: nothing is moved further than this, however many triangles are left. */
    private static final double MOST_ERROR = 0.02;

    private static final double LEAST_ERROR = 1e-6;
    private static final int STEPS = 10;
    /** What a normal or a colour that is wrong by one weighs, against a place in units of the model's size. */
    private static final float OF_NORMAL = 0.5f, OF_COLOUR = 0.5f, OF_PICTURE = 0.5f;

    private Lighter() {}

    /**
     * @param most triangles; more are left where fewer would change the shape by more than a fiftieth of its size
     * @param said gets a sentence on what was done
     */
    static Model of(Model m, int most, List<String> said) {
        if (m.triangles() <= most) return m;
        List<Mesh> all = new ArrayList<>();
        try {
            Posing rest = new Posing(m);
            for (Model.Part p : m.parts()) all.add(new Mesh(p, rest));
            float[] b = m.bounds();
            double size = Math.max(b[3] - b[0], Math.max(b[4] - b[1], b[5] - b[2]));
            Found f = find(all, most, size, false);
            // Where every triangle has its own normals or places in the picture, seams are all there is.
            if (f.triangles > 1.2 * most) f = find(all, most, size, true);
            List<Model.Part> parts = new ArrayList<>();
            for (int i = 0; i < all.size(); i++) {
                all.get(i).simpler(f.error, f.loose);
                parts.add(all.get(i).part());
            }
            Model out = new Model(m.name(), m.nodes(), parts, m.skins(), m.clips(), m.materials());
            said.add(String.format(
                    Locale.ROOT,
                    "Brought to %,d of its %,d triangles: a part in %,d of its size is lost.",
                    out.triangles(),
                    m.triangles(),
                    Math.round(1 / Math.max(1e-6, f.error / size))));
            return out;
        } finally {
            all.forEach(Mesh::free);
        }
    }

    /** Whether hair is on it, which no triangles stand for. */
    static boolean hasStrands(Model m) {
        return Arrays.stream(m.materials()).anyMatch(k -> k.layers().fine().strand());
    }

    private record Found(double error, int triangles, boolean loose) {}

    /** The least error with which there are few enough, else the most. */
    private static Found find(List<Mesh> all, int most, double size, boolean loose) {
        double lo = Math.log(LEAST_ERROR * size), hi = Math.log(MOST_ERROR * size);
        int n = count(all, Math.exp(hi), loose);
        Found best = new Found(Math.exp(hi), n, loose);
        if (n > most) return best;
        for (int i = 0; i < STEPS && best.triangles < 0.95 * most; i++) {
            double e = 0.5 * (lo + hi);
            n = count(all, Math.exp(e), loose);
            if (n <= most) {
                best = new Found(Math.exp(e), n, loose);
                hi = e;
            } else lo = e;
        }
        return best;
    }

    private static int count(List<Mesh> all, double error, boolean loose) {
        int n = 0;
        for (Mesh m : all) n += m.simpler(error, loose) / 3;
        return n;
    }

    /** A part as the library wants it, posed at rest. */
    private static final class Mesh {
        private final Model.Part part;
        private final int vertices, wide;
        private final int[] index;
        private final FloatBuffer places, more, weights, error = MemoryUtil.memAllocFloat(1);
        private final IntBuffer corners, out;
        /** Of each vertex that is left one that it stands for. */
        private final int[] first;

        private int count;

        Mesh(Model.Part p, Posing rest) {
            part = p;
            int n = p.vertices();
            float[] posed = new float[3 * n];
            rest.place(p, posed, null);
            boolean colours = p.colour().length > 0;
            wide = 3 + p.uv().length / n + (colours ? 3 : 0);
            float[] at = new float[wide * n];
            for (int i = 0; i < n; i++) {
                int k = wide * i;
                System.arraycopy(p.normal(), 3 * i, at, k, 3);
                k += 3;
                for (int s = 0; s < p.uv().length / (2 * n); s++, k += 2)
                    System.arraycopy(p.uv(), 2 * (s * n + i), at, k, 2);
                if (colours) System.arraycopy(p.colour(), 4 * i, at, k, 3);
            }
            // Corners that are the same in all are one; what follows joints or morphs is left as it was made.
            int[] same = p.skin() < 0 && p.morphPosition().length == 0 ? same(posed, at, n) : null;
            index = p.index().clone();
            int left = n;
            if (same != null) {
                left = 0;
                for (int v : same) left = Math.max(left, v + 1);
                for (int i = 0; i < index.length; i++) index[i] = same[index[i]];
            }
            first = new int[left];
            vertices = left;
            places = MemoryUtil.memAllocFloat(3 * left);
            more = MemoryUtil.memAllocFloat(wide * left);
            for (int i = n - 1; i >= 0; i--) {
                int v = same == null ? i : same[i];
                first[v] = i;
                places.put(3 * v, posed, 3 * i, 3);
                more.put(wide * v, at, wide * i, wide);
            }
            weights = MemoryUtil.memAllocFloat(wide);
            for (int k = 0; k < wide; k++)
                weights.put(k, k < 3 ? OF_NORMAL : colours && k >= wide - 3 ? OF_COLOUR : OF_PICTURE);
            corners = MemoryUtil.memAllocInt(index.length).put(0, index);
            out = MemoryUtil.memAllocInt(index.length);
        }

        private int[] same(float[] posed, float[] at, int n) {
            int each = 3 + wide;
            FloatBuffer all = MemoryUtil.memAllocFloat(each * n);
            IntBuffer map = MemoryUtil.memAllocInt(n);
            try {
                for (int i = 0; i < n; i++) all.put(each * i, posed, 3 * i, 3).put(each * i + 3, at, wide * i, wide);
                MeshOptimizer.meshopt_generateVertexRemap(map, null, n, MemoryUtil.memByteBuffer(all), n, 4L * each);
                int[] to = new int[n];
                map.get(0, to);
                return to;
            } finally {
                MemoryUtil.memFree(all);
                MemoryUtil.memFree(map);
            }
        }

        /** @return corners that are left */
        int simpler(double most, boolean loose) {
            if (index.length == 0) return count = 0;
            int how = MeshOptimizer.meshopt_SimplifyLockBorder | MeshOptimizer.meshopt_SimplifyErrorAbsolute;
            if (loose) how |= MeshOptimizer.meshopt_SimplifyPermissive;
            return count = (int) MeshOptimizer.meshopt_simplifyWithAttributes(
                    out, corners, places, vertices, 12, more, 4L * wide, weights, null, 0, (float) most, how, error);
        }

        /** What is left, without the vertices that nothing names. */
        Model.Part part() {
            int[] left = new int[count];
            out.get(0, left);
            int[] number = new int[vertices], of = new int[vertices];
            Arrays.fill(number, -1);
            int n = 0;
            for (int i = 0; i < left.length; i++) {
                int v = left[i];
                if (number[v] < 0) {
                    of[n] = first[v];
                    number[v] = n++;
                }
                left[i] = number[v];
            }
            of = Arrays.copyOf(of, n);
            int sets = part.uv().length / (2 * part.vertices());
            float[] uv = new float[2 * n * sets];
            for (int s = 0; s < sets; s++)
                for (int i = 0; i < n; i++)
                    System.arraycopy(part.uv(), 2 * (s * part.vertices() + of[i]), uv, 2 * (s * n + i), 2);
            int[] joints = new int[part.joints().length == 0 ? 0 : 4 * n];
            for (int i = 0; i < joints.length; i++) joints[i] = part.joints()[4 * of[i / 4] + i % 4];
            return new Model.Part(
                    part.node(),
                    part.skin(),
                    taken(part.position(), of, 3),
                    taken(part.normal(), of, 3),
                    uv,
                    left,
                    part.material(),
                    joints,
                    taken(part.weights(), of, 4),
                    taken(part.morphPosition(), of),
                    taken(part.morphNormal(), of),
                    taken(part.colour(), of, 4));
        }

        private static float[][] taken(float[][] v, int[] of) {
            return Arrays.stream(v).map(t -> t == null ? null : taken(t, of, 3)).toArray(float[][]::new);
        }

        private static float[] taken(float[] v, int[] of, int each) {
            if (v.length == 0) return v;
            float[] out = new float[each * of.length];
            for (int i = 0; i < of.length; i++) System.arraycopy(v, each * of[i], out, each * i, each);
            return out;
        }

        void free() {
            for (FloatBuffer f : List.of(places, more, weights, error)) MemoryUtil.memFree(f);
            MemoryUtil.memFree(corners);
            MemoryUtil.memFree(out);
        }
    }
}
