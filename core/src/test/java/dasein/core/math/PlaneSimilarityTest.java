package dasein.core.math;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

class PlaneSimilarityTest {
    @Test
    void whatWasTurnedEnlargedAndShiftedIsFound() {
        Random r = new Random(6);
        double turn = 0.4, size = 1.3;
        List<double[]> pairs = new ArrayList<>();
        double[] weights = new double[12];
        for (int i = 0; i < weights.length; i++) {
            double x = 100 * r.nextDouble(), y = 100 * r.nextDouble();
            boolean wrong = i == 3;
            pairs.add(new double[] {
                x,
                y,
                size * (Math.cos(turn) * x - Math.sin(turn) * y) + 7,
                size * (Math.sin(turn) * x + Math.cos(turn) * y) - 3 + (wrong ? 50 : 0)
            });
            weights[i] = wrong ? 0 : 1 + r.nextDouble();
        }
        PlaneSimilarity s = PlaneSimilarity.fit(pairs, weights);
        assertThat(s.turn()).isCloseTo(turn, within(1e-12));
        assertThat(Math.hypot(s.a(), s.ai())).isCloseTo(size, within(1e-12));
        assertThat(s.at(0, 0)).containsExactly(new double[] {7, -3}, within(1e-9));
        assertThat(PlaneSimilarity.fit(pairs, null).at(0, 0)[1]).as("all count").isNotCloseTo(-3, within(0.1));
        PlaneSimilarity shift =
                PlaneSimilarity.fit(List.of(new double[] {2, 3, 5, 9}, new double[] {2, 3, 5, 9}), null);
        assertThat(shift.at(10, 10)).containsExactly(new double[] {13, 16}, within(1e-12));
    }
}
