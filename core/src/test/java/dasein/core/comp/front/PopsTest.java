package dasein.core.comp.front;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Random;
import org.junit.jupiter.api.Test;

class PopsTest {
    @Test
    void onlyWhatStandsOutAgainstBothNeighboursIsAPop() {
        Random r = new Random(2);
        double[] area = new double[60];
        for (int i = 0; i < area.length; i++) area[i] = 1000 + 15 * i + 4 * r.nextGaussian();
        assertThat(Pops.of(area, 11)).as("it grows on its way").isEmpty();
        area[20] *= 0.8;
        area[41] *= 1.15;
        assertThat(Pops.of(area, 11)).containsExactly(31, 52);
        for (int i = 50; i < area.length; i++) area[i] = 0;
        assertThat(Pops.of(area, 11)).as("what leaves the picture for good").containsExactly(31, 52);
        assertThat(Pops.of(new double[] {1, 2}, 1)).isEmpty();
        double[] still = new double[10];
        java.util.Arrays.fill(still, 500);
        still[4] = 0;
        assertThat(Pops.of(still, 1)).as("lost for a frame").containsExactly(5);
    }
}
