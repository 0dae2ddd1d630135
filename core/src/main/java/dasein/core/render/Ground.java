package dasein.core.render;

/**
 * What a catcher looks like at a point with a unit normal: its albedo, three colours, found from the plate. Must be
 * safe for several threads.
 */
public interface Ground {
    void albedo(float x, float y, float z, float nx, float ny, float nz, float[] out);

    /**
     * What it radiates as long as no performer is there, three colours: what the plate shows. It is the albedo times
     * what sky and suns give over pi, so that what performers take away can be counted from it.
     *
     * @return false when that is not known
     */
    default boolean radiance(float x, float y, float z, float nx, float ny, float nz, float[] out) {
        return false;
    }
}
