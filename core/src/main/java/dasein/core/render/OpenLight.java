package dasein.core.render;

import dasein.core.light.Lighting;
import java.util.List;

/** What map and sun each give an open surface by its normal. */
record OpenLight(Irradiance map, Irradiance sun) {
    static OpenLight of(Lighting l) {
        return new OpenLight(
                new Irradiance(new Lighting(l.environment(), List.of())), new Irradiance(new Lighting(null, l.suns())));
    }
}
