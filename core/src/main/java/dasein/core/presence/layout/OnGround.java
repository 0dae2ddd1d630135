package dasein.core.presence.layout;

import dasein.core.cast.Performer;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.math.Vec3;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Whether performers stand where there is ground that takes their shadow. */
public final class OnGround implements Check {
    private static final Finding.About ABOUT = new Finding.About(
            "ground", "Ground under everybody", "set", "m outside", 0, "who stands beside the ground casts no shadow");

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        int[] span = s.solved();
        if (span == null || s.blocking() == null) return ABOUT.unseen("The camera is not solved yet.");
        if (s.performers().isEmpty()) return ABOUT.unseen("Nobody is there who could stand on it.");
        if (s.set().pieces().stream().anyMatch(p -> p.does(Piece.Role.SHADOW)))
            return ABOUT.unseen(
                    "Pieces of the set take shadow, too; whether they lie under everybody is not looked at.");
        SetRecipe.Catcher c = s.set().catcher();
        double worst = 0;
        int frame = 0;
        Performer who = null;
        List<Integer> frames = new ArrayList<>();
        for (int f = span[0]; f <= span[1]; f++)
            for (Performer p : s.performers()) {
                if (p.card() != null) continue;
                Vec3 at = s.blocking().foot(p.id(), f);
                double out =
                        Math.max(Math.abs(at.x() - c.x()) - c.width() / 2, Math.abs(at.z() - c.z()) - c.depth() / 2);
                if (out <= 0) continue;
                if (frames.isEmpty() || frames.get(frames.size() - 1) != f) frames.add(f);
                if (out > worst) {
                    worst = out;
                    frame = f;
                    who = p;
                }
            }
        return who == null
                ? ABOUT.good(0, "Everybody stands on ground that takes shadow.")
                : ABOUT.found(
                                worst,
                                String.format(
                                        Locale.ROOT,
                                        "%s stands %.1f m beside the ground that takes shadow; make it larger.",
                                        who.name(),
                                        worst))
                        .in(frames, frame)
                        .at(s.seen(frame, s.blocking().foot(who.id(), frame), 60));
    }
}
