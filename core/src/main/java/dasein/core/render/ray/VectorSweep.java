package dasein.core.render.ray;

import jdk.incubator.vector.FloatVector;
import jdk.incubator.vector.VectorOperators;
import jdk.incubator.vector.VectorShuffle;
import jdk.incubator.vector.VectorSpecies;

/** A record at once. */
final class VectorSweep extends Sweep {
    private static final VectorSpecies<Float> F = FloatVector.SPECIES_256;
    private static final VectorShuffle<Float> HALVES = VectorShuffle.fromValues(F, 4, 5, 6, 7, 0, 1, 2, 3);

    /** By comparing and choosing: the ready-made least of two cares about zeros' signs and what is no number. */
    private static FloatVector least(FloatVector a, FloatVector b) {
        return a.blend(b, b.compare(VectorOperators.LT, a));
    }

    @Override
    void bounds(float[] r, int from, int to, float[] c) {
        FloatVector corners = FloatVector.broadcast(F, 1e30f), middles = corners;
        for (int i = RECORD * from, e = RECORD * to; i < e; i += RECORD) {
            FloatVector x = FloatVector.fromArray(F, r, i);
            corners = least(corners, x);
            // Twice the middle in the lower half, the same below zero in the upper: both ends are leasts.
            middles = least(middles, x.sub(x.rearrange(HALVES)));
        }
        float[] q = new float[2 * RECORD];
        corners.intoArray(q, 0);
        middles.intoArray(q, RECORD);
        for (int a = 0; a < 3; a++) {
            c[a] = q[a];
            c[3 + a] = -q[4 + a];
            c[6 + a] = q[RECORD + a];
            c[9 + a] = -q[RECORD + 4 + a];
        }
    }

    @Override
    void bin(float[] r, int from, int to, float[] c, float s0, float s1, float s2, float[] bin, int[] count) {
        float m0 = c[6], m1 = c[7], m2 = c[8];
        for (int i = RECORD * from, e = RECORD * to; i < e; i += RECORD) {
            int k0 = (int) ((r[i] - r[i + 4] - m0) * s0),
                    k1 = BINS + (int) ((r[i + 1] - r[i + 5] - m1) * s1),
                    k2 = 2 * BINS + (int) ((r[i + 2] - r[i + 6] - m2) * s2);
            count[k0]++;
            count[k1]++;
            count[k2]++;
            FloatVector x = FloatVector.fromArray(F, r, i);
            least(FloatVector.fromArray(F, bin, RECORD * k0), x).intoArray(bin, RECORD * k0);
            least(FloatVector.fromArray(F, bin, RECORD * k1), x).intoArray(bin, RECORD * k1);
            least(FloatVector.fromArray(F, bin, RECORD * k2), x).intoArray(bin, RECORD * k2);
        }
    }

    @Override
    void swap(float[] r, int i, int j) {
        FloatVector x = FloatVector.fromArray(F, r, RECORD * i), y = FloatVector.fromArray(F, r, RECORD * j);
        y.intoArray(r, RECORD * i);
        x.intoArray(r, RECORD * j);
    }
}
