package dasein.core.model.file;

import dasein.core.BadInput;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import java.util.List;

/**
 * Lines as strands of hair: tubes of three sides round them, which follow joints and morph targets as the lines do. The
 * second set of texture places runs once round a strand (u) and from its root to its tip (v).
 */
final class Strands {
    private static final int SIDES = 3;
    /** Metres, where nothing is said; a tip is this much thinner. */
    private static final float USUAL = 1e-4f, TIP = 0.25f;
    /** The part of a strand that gets thinner. */
    private static final float TAPER = 0.6f;

    private static final int MOST = 40_000_000;

    private final Model.Part lines;
    private final List<int[]> each;
    private final float[] radius, position, normal, uv, weights, colour;
    private final int[] index, joints;
    private final float[][] morph;

    /**
     * @param lines a part whose index is of lines by {@code mode}; @param radius of each of its vertices, null where
     *     none is said
     */
    static Model.Part of(Model.Part lines, int mode, float[] radius, String name) {
        if (radius != null && radius.length != lines.vertices())
            throw new BadInput(name + " is damaged: its lines have different numbers of places and radii");
        List<int[]> each = Primitives.lines(lines.index(), mode);
        long rings = each.stream().mapToLong(l -> l.length).sum();
        if (rings * SIDES > MOST) throw new BadInput(name + " holds more than " + MOST / SIDES + " points of lines");
        return new Strands(lines, each, radius, (int) rings).made();
    }

    private Strands(Model.Part lines, List<int[]> each, float[] radius, int rings) {
        this.lines = lines;
        this.each = each;
        this.radius = radius;
        // The last side closes on vertices of its own, where u is 1.
        int n = (SIDES + 1) * rings, quads = SIDES * (rings - each.size());
        position = new float[3 * n];
        normal = new float[3 * n];
        uv = new float[4 * n];
        index = new int[6 * quads];
        joints = new int[lines.joints().length == 0 ? 0 : 4 * n];
        weights = new float[joints.length];
        colour = new float[lines.colour().length == 0 ? 0 : 4 * n];
        morph = new float[lines.morphPosition().length][];
        for (int t = 0; t < morph.length; t++) morph[t] = lines.morphPosition()[t] == null ? null : new float[3 * n];
    }

    private Model.Part made() {
        int v = 0, i = 0;
        for (int[] line : each) {
            Vec3 across = null, before = null;
            for (int k = 0; k < line.length; k++) {
                Vec3 along = place(line, Math.min(k + 1, line.length - 1)).minus(place(line, Math.max(k - 1, 0)));
                along = along.length() > 1e-12 ? along.unit() : before == null ? Vec3.Y : before;
                // Carried along without twist.
                across = across == null ? along.anyPerpendicular() : across.minus(along.times(across.dot(along)));
                across = across.length() > 1e-6 ? across.unit() : along.anyPerpendicular();
                before = along;
                ring(line, k, across, along.cross(across), v);
                for (int s = 0; s < SIDES && k > 0; s++, i += 6) {
                    int a = v + s, b = a - SIDES - 1;
                    index[i] = b;
                    index[i + 1] = index[i + 3] = b + 1;
                    index[i + 2] = index[i + 5] = a;
                    index[i + 4] = a + 1;
                }
                v += SIDES + 1;
            }
        }
        return new Model.Part(
                lines.node(),
                lines.skin(),
                position,
                normal,
                uv,
                index,
                lines.material(),
                joints,
                weights,
                morph,
                new float[morph.length][],
                colour);
    }

    private Vec3 place(int[] line, int k) {
        float[] p = lines.position();
        return new Vec3(p[3 * line[k]], p[3 * line[k] + 1], p[3 * line[k] + 2]);
    }

    private void ring(int[] line, int k, Vec3 x, Vec3 y, int v) {
        Vec3 middle = place(line, k);
        int from = line[k];
        float along = (float) k / (line.length - 1), thin = Math.max(0, (along - 1 + TAPER) / TAPER);
        float r = radius == null ? USUAL * (1 - (1 - TIP) * thin) : Math.max(1e-7f, radius[from]);
        for (int s = 0; s <= SIDES; s++, v++) {
            double angle = 2 * Math.PI * (s % SIDES) / SIDES;
            Vec3 out = x.times(Math.cos(angle)).plus(y.times(Math.sin(angle))), at = middle.plus(out.times(r));
            put(position, v, at);
            put(normal, v, out);
            uv[2 * v] = lines.uv()[2 * from];
            uv[2 * v + 1] = lines.uv()[2 * from + 1];
            uv[uv.length / 2 + 2 * v] = (float) s / SIDES;
            uv[uv.length / 2 + 2 * v + 1] = along;
            if (joints.length > 0) System.arraycopy(lines.joints(), 4 * from, joints, 4 * v, 4);
            if (joints.length > 0) System.arraycopy(lines.weights(), 4 * from, weights, 4 * v, 4);
            if (colour.length > 0) System.arraycopy(lines.colour(), 4 * from, colour, 4 * v, 4);
            for (int t = 0; t < morph.length; t++)
                if (morph[t] != null) System.arraycopy(lines.morphPosition()[t], 3 * from, morph[t], 3 * v, 3);
        }
    }

    private static void put(float[] to, int v, Vec3 p) {
        to[3 * v] = (float) p.x();
        to[3 * v + 1] = (float) p.y();
        to[3 * v + 2] = (float) p.z();
    }
}
