package dasein.app.stage.comp;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Seen;
import dasein.app.store.Plates;
import dasein.core.BadInput;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.match.ColourPair;
import dasein.core.comp.match.HazePick;
import dasein.core.comp.match.TintPick;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Plate;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;

/** Places that a person picks for matches to go by. */
final class Picks {
    private static final int MOST = 60;
    /** A solved point this near, in parts of the picture's width, tells how far away a place is. */
    private static final double NEAR = 0.03;

    private Picks() {}

    static Change apply(Seen s, String action, Form f) {
        CompRecipe r = s.shot().comp();
        if (action.startsWith("pair")) {
            List<ColourPair> all = new ArrayList<>(r.pairs());
            if (action.equals("pair-delete")) all.removeIf(p -> p.id() == f.id());
            else {
                refuseMore(all.size());
                all.add(new ColourPair(
                        all.stream().mapToInt(ColourPair::id).max().orElse(0) + 1,
                        f.frame(),
                        f.number("x", "x", 0, 0, 1e5),
                        f.number("y", "y", 0, 0, 1e5),
                        f.number("ownX", "x", 0, 0, 1e5),
                        f.number("ownY", "y", 0, 0, 1e5)));
            }
            return new Change(
                    s.shot().with(r.withPairs(all)),
                    action.equals("pair-delete") ? "a colour pair deleted" : "a colour pair picked");
        }
        List<HazePick> all = new ArrayList<>(r.hazes());
        String said = "a place in the haze picked";
        if (action.equals("haze-delete")) {
            all.removeIf(p -> p.id() == f.id());
            said = "a place in the haze deleted";
        } else if (action.equals("haze-set")) {
            HazePick old = all.stream()
                    .filter(p -> p.id() == f.id())
                    .findFirst()
                    .orElseThrow(() -> new BadInput("that place is gone"));
            all.set(
                    all.indexOf(old),
                    new HazePick(
                            old.id(),
                            old.frame(),
                            old.x(),
                            old.y(),
                            f.number("metres", "metres", old.metres(), 0.01, 1e6)));
            said = "a place in the haze changed";
        } else {
            refuseMore(all.size());
            double x = f.number("x", "x", 0, 0, 1e5), y = f.number("y", "y", 0, 0, 1e5);
            all.add(new HazePick(
                    all.stream().mapToInt(HazePick::id).max().orElse(0) + 1,
                    f.frame(),
                    x,
                    y,
                    f.has("metres") ? f.number("metres", "metres", 1, 0.01, 1e6) : metres(s, f.frame(), x, y)));
        }
        return new Change(s.shot().with(r.withHazes(all)), said);
    }

    /** The colour of a place of the plate, to be mixed into performers. */
    static Change colour(Seen s, Form f) {
        double x = f.number("x", "x", 0, 0, 1e5), y = f.number("y", "y", 0, 0, 1e5);
        try (Plates.Lent lent = s.desk().plates().need(s.shot())) {
            Plate p = lent.plate();
            CompRecipe now = s.shot().comp(),
                    next = TintPick.of(now, p.frame(Math.max(p.first(), Math.min(p.last(), f.frame()))), x, y);
            return new Change(s.shot().with(next), "a colour of the plate picked");
        }
    }

    private static void refuseMore(int n) {
        if (n >= MOST) throw new BadInput("more than " + MOST + " places are not kept");
    }

    /** By the solved point that is nearest in the picture, else by the ground. */
    private static double metres(Seen s, int frame, double x, double y) {
        SolvedCamera c = s.desk().results().cameraInSet(s.shot());
        if (c == null || !c.has(frame)) return 10;
        View v = c.view(frame, 0, 1);
        Pose eye = v.at(0.5);
        double near = NEAR * v.width(), metres = 0;
        for (SolvedCamera.Point p : c.points()) {
            double[] q = v.project(p.position());
            double d = q == null ? Double.MAX_VALUE : Math.hypot(q[0] - x, q[1] - y);
            if (d >= near) continue;
            near = d;
            metres = p.position().distance(eye.position());
        }
        if (metres > 0) return metres;
        Vec3 d = eye.rotation().rotate(v.lens().ray(x, y)).unit();
        double t = -eye.position().y() / d.y();
        return t > 0 && t < 1e5 ? t : 1000;
    }
}
