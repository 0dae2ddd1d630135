package dasein.shoot;

import dasein.core.model.Mesh;

/** The slipway's triangles for measurements elsewhere. */
public final class DemoSet {
    private DemoSet() {}

    public static Mesh mesh() {
        return Slipway.build();
    }
}
