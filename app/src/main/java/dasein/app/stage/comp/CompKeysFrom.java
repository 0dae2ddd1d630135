package dasein.app.stage.comp;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Seen;
import dasein.app.store.ShotMapper;
import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.comp.match.HandShake;
import dasein.core.comp.step.Defocus;
import dasein.core.comp.step.Move;
import dasein.core.key.Curve;
import dasein.core.math.Vec3;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.function.IntToDoubleFunction;
import org.springframework.stereotype.Component;

/** Keys that follow something: focus that is held on a performer, shake as that of another plate. */
@Component
class CompKeysFrom {
    private final CompFrom from;

    CompKeysFrom(CompFrom from) {
        this.from = from;
    }

    static boolean knows(String action) {
        return action.equals("focus-on") || action.equals("shake-of");
    }

    Change change(Seen s, String action, Form f) {
        return action.equals("focus-on")
                ? focus(s, f.whole("performer", "the performer", 0, 0, 1_000_000))
                : shake(s, f);
    }

    private static CompRecipe keyed(CompRecipe r, Param p, int first, int last, IntToDoubleFunction of) {
        List<Curve.Key> keys = new ArrayList<>();
        for (int k = first; k <= last; k++)
            keys.add(new Curve.Key(k, p.held(of.applyAsDouble(k)), Curve.Ease.LINEAR, 0, 0));
        return r.with(p.name(), new Curve(keys, List.of()));
    }

    /** By its middle, in every frame that is solved. */
    private static Change focus(Seen s, int id) {
        Performer p = s.shot().performers().stream()
                .filter(k -> k.id() == id)
                .findFirst()
                .orElseThrow(() -> new BadInput("choose a performer that is to be in focus"));
        SolvedCamera c = s.desk().results().cameraInSet(s.shot());
        Blocking b = s.desk().scenes().blocking(s.shot());
        if (c == null || b == null) throw new BadInput("the camera is not solved yet");
        Vec3 up = Vec3.Y.times(p.heightMetres() / 2);
        CompRecipe r = keyed(s.shot().comp(), Defocus.FOCUS, c.first(), c.last(), k -> c.view(k, 0, 1)
                .at(0.5)
                .position()
                .distance(b.foot(id, k).plus(up)));
        return new Change(s.shot().with(r), "focus held on " + p.name());
    }

    /** Frame by frame; where the other shot is shorter it begins again. */
    private Change shake(Seen s, Form f) {
        ShotMapper.ShotRow other = from.other(s.head(), f.text("from", ""));
        Shot there = s.desk().shots().head(other.id()).shot();
        List<Track> tracks = s.desk().results().kept(there);
        PlateFacts p = s.desk().plates().facts(there);
        if (p == null || tracks == null)
            throw new BadInput(other.name() + " has no tracks yet that could tell its shake");
        int first = ShotSteps.first(there.plate(), p), last = ShotSteps.last(there.plate(), p), n = last - first + 1;
        HandShake h = HandShake.of(
                tracks, first, last, p.width(), p.height(), p.rate().perSecond());
        CompRecipe r = s.shot().comp();
        double x = r.get(Move.ACROSS), y = r.get(Move.DOWN), a = r.get(Move.TURN);
        r = keyed(r, Move.ACROSS, s.first(), s.last(), k -> x + h.across()[(k - s.first()) % n]);
        r = keyed(r, Move.DOWN, s.first(), s.last(), k -> y + h.down()[(k - s.first()) % n]);
        r = keyed(r, Move.TURN, s.first(), s.last(), k -> a + h.turnDeg()[(k - s.first()) % n]);
        return new Change(s.shot().with(r), "shake as in " + other.name());
    }
}
