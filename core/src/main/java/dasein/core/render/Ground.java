package dasein.core.render;

/**
 * What a catcher looks like at a point with a unit normal: its albedo, three colours, found from the plate. Must be
 * safe for several threads.
 */
public interface Ground {
    void albedo(float x, float y, float z, float nx, float ny, float nz, float[] out);
}
