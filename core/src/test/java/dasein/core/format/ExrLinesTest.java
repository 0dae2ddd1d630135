package dasein.core.format;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Our reader of the plain kind against another's (tinyexr), on the same files. */
class ExrLinesTest {
    @TempDir
    Path folder;

    /** Planes that are even, empty, noisy, even in runs of any length, and of full floats with infinite values. */
    private Path file(int w, int h, Exr.Packing how) {
        Random r = new Random(31L * w + h);
        Map<String, float[]> m = new LinkedHashMap<>();
        for (String n : new String[] {"A", "B", "G", "R", "Z", "a.X"}) m.put(n, new float[w * h]);
        float run = 0;
        for (int i = 0; i < w * h; i++) {
            m.get("A")[i] = 1;
            m.get("G")[i] = (float) r.nextGaussian();
            if (r.nextInt(13) == 0) run = (float) (r.nextGaussian() * 1e-6);
            m.get("R")[i] = run;
            m.get("Z")[i] = i % 7 < 5 ? Float.POSITIVE_INFINITY : (float) (100 * r.nextGaussian());
            m.get("a.X")[i] = i * 0.25f;
        }
        Path p = folder.resolve(w + "x" + h + how + ".exr");
        Exr.write(
                p, new int[] {-3, 5, w, h}, new int[] {0, 0, 640, 480}, m, Set.of("Z", "a.X"), Map.of(), Map.of(), how);
        return p;
    }

    @Test
    void readsWhatTheLibraryReads() {
        for (int[] wh : new int[][] {{1, 1}, {3, 70}, {97, 33}, {641, 97}, {5, 1}, {64, 16}}) {
            for (Exr.Packing how : new Exr.Packing[] {Exr.Packing.ZIP, Exr.Packing.ZIPS}) {
                Path p = file(wh[0], wh[1], how);
                Exr.Channels ours = ExrLines.read(p), theirs = Exr.readByLibrary(p);
                assertThat(ours.planes().keySet())
                        .containsExactlyElementsOf(theirs.planes().keySet());
                theirs.planes().forEach((n, plane) -> assertThat(ours.planes().get(n))
                        .as("%s of %d x %d, %s", n, wh[0], wh[1], how)
                        .isEqualTo(plane));
                assertThat(new int[] {ours.originX(), ours.originY()}).containsExactly(-3, 5);
                assertThat(ours.display()).containsExactly(0, 0, 640, 480);
            }
        }
    }

    @Test
    void leavesOtherKindsToTheLibrary() {
        Path p = file(97, 33, Exr.Packing.PIZ);
        assertThat(ExrLines.read(p)).isNull();
        assertThat(Exr.read(p).planes()).hasSize(6);
    }

    /** A file that is cut short is not taken for a whole one, wherever it ends. */
    @Test
    void whatIsCutShortIsRefused() throws Exception {
        Path whole = file(97, 33, Exr.Packing.ZIP), cut = folder.resolve("cut.exr");
        byte[] all = Files.readAllBytes(whole);
        Random r = new Random(7);
        for (int k = 0; k < 60; k++) {
            Files.write(cut, java.util.Arrays.copyOf(all, k == 0 ? all.length - 1 : r.nextInt(all.length)));
            assertThat(ExrLines.read(cut)).isNull();
            assertThatThrownBy(() -> Exr.read(cut)).isInstanceOf(BadInput.class);
        }
    }
}
