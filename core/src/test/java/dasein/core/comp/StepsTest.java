package dasein.core.comp;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Shadow;
import dasein.core.comp.step.Softness;
import dasein.core.comp.step.Steps;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** Steps one after another give what one loop gave, and what a step declares is all that is needed to reach it. */
class StepsTest {
    private static final int W = 61, H = 47;

    /** Performers in a part of the frame, added light without alpha, shadow and given light elsewhere, and nothing. */
    private static Passes random(Random r) {
        Passes p = new Passes(W, H);
        int x0 = r.nextInt(W / 2), y0 = r.nextInt(H / 2), w = 1 + r.nextInt(W / 2), h = 1 + r.nextInt(H / 2);
        for (int y = 0; y < H; y++) {
            for (int x = 0; x < W; x++) {
                int i = y * W + x;
                boolean inside = x >= x0 && x < x0 + w && y >= y0 && y < y0 + h;
                p.alpha[i] = inside && r.nextInt(4) > 0 ? r.nextFloat() : 0;
                for (int c = 0; c < 3; c++) {
                    if (inside && r.nextInt(5) > 0) p.beauty[c][i] = 2 * r.nextFloat();
                    p.shadow[c][i] = r.nextInt(3) == 0 ? r.nextFloat() : 1;
                    if (r.nextInt(3) == 0) p.bounce[c][i] = 0.1f * r.nextFloat();
                    if (r.nextInt(6) == 0) p.reflection[c][i] = 0.3f * r.nextFloat();
                }
            }
        }
        return p;
    }

    private static CompRecipe recipe(Random r) {
        CompRecipe out = CompRecipe.BLANK;
        for (Param p : Steps.params()) {
            if (r.nextInt(3) == 0) continue;
            double span = p.accepted().most() - p.accepted().least(), part = Math.pow(r.nextDouble(), 3);
            out = out.with(p, (p.accepted().least() + part * span) / p.shown());
        }
        return r.nextInt(3) == 0 ? out.with(Softness.SOFTNESS, 0) : out.with(Softness.SOFTNESS, 2 * r.nextDouble());
    }

    @Test
    void stepsEqualTheOneLoopBitForBit() {
        Random r = new Random(8);
        int changed = 0;
        for (int n = 0; n < 60; n++) {
            Image plate = new Image(W, H, 3);
            for (float[] plane : plate.planes) for (int i = 0; i < plane.length; i++) plane[i] = r.nextFloat() - 0.02f;
            Passes p = n == 0 ? new Passes(W, H) : random(r);
            CompRecipe recipe = recipe(r);
            double scale = n % 2 == 0 ? 1 : 0.5;
            Encoding e = n % 3 == 0 ? Encoding.SRGB : Encoding.REC709;
            Image was = OneLoop.frame(plate, p, recipe, e, scale, n), is = Comp.frame(plate, p, recipe, e, scale, n);
            for (int c = 0; c < 3; c++)
                assertThat(is.planes[c]).as("run %d, %s", n, recipe).isEqualTo(was.planes[c]);
            if (!java.util.Arrays.equals(is.planes[1], plate.planes[1])) changed++;
        }
        assertThat(changed).isGreaterThan(50);
    }

    @Test
    void everyNumberDoesSomethingAndNamesAreTheirOwn() {
        Set<String> names = new HashSet<>();
        Image plate = new Image(W, H, 3);
        for (float[] plane : plate.planes) java.util.Arrays.fill(plane, 0.3f);
        Passes p = random(new Random(3));
        Image rest = Comp.frame(plate, p, CompRecipe.BLANK, Encoding.REC709, 1, 1);
        for (Param n : Steps.params()) {
            assertThat(names.add(n.name())).as(n.name()).isTrue();
            assertThat(n.rest() * n.shown())
                    .as("%s at rest", n.name())
                    .isBetween(n.sliding().least(), n.sliding().most())
                    .isBetween(n.accepted().least(), n.accepted().most());
            Image other = Comp.frame(
                    plate, p, CompRecipe.BLANK.with(n, n.sliding().most() / n.shown()), Encoding.REC709, 1, 1);
            assertThat(other.planes).as(n.name()).matches(o -> !java.util.Arrays.deepEquals(o, rest.planes));
        }
        assertThat(names).contains(Shadow.DENSITY.name(), Grain.GRAIN.name());
    }

    /** The table of docs/formats.md says what the steps declare. */
    @Test
    void theDocumentationListsEveryNumber() throws IOException {
        String doc = Files.readString(Path.of("docs/formats.md"));
        for (Param p : Steps.params())
            assertThat(doc)
                    .contains(String.format(
                            "| `%s` | %s | %s | %s |",
                            p.name(),
                            plain(p.rest()),
                            plain(p.accepted().least() / p.shown()),
                            plain(p.accepted().most() / p.shown())));
    }

    private static String plain(double v) {
        return v == Math.rint(v) ? Long.toString((long) v) : Double.toString(v);
    }
}
