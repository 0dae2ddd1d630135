package dasein.core.render.pass;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.format.Exr;
import dasein.core.format.Half;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.lens.Straighten;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The list of passes, and a frame's planes in memory and in the file, by what each pass says of itself. */
class PassesTest {
    @TempDir
    Path folder;

    private static Passes random(int w, int h) {
        Passes p = new Passes(w, h);
        Random r = new Random(4);
        for (Pass k : PassList.ALL_PASSES)
            for (float[] plane : p.of(k))
                for (int i = 0; i < plane.length; i++) plane[i] = k == PassList.ID ? r.nextInt(70000) : r.nextFloat();
        return p;
    }

    @Test
    void everyPassIsDeclaredOnceAndNoChannelTwice() {
        List<String> channels = new ArrayList<>();
        for (Pass p : PassList.ALL_PASSES) channels.addAll(p.channels());
        assertThat(new HashSet<>(channels)).hasSameSizeAs(channels);
        assertThat(PassList.ALL_PASSES).extracting(Pass::name).doesNotHaveDuplicates();
        Passes whole = new Passes(2, 2);
        for (String n : PassList.shown()) assertThat(whole.picture(n)).isNotNull();
        assertThatThrownBy(() -> whole.picture("id")).isInstanceOf(BadInput.class);
        assertThatThrownBy(() -> whole.picture("../beauty")).isInstanceOf(BadInput.class);
    }

    /** New passes say nothing: the plate stays as it is everywhere. */
    @Test
    void newPassesAreNeutral() {
        Passes p = new Passes(5, 4);
        for (int i = 0; i < 20; i++) {
            assertThat(p.matters(i)).isFalse();
            assertThat(p.shows(i)).isFalse();
            assertThat(p.shadow[1][i]).isEqualTo(1);
            assertThat(p.depth[i]).isEqualTo(Float.POSITIVE_INFINITY);
        }
        p.bounce[2][7] = 0.01f;
        p.beauty[0][8] = 0.5f;
        assertThat(p.matters(7)).isTrue();
        assertThat(p.shows(7)).isFalse();
        // Light that covers nothing, as fire has it.
        assertThat(p.shows(8)).isTrue();
        assertThat(p.bytes()).isEqualTo(4L * 20 * 21);
    }

    /** OpenEXR's half: ten bits of mantissa, so that a value is off by 2^-11 of itself at most. */
    @Test
    void whatIsWrittenComesBackAsExactlyAsItIsKept() {
        Passes p = random(37, 21);
        Path file = folder.resolve("p.exr");
        p.write(file);
        Passes q = Passes.read(file);
        for (Pass k : PassList.ALL_PASSES) {
            for (int c = 0; c < k.channels().size(); c++) {
                float[] a = p.of(k)[c], b = q.of(k)[c];
                for (int i = 0; i < a.length; i++) {
                    if (k.exact()) assertThat(b[i]).as(k.name()).isEqualTo(a[i]);
                    else assertThat(b[i]).as(k.name()).isCloseTo(a[i], within(Math.max(1e-7f, a[i] / 2048)));
                }
            }
        }
        assertThat(Exr.read(file).planes())
                .containsOnlyKeys(PassList.ALL_PASSES.stream()
                        .flatMap(k -> k.channels().stream())
                        .toArray(String[]::new));
    }

