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
import dasein.core.light.Clues;
import dasein.core.plate.Plate;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.nio.file.Path;
import java.util.List;

/**
 * Whether the strider belongs: the comp beside two films in which it really stood there, moving, which differ by their
 * grain alone and went through the plate's codec. How far the comp is from the one, over how far they are apart.
 */
final class Belonging {
    private Belonging() {}

    private static final Path TRUTH = Path.of("shoot/truth"), DEMO = Path.of("demo");

    /**
     * Mean absolute difference in codes over that of the two films, by region.
     *
     * @param ground where nothing is put in: what is left there is the measure's own, as of two takes of one place
     */
    record Ratio(double performer, double edge, double shadow, double contact, double ground, double worstBlock) {}

    private static final class Sums {
        final double[] comp = new double[5], films = new double[5];
        double worst;

        void add(Image made, Image a, Image b, Passes p) {
            int w = made.width, h = made.height;
            float[] near = Filters.gaussian(p.alpha, w, h, 1);
            double[][] blocks = new double[(w / 32 + 1) * (h / 32 + 1)][3];
            for (int y = 8; y < h - 8; y++)
                for (int x = 8; x < w - 8; x++) {
                    int i = y * w + x, k = region(p, near, i, h);
                    if (k < 0) continue;
                    double[] block = blocks[y / 32 * (w / 32 + 1) + x / 32];
                    for (int c = 0; c < 3; c++) {
                        double m = code(made, c, i),
                                t = code(a, c, i),
                                d = Math.abs(m - t),
                                e = Math.abs(code(b, c, i) - t);
                        comp[k] += d;
                        films[k] += e;
                        if (k == GROUND) continue;
                        block[0] += d;
                        block[1] += e;
                        block[2]++;
                    }
                }
            for (double[] k : blocks) if (k[2] > 3 * 512) worst = Math.max(worst, k[0] / k[1]);
        }

        private static final int GROUND = 4;

        private static int region(Passes p, float[] near, int i, int height) {
            if (near[i] > 0.999) return 0;
            if (near[i] > 0.001) return 1;
            if (p.shadow[1][i] < 0.97) return p.ao[i] < 0.9 ? 3 : 2;
            return p.shadow[1][i] == 1 && i / p.width > height * 0.62 ? GROUND : -1;
        }

        private static double code(Image im, int c, int i) {
            // As it is written: the films end at white.
            return Encoding.REC709.encode(Math.min(1, im.planes[c][i]));
        }

        Ratio ratio() {
            double[] r = new double[5];
            for (int k = 0; k < 5; k++) r[k] = comp[k] / films[k];
            return new Ratio(r[0], r[1], r[2], r[3], r[4], worst);
        }
    }

    /** @param before by default; @param after match all */
    record Measured(Ratio before, Ratio after) {}

    /** @param solved laid where the truth is; @param count frames, spread over the films; @param samples a pixel */
    static Measured of(Film film, SolvedCamera solved, int count, int samples) throws Exception {
        Shot shot = FilmedShot.of(film);
        ShotScene scene = FilmedShot.scene(film, solved);
        try (Plate plate = Plate.open(film.plate(TRUTH, DEMO), null, null);
                Plate a = Plate.open(film.take(TRUTH, 1), null, null);
                Plate b = Plate.open(film.take(TRUTH, 2), null, null)) {
            // A plate that was shot anew has only the film's frames.
            int off = film.ownPlate() ? plate.first() - film.first() : 0;
            CompRecipe matched = null;
            Sums before = new Sums(), after = new Sums();
            for (int k = 0; k < count; k++) {
                int at = (int) ((k + 0.5) * film.frames() / count), frame = film.first() + at;
                Image source = plate.frame(frame + off), fa = a.frame(a.first() + at), fb = b.frame(b.first() + at);
                Passes p = scene.render(
                        shot,
                        frame,
                        source,
                        1,
                        new Quality(samples, samples, 0, shot.passes().bounces(), true),
                        Progress.NONE);
                if (matched == null) matched = matched(plate, off, frame, p);
                before.add(Comp.frame(source, p, CompRecipe.BLANK, plate.encoding(), 1, frame), fa, fb, p);
                after.add(Comp.frame(source, p, matched, plate.encoding(), 1, frame), fa, fb, p);
            }
            return new Measured(before.ratio(), after.ratio());
        }
    }

    /** Match all, in one frame. @param off from frames of the shot to those of the plate */
    static CompRecipe matched(Plate plate, int off, int frame, Passes p) {
        return matched(plate, off, frame, p, Clues.NONE, List.of());
    }

    /** @param clues real shadows that were marked; @param tracks by which the plate's exposure is followed */
    static CompRecipe matched(Plate plate, int off, int frame, Passes p, Clues clues, List<Track> tracks) {
        CompRecipe r = CompRecipe.BLANK;
        for (Match m : Matches.ALL) {
            if (!m.ofAll()) continue;
            try {
                Match.Outcome o = m.of(new Taken(
                        f -> plate.frame(f + off),
                        plate.first() - off,
                        plate.last() - off,
                        plate.encoding(),
                        frame,
                        p,
                        r,
                        clues,
                        tracks,
                        List.of(),
                        List.of(),
                        f -> plate.quantiser(f + off),
                        plate.halfColour(),
                        0.5,
                        f -> List.of()));
                System.out.printf("%s: plate %s, was %s%n", m.key(), o.plate(), o.was());
                r = o.recipe();
                for (var e : o.curves().entrySet()) r = r.with(e.getKey(), e.getValue());
            } catch (BadInput | NoSolution e) {
                System.out.printf("%s: %s%n", m.key(), e.getMessage());
            }
        }
        return r;
    }
}
