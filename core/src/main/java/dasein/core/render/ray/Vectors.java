package dasein.core.render.ray;

/** Which code tests boxes and triangles here: chosen once. */
final class Vectors {
    /** Whether this Java was started with its vectors, and the machine has those of eight floats. */
    static final boolean THERE = there();

    private Vectors() {}

    private static boolean there() {
        if (ModuleLayer.boot().findModule("jdk.incubator.vector").isEmpty()) return false;
        return VectorLanes.eightAreNative();
    }

    static Lanes lanes(boolean vectors) {
        return vectors ? new VectorLanes() : new ScalarLanes();
    }

    static Sweep sweep(boolean vectors) {
        return vectors ? new VectorSweep() : new ScalarSweep();
    }
}