    /** Packed line by line it is the same picture, and in full floats exactly the numbers that were there. */
    @Test
    void everyPackingComesBack() throws Exception {
        Passes p = random(37, 21);
        for (Exr.Packing packing : Exr.Packing.values())
            for (boolean whole : new boolean[] {false, true}) {
                Path file = folder.resolve(packing + " " + whole + ".exr");
                p.write(file, packing, whole);
                Passes q = Passes.read(file);
                for (Pass k : PassList.ALL_PASSES)
                    for (int c = 0; c < k.channels().size(); c++) {
                        float[] want = p.of(k)[c].clone();
                        for (int i = 0; i < want.length && !whole && !k.exact(); i++)
                            want[i] = Half.toFloat(Half.of(want[i]));
                        assertThat(q.of(k)[c]).as("%s %s", packing, k.name()).isEqualTo(want);
                    }
                // OpenEXR File Layout: 2 is ZIPS, 3 is ZIP, 4 is PIZ.
                String head = new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1);
                assertThat(head).contains("compression\0compression\0\1\0\0\0" + "\3\2\4".charAt(packing.ordinal()));
            }
    }

    /** A straight picture bent back by its lens: numbers stay numbers that were there, parts stay parts. */
    @Test
    void aLensMakesNoNewNumbersAndNoMoreThanAll() {
        Lens lens = new Lens(60, 32, 20, -0.12, 0);
        Straighten s = new Straighten(lens, 64, 40);
        Passes p = new Passes(s.wide, s.high);
        p.overscan(s);
        assertThat(p.straight()).isTrue();
        HashSet<Float> numbers = new HashSet<>();
        Random r = new Random(6);
        for (int i = 0; i < p.id.length; i++) {
            p.id[i] = 1 + r.nextInt(9);
            p.depth[i] = 3 * p.id[i];
            numbers.add(p.id[i]);
            // An edge of full contrast is where a filter's lobes go beyond.
            p.alpha[i] = i % s.wide < s.wide / 2 ? 1 : 0;
            for (float[] plane : p.beauty) plane[i] = 4 * p.alpha[i];
        }
        Passes b = p.bent(s);
        assertThat(b.width).isEqualTo(64);
        assertThat(b.straight()).isFalse();
        boolean beyond = false;
        for (int i = 0; i < b.id.length; i++) {
            assertThat(numbers).contains(b.id[i]);
            assertThat(b.depth[i]).isEqualTo(3 * b.id[i]);
            assertThat(b.alpha[i]).isBetween(0f, 1f);
            beyond |= b.beauty[0][i] > 4.001f || b.beauty[0][i] < -0.001f;
        }
        assertThat(beyond).as("light is not cut off").isTrue();
        assertThatThrownBy(() -> p.bent(new Straighten(new Lens(60, 32, 20, -0.2, 0), 64, 40)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("another lens");
    }

    @Test
    void everyPassCanBeLookedAt() {
        Passes p = random(12, 8);
        for (String n : PassList.shown()) {
            Image im = p.picture(n);
            assertThat(im.width).isEqualTo(12);
            for (float[] plane : im.planes)
                for (float v : plane) assertThat(v).as(n).isFinite();
        }
        // Nothing is near or far where nobody is.
        for (Pass k : List.of(PassList.DEPTH, PassList.NORMAL, PassList.MOTION))
            assertThat(k.picture().apply(new Passes(3, 3)).get(1, 1, 0)).isZero();
    }

    /** Light keeps its sum, what is exact is one of the four, ways are counted in the smaller pixels. */
    @Test
    void halfTheSizeShowsTheSame() {
        Passes p = random(9, 6), h = p.half();
        assertThat(new int[] {h.width, h.height}).containsExactly(4, 3);
        double sum = 0;
        for (int y = 0; y < 6; y++) for (int x = 0; x < 8; x++) sum += p.beauty[1][y * 9 + x];
        double small = 0;
        for (float v : h.beauty[1]) small += v;
        assertThat(4 * small).isCloseTo(sum, within(1e-4));
        assertThat(h.id[1 * 4 + 2]).isEqualTo(p.id[2 * 9 + 4]);
        assertThat(h.motion[0][0])
                .isCloseTo((p.motion[0][0] + p.motion[0][1] + p.motion[0][9] + p.motion[0][10]) / 8, within(1e-6f));
    }

    /** A run of pixels is passed over only where none of them matters. */
    @Test
    void runsMatterWhereAnyOfTheirPixelsDoes() {
        int w = 700;
        Random r = new Random(9);
        for (int k = 0; k < 40; k++) {
            Passes p = new Passes(w, 1);
            float[][] planes = {p.alpha, p.beauty[2], p.shadow[1], p.bounce[0], p.reflection[2]};
            float[] one = planes[k % planes.length];
            int at = r.nextInt(w), from = r.nextInt(w), to = from + 1 + r.nextInt(w - from);
            one[at] += 0.25f;
            boolean any = false, shown = false;
            for (int i = from; i < to; i++) {
                any |= p.matters(i);
                shown |= p.shows(i);
            }
            assertThat(p.mayMatter(from, to)).as("%d in %d to %d", at, from, to).isEqualTo(any);
            assertThat(p.mayShow(from, to)).isEqualTo(shown);
        }
    }
}
