package dasein.core.light;

import dasein.core.light.lamp.Lamp;
import dasein.core.math.Vec3;
import java.util.List;

/** All light of a frame: an environment (may be null), suns and lamps. */
public record Lighting(Environment environment, List<Sun> suns, List<Lamp> lamps) {
    public Lighting(Environment environment, List<Sun> suns) {
        this(environment, suns, List.of());
    }

    public Lighting with(List<Lamp> other) {
        return other.isEmpty() && lamps.isEmpty() ? this : new Lighting(environment, suns, other);
    }

    /** Whether light of the plate itself comes from a lamp, and so is not the same all over the ground. */
    public boolean uneven() {
        return lamps.stream().anyMatch(Lamp::real);
    }

    /** Irradiance of sky and suns on an unobstructed surface with unit normal n, three colours. */
    public float[] irradiance(Vec3 n) {
        float[] e = environment == null ? new float[3] : environment.irradiance(n);
        for (Sun s : suns) {
            double cos = Math.max(0, n.dot(s.towards()));
            for (int c = 0; c < 3; c++) e[c] += (float) (s.irradiance()[c] * cos);
        }
        return e;
    }
}
