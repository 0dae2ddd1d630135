package dasein.shoot;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.match.Match;
import dasein.core.comp.match.Matches;
import dasein.core.comp.match.Taken;
import dasein.core.image.Encoding;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import dasein.core.solve.SolvedCamera;
import java.nio.file.Path;
import java.util.List;

/**
 * Whether the strider belongs: the comp beside two films in which it really stood there, moving, which differ by their
 * grain alone and went through the plate's codec. How far the comp is from the one, over how far they are apart.
 */
final class Belonging {
    private Belonging() {}

    /** The films' first frame in the shot, and how many they have. */
    private static final int FIRST = Truth.FILMED_FIRST, FILMED = Truth.FILMED;

    /** Mean absolute difference in codes over that of the two films, by region. */
    record Ratio(double performer, double edge, double shadow, double contact, double worstBlock) {}

    private static final class Sums {
        final double[] comp = new double[4], films = new double[4];
        double worst;

        void add(Image made, Image a, Image b, Passes p) {
            int w = made.width, h = made.height;
            float[] near = Filters.gaussian(p.alpha, w, h, 1);
            double[][] blocks = new double[(w / 32 + 1) * (h / 32 + 1)][3];
            for (int y = 8; y < h - 8; y++)
                for (int x = 8; x < w - 8; x++) {
                    int i = y * w + x, k = region(p, near, i);
                    if (k < 0) continue;
                    double[] block = blocks[y / 32 * (w / 32 + 1) + x / 32];
                    for (int c = 0; c < 3; c++) {
                        double m = code(made, c, i),
                                t = code(a, c, i),
                                d = Math.abs(m - t),
                                e = Math.abs(code(b, c, i) - t);
                        comp[k] += d;
                        films[k] += e;
                        block[0] += d;
                        block[1] += e;
                        block[2]++;
                    }
                }
            for (double[] k : blocks) if (k[2] > 3 * 512) worst = Math.max(worst, k[0] / k[1]);
        }

        private static int region(Passes p, float[] near, int i) {
            if (near[i] > 0.999) return 0;
            if (near[i] > 0.001) return 1;
            return p.shadow[1][i] < 0.97 ? p.ao[i] < 0.9 ? 3 : 2 : -1;
        }

        private static double code(Image im, int c, int i) {
            return Encoding.REC709.encode(im.planes[c][i]);
        }

        Ratio ratio() {
            double[] r = new double[4];
            for (int k = 0; k < 4; k++) r[k] = comp[k] / films[k];
            return new Ratio(r[0], r[1], r[2], r[3], worst);
        }
    }

    /** @param before by default; @param after match all */
    record Measured(Ratio before, Ratio after) {}

    /** @param count frames, spread over the films; @param samples a pixel */
    static Measured of(TrueCamera real, Plate plate, SolvedCamera solved, int count, int samples) throws Exception {
        Shot shot = StriderShot.of(real);
        ShotScene scene = StriderShot.scene(shot, solved);
        try (Plate a = Plate.open(Path.of("shoot/truth/LW_010_strider_a.mp4"), null, null);
                Plate b = Plate.open(Path.of("shoot/truth/LW_010_strider_b.mp4"), null, null)) {
            CompRecipe matched = null;
            Sums before = new Sums(), after = new Sums();
            for (int k = 0; k < count; k++) {
                int at = (int) ((k + 0.5) * FILMED / count), frame = FIRST + at;
                Image source = plate.frame(frame), fa = a.frame(a.first() + at), fb = b.frame(b.first() + at);
                // The films were shot with light that is given back once.
                Passes p =
                        scene.render(shot, frame, source, 1, new Quality(samples, samples, 0, 1, true), Progress.NONE);
                if (matched == null) matched = matched(plate, frame, p);
                before.add(Comp.frame(source, p, CompRecipe.BLANK, plate.encoding(), 1, frame), fa, fb, p);
                after.add(Comp.frame(source, p, matched, plate.encoding(), 1, frame), fa, fb, p);
            }
            return new Measured(before.ratio(), after.ratio());
        }
    }

    private static CompRecipe matched(Plate plate, int frame, Passes p) {
        CompRecipe r = CompRecipe.BLANK;
        for (Match m : Matches.ALL) {
            try {
                Match.Outcome o = m.of(new Taken(
                        plate::frame,
                        plate.first(),
                        plate.last(),
                        plate.encoding(),
                        frame,
                        p,
                        r,
                        List.of(),
                        List.of(),
                        List.of(),
                        List.of(),
                        plate::quantiser,
                        plate.halfColour(),
                        0.5));
                System.out.printf("%s: plate %s, was %s%n", m.key(), o.plate(), o.was());
                r = o.recipe();
            } catch (BadInput | NoSolution e) {
                System.out.printf("%s: %s%n", m.key(), e.getMessage());
            }
        }
        return r;
    }
}
