package dasein.core.comp.repair;

/** Where a place of one frame's picture lies in another's. */
public interface Ways {
    /**
     * @param x, y continuous pixels of the plate in frame {@code from}
     * @return false where it is not known, or behind the camera; else it is in {@code out}
     */
    boolean at(int from, double x, double y, int to, double[] out);

    Ways STILL = (from, x, y, to, out) -> {
        out[0] = x;
        out[1] = y;
        return true;
    };
}
