package dasein.shoot;

import dasein.core.cast.ClipUse;
import dasein.core.cast.Performer;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Gain;
import dasein.core.ground.SetRecipe;
import dasein.core.key.Curve;
import dasein.core.math.Vec3;
import dasein.core.render.pass.Passes;
import dasein.core.solve.SolvedCamera;
import java.util.List;

/** What a shot is made wrong by. */
final class Wrong {
    private Wrong() {}

    private static SolvedCamera of(SolvedCamera c, List<SolvedCamera.Frame> frames, List<SolvedCamera.Point> points) {
        return new SolvedCamera(
                c.width(), c.height(), c.rate(), c.kind(), c.rmsPx(), c.parallaxPx(), c.lens(), frames, points);
    }

    /** Marks of a frame lie that far off. */
    static SolvedCamera offBy(SolvedCamera c, int frame, double px) {
        return of(
                c,
                c.frames().stream()
                        .map(f -> f.frame() != frame
                                ? f
                                : new SolvedCamera.Frame(f.frame(), f.pose(), f.focalPx(), px, f.tracks()))
                        .toList(),
                c.points());
    }

    static SolvedCamera without(SolvedCamera c, int frame) {
        return of(c, c.frames().stream().filter(f -> f.frame() != frame).toList(), c.points());
    }

    /** What is seen where it was in a frame, but nearer, so that it stands that high over the ground. */
    static SolvedCamera raised(SolvedCamera c, int frame, double metres) {
        Vec3 eye = c.frame(frame).pose().position();
        return of(
                c,
                c.frames(),
                c.points().stream()
                        .map(p -> {
                            double y = p.position().y(), k = (metres - eye.y()) / (y - eye.y());
                            return k <= 0 || k >= 1
                                    ? p
                                    : new SolvedCamera.Point(
                                            p.id(),
                                            eye.plus(p.position().minus(eye).times(k)),
                                            p.rmsPx(),
                                            p.off());
                        })
                        .toList());
    }

    /** Ten times as high, with the steps of something small. */
    static void large(Made m) {
        Performer p = m.shot.performers().get(0);
        Performer.Stance s = p.stance();
        m.shot = m.shot.with(List.of(
                new Performer(1, p.name(), p.model(), s.x(), s.y(), s.z(), s.headingDeg(), 24, "walk", 0, 1, true)
                        .withClips(List.of(new ClipUse("walk", 0, 0, 0, 0, 2.5, null, 0)))));
    }

    static Passes noisy(Passes p, float noise) {
        Passes out = p.only(p.list());
        out.noise = noise;
        return out;
    }

    static Passes farther(Passes p, float by) {
        Passes out = p.keeping(p.list());
        for (int i = 0; i < out.depth.length; i++) out.depth[i] *= by;
        return out;
    }

    /** Around the performer, whose shadow is longer. */
    static void smallGround(Made m) {
        Performer p = m.shot.performers().get(0);
        m.shot = m.shot.with(
                new SetRecipe(List.of(), 0, 0, 0, List.of(), new SetRecipe.Catcher(p.x(), p.z(), 3, 3), 0, 0.3));
    }

    /** The performer gets brighter from the middle frame to the last, and was darker in the first. */
    static CompRecipe drifting(CompRecipe c, List<Integer> frames, double stops) {
        double at = c.get(Gain.GAIN);
        int first = frames.get(0), last = frames.get(frames.size() - 1);
        return c.with(
                Gain.GAIN.name(),
                new Curve(
                        List.of(
                                new Curve.Key(first, at * Math.pow(2, -stops), Curve.Ease.LINEAR),
                                new Curve.Key(last, at * Math.pow(2, stops), Curve.Ease.LINEAR)),
                        List.of()));
    }
}
