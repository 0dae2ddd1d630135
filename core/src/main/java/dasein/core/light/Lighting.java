package dasein.core.light;

import dasein.core.math.Vec3;
import java.util.List;

/** All light of a frame: an environment (may be null) and suns. */
public record Lighting(Environment environment, List<Sun> suns) {

    /** Irradiance on an unobstructed surface with unit normal n, three colours. */
    public float[] irradiance(Vec3 n) {
        float[] e = environment == null ? new float[3] : environment.irradiance(n);
        for (Sun s : suns) {
            double cos = Math.max(0, n.dot(s.towards()));
            for (int c = 0; c < 3; c++) e[c] += (float) (s.irradiance()[c] * cos);
        }
        return e;
    }
}
