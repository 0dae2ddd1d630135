package dasein.core.format;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Files packed by wavelets, read again by another's reader (tinyexr). */
class PizTest {
    @TempDir
    Path folder;

    private Map<String, float[]> read(int w, int h, Map<String, float[]> planes, Set<String> full, Exr.Packing how)
            throws Exception {
        Path p = folder.resolve(how + ".exr");
        int[] window = {0, 0, w, h};
        Exr.write(p, window, window, planes, full, Map.of(), Map.of(), how);
        return Exr.read(p).planes();
    }

    /** A smooth ramp with grain, a plane that is even, one that is empty, and one of full floats with many values. */
    private static Map<String, float[]> planes(int w, int h, double grain, int seed) {
        Random r = new Random(seed);
        Map<String, float[]> m = new LinkedHashMap<>();
        for (String n : new String[] {"A", "B", "R", "Z"}) m.put(n, new float[w * h]);
        for (int y = 0; y < h; y++)
            for (int x = 0; x < w; x++) {
                int i = y * w + x;
                m.get("A")[i] = 1;
                m.get("R")[i] = (float) (0.1 + 0.5 * x / w + 0.2 * y / h + grain * r.nextGaussian());
                m.get("Z")[i] = (float) (3 + 0.01 * x + 0.002 * y + 0.0001 * r.nextGaussian());
            }
        return m;
    }

    @Test
    void whatIsPackedComesBackAtAllSizes() throws Exception {
        for (int[] wh : new int[][] {{1, 1}, {3, 70}, {97, 33}, {640, 97}, {5, 1}}) {
            Map<String, float[]> m = planes(wh[0], wh[1], 0.02, wh[0]);
            Map<String, float[]> back = read(wh[0], wh[1], m, Set.of("Z"), Exr.Packing.PIZ);
            for (String n : m.keySet()) {
                float[] want = m.get(n).clone();
                for (int i = 0; i < want.length && !n.equals("Z"); i++) want[i] = Half.toFloat(Half.of(want[i]));
                assertThat(back.get(n)).as("%s of %d x %d", n, wh[0], wh[1]).isEqualTo(want);
            }
        }
    }

    /** Where there is grain it is smaller than the other packing, and much smaller than nothing. */
    @Test
    void grainIsPackedSmaller() throws Exception {
        int w = 1920, h = 64;
        Map<String, float[]> m = Map.of("R", planes(w, h, 0.005, 5).get("R"));
        read(w, h, m, Set.of(), Exr.Packing.ZIP);
        read(w, h, m, Set.of(), Exr.Packing.PIZ);
        long zip = Files.size(folder.resolve("ZIP.exr")), piz = Files.size(folder.resolve("PIZ.exr"));
        assertThat(piz).as("zip %d", zip).isLessThan(zip).isLessThan(2L * w * h * 3 / 4);
    }

    /** So many values that the wavelet has to wrap round, in noise that no packing makes smaller, line by line. */
    @Test
    void noiseComesBackToo() throws Exception {
        int w = 256, h = 64;
        Random r = new Random(8);
        float[] v = new float[w * h];
        for (int i = 0; i < v.length; i++)
            v[i] = i < 40 * w
                    ? Half.toFloat((short) (r.nextInt(0x7000) | (r.nextBoolean() ? 0x8000 : 0)))
                    : 0.25f * (i / w % 3);
        assertThat(read(w, h, Map.of("Y", v), Set.of(), Exr.Packing.PIZ).get("Y"))
                .isEqualTo(v);
    }
}
