package dasein.core.cast;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.file.ModelReader;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Ten crates that all want the same place, beside a quay of half a metre that begins at x = 1. */
class FreeGroundTest {
    private static final Blocking.Around QUAY = new Blocking.Around() {
        @Override
        public double ground(double x, double z, double under) {
            return x > 1 ? 0.5 : 0;
        }

        @Override
        public Pose moved(int object, double frame) {
            return null;
        }

        @Override
        public Vec3 onGround(int track, double frame) {
            return null;
        }
    };

    @Test
    void nobodyStandsInAnotherOrOnAnEdge() throws Exception {
        Model crate = ModelReader.read(Path.of("demo/models/crate.glb"));
        double r = FreeGround.radius(crate, 0.62);
        assertThat(r).isBetween(0.3, 0.35);
        List<Performer> all = new ArrayList<>();
        for (int id = 1; id <= 10; id++) {
            Blocking b = new Blocking(all, Map.of("crate", crate), 1, 24, QUAY);
            Vec3 at = FreeGround.near(b, all, 1, new Vec3(0.5, 0, 0), r, p -> p.z() > -1);
            if (id == 1) assertThat(at).as("where it was wanted").isEqualTo(new Vec3(0.5, 0, 0));
            assertThat(at.x() + r).isLessThanOrEqualTo(1.01);
            assertThat(at.z()).as("in the picture").isGreaterThan(-1);
            for (Performer o : all)
                assertThat(Math.hypot(o.x() - at.x(), o.z() - at.z())).isGreaterThanOrEqualTo(2 * r);
            all.add(new Performer(id, "crate " + id, "crate", at.x(), 0, at.z(), 0, 0.62, "", 0, 1, true));
        }
        // Where nothing is seen a place is found as well.
        Blocking b = new Blocking(all, Map.of("crate", crate), 1, 24, QUAY);
        assertThat(FreeGround.near(b, all, 1, new Vec3(0.5, 0, 0), r, p -> false))
                .isNotEqualTo(new Vec3(0.5, 0, 0));
        assertThat(all.stream()
                        .mapToDouble(p -> Math.hypot(p.x() - 0.5, p.z()))
                        .max()
                        .orElseThrow())
                .as("none is sent far away")
                .isLessThan(4);
    }
}
