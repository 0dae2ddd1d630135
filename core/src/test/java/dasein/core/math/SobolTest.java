package dasein.core.math;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashSet;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;

class SobolTest {
    /** The matrix applied bit by bit, as the literature defines it (Sobol 1967; direction numbers of x + 1). */
    private static int bitByBit(int i) {
        int r = 0, d = 0x80000000;
        for (; i != 0; i >>>= 1, d ^= d >>> 1) if ((i & 1) != 0) r ^= d;
        return r;
    }

    @Test
    void maskedShiftsGiveTheSameMatrix() {
        Random r = new Random(1);
        for (int k = 0; k < 100_000; k++) {
            int i = k < 4096 ? k : r.nextInt();
            assertThat(Sobol.second(i)).isEqualTo(bitByBit(i));
        }
    }

    /** A (0,2)-sequence puts exactly one of 256 points into every cell of 16 x 16, 256 x 1, 1 x 256 and 64 x 4. */
    @Test
    void everyElementaryIntervalHoldsOnePoint() {
        Sobol s = new Sobol();
        for (int[] cells : new int[][] {{16, 16}, {256, 1}, {1, 256}, {64, 4}}) {
            Set<Integer> taken = new HashSet<>();
            for (int i = 0; i < 256; i++) {
                s.start(i, 99);
                s.next();
                assertThat(taken.add((int) (s.u * cells[0]) * cells[1] + (int) (s.v * cells[1])))
                        .isTrue();
            }
        }
    }
}
