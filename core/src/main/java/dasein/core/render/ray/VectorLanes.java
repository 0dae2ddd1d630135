package dasein.core.render.ray;

import jdk.incubator.vector.FloatVector;
import jdk.incubator.vector.IntVector;
import jdk.incubator.vector.VectorMask;
import jdk.incubator.vector.VectorOperators;
import jdk.incubator.vector.VectorShape;
import jdk.incubator.vector.VectorSpecies;

/**
 * Eight at once. No vector leaves a method, and on Java 17 there is one shape of them throughout: else it puts them on
 * the heap, some 600 bytes a ray.
 */
final class VectorLanes extends Lanes {
    private static final VectorSpecies<Float> F = FloatVector.SPECIES_256;
    private static final VectorSpecies<Integer> I = IntVector.SPECIES_256;
    /** Java 17 has no fast way from a mask to a number, and may put masks on the heap: there signs take their place. */
    private static final boolean MASKS = Runtime.version().feature() >= 21;

    private static final int[] BIT = {1, 2, 4, 8, 16, 32, 64, 128};
    /** Triangles of a block, and their vectors. */
    private static final int W = Tree.BLOCK;

    private static final VectorSpecies<Float> T = W == 4 ? FloatVector.SPECIES_128 : F;

    /** Of a block that moves, where it is now. */
    private final float[] now = new float[9 * W];

    static boolean eightAreNative() {
        return VectorShape.preferredShape().vectorBitSize() >= 256;
    }

    @Override
    int node(float[] box, int at, float far) {
        FloatVector rx = FloatVector.broadcast(F, ix),
                ry = FloatVector.broadcast(F, iy),
                rz = FloatVector.broadcast(F, iz),
                ax = FloatVector.broadcast(F, mx),
                ay = FloatVector.broadcast(F, my),
                az = FloatVector.broadcast(F, mz);
        // Floats that are not negative keep their order as whole numbers, and those are compared faster.
        IntVector n = FloatVector.fromArray(F, box, at + nearX)
                .fma(rx, ax)
                .reinterpretAsInts()
                .max(FloatVector.fromArray(F, box, at + nearY).fma(ry, ay).reinterpretAsInts())
                .max(FloatVector.fromArray(F, box, at + nearZ)
                        .fma(rz, az)
                        .reinterpretAsInts()
                        .max(IntVector.zero(I)));
        IntVector f = FloatVector.fromArray(F, box, at + farX)
                .fma(rx, ax)
                .reinterpretAsInts()
                .min(FloatVector.fromArray(F, box, at + farY).fma(ry, ay).reinterpretAsInts())
                .min(FloatVector.fromArray(F, box, at + farZ)
                        .fma(rz, az)
                        .reinterpretAsInts()
                        .min(IntVector.broadcast(I, Float.floatToRawIntBits(far))))
                .add(SLACK);
        n.intoArray(near, 0);
        if (MASKS) return (int) n.compare(VectorOperators.LE, f).toLong();
        return ~f.max(-1)
                        .sub(n)
                        .lanewise(VectorOperators.ASHR, 31)
                        .and(IntVector.fromArray(I, BIT, 0))
                        .reduceLanes(VectorOperators.ADD)
                & 255;
    }

    @Override
    int leaf(float[] tri, int at, float far) {
        FloatVector ux = FloatVector.fromArray(T, tri, at + 3 * W),
                uy = FloatVector.fromArray(T, tri, at + 4 * W),
                uz = FloatVector.fromArray(T, tri, at + 5 * W),
                wx = FloatVector.fromArray(T, tri, at + 6 * W),
                wy = FloatVector.fromArray(T, tri, at + 7 * W),
                wz = FloatVector.fromArray(T, tri, at + 8 * W);
        FloatVector x = FloatVector.broadcast(T, dx),
                y = FloatVector.broadcast(T, dy),
                z = FloatVector.broadcast(T, dz);
        FloatVector px = wz.mul(y).sub(wy.mul(z)),
                py = wx.mul(z).sub(wz.mul(x)),
                pz = wy.mul(x).sub(wx.mul(y));
        FloatVector inv =
                FloatVector.broadcast(T, 1f).div(ux.mul(px).add(uy.mul(py)).add(uz.mul(pz)));
        FloatVector tx = FloatVector.broadcast(T, ox).sub(FloatVector.fromArray(T, tri, at)),
                ty = FloatVector.broadcast(T, oy).sub(FloatVector.fromArray(T, tri, at + W)),
                tz = FloatVector.broadcast(T, oz).sub(FloatVector.fromArray(T, tri, at + 2 * W));
        FloatVector a = tx.mul(px).add(ty.mul(py)).add(tz.mul(pz)).mul(inv);
        FloatVector qx = ty.mul(uz).sub(tz.mul(uy)),
                qy = tz.mul(ux).sub(tx.mul(uz)),
                qz = tx.mul(uy).sub(ty.mul(ux));
        FloatVector b = qx.mul(x).add(qy.mul(y)).add(qz.mul(z)).mul(inv);
        FloatVector d = wx.mul(qx).add(wy.mul(qy)).add(wz.mul(qz)).mul(inv);
        if (MASKS) {
            VectorMask<Float> m = a.compare(VectorOperators.GE, 0f)
                    .and(b.compare(VectorOperators.GE, 0f))
                    .and(a.add(b).compare(VectorOperators.LE, 1f))
                    .and(d.compare(VectorOperators.GT, 0f))
                    .and(d.compare(VectorOperators.LT, far));
            if (!m.anyTrue()) return 0;
            d.intoArray(t, 0);
            a.intoArray(u, 0);
            b.intoArray(v, 0);
            return (int) m.toLong();
        }
        // A lane is missed where any of these is below zero; adding zero takes the sign from what is nothing.
        int missed = a.add(0f)
                .reinterpretAsInts()
                .or(b.add(0f).reinterpretAsInts())
                .or(FloatVector.broadcast(T, 1f).sub(a.add(b)).reinterpretAsInts())
                .or(d.reinterpretAsInts())
                .or(FloatVector.broadcast(T, far).sub(d).reinterpretAsInts())
                .reduceLanes(VectorOperators.AND);
        if (missed < 0) return 0;
        d.intoArray(t, 0);
        a.intoArray(u, 0);
        b.intoArray(v, 0);
        return met(far);
    }

    @Override
    int leafMoving(float[] tri, int at, float s, float far) {
        FloatVector k = FloatVector.broadcast(T, s);
        for (int i = 0; i < 9 * W; i += W) {
            FloatVector open = FloatVector.fromArray(T, tri, at + i);
            open.add(FloatVector.fromArray(T, tri, at + 9 * W + i).sub(open).mul(k))
                    .intoArray(now, i);
        }
        return leaf(now, 0, far);
    }
}
