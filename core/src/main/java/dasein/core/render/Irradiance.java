package dasein.core.render;

import dasein.core.light.Lighting;
import dasein.core.math.Vec3;
import java.util.concurrent.atomic.AtomicReferenceArray;

/**
 * What the lighting gives an open surface by its normal, worked out once for each of a fine set of directions. Safe for
 * several threads.
 */
public final class Irradiance {
    private static final int HALF = 12, SIDE = 2 * HALF + 1;

    private final Lighting lighting;
    private final AtomicReferenceArray<float[]> known = new AtomicReferenceArray<>(SIDE * SIDE * SIDE);

    public Irradiance(Lighting lighting) {
        this.lighting = lighting;
    }

    public Lighting lighting() {
        return lighting;
    }

    /** @return three colours, not to be written */
    float[] on(float nx, float ny, float nz) {
        int x = Math.round(nx * HALF),
                y = Math.round(ny * HALF),
                z = Math.round(nz * HALF),
                at = ((x + HALF) * SIDE + y + HALF) * SIDE + z + HALF;
        float[] e = known.get(at);
        if (e == null) known.set(at, e = lighting.irradiance(new Vec3(x, y, z).unit()));
        return e;
    }
}
