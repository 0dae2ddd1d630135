package dasein.core.cast;

import dasein.core.BadInput;
import dasein.core.math.Affine;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Moment;
import dasein.core.model.Texture;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;

/** Everybody's triangles. */
final class PosedCast {
    private final Blocking blocking;
    private final int first;
    private final double rate;
    private final Map<Integer, Material[]> materials = new ConcurrentHashMap<>();

    PosedCast(Blocking blocking, int first, double rate) {
        this.blocking = blocking;
        this.first = first;
        this.rate = rate;
    }

    /** Over one shutter's time, kept since drafts ask for a frame many times. */
    private record Posed(double open, double close, Vec3 sun, List<Mesh> meshes) {}

    private volatile Posed last;

    /** @param sun towards it; null where there is none */
    List<Mesh> meshes(double open, double close, Vec3 sun) {
        Posed k = last;
        if (k != null && k.open == open && k.close == close && Objects.equals(k.sun, sun)) return k.meshes;
        List<Mesh> out = posed(open, close, sun);
        last = new Posed(open, close, sun, out);
        return out;
    }

    private List<Mesh> posed(double open, double close, Vec3 sun) {
        List<Mesh> out = new ArrayList<>();
        blocking.performers().stream()
                .sorted(java.util.Comparator.comparingInt(Performer::id))
                .forEach(p ->
                        out.addAll(p.card() == null ? modelMeshes(p, open, close) : cardMeshes(p, open, close, sun)));
        return out;
    }

    /** What is seen of a card, and what casts its shadow where that is turned. */
    private List<Mesh> cardMeshes(Performer p, double open, double close, Vec3 sun) {
        Card c = p.card();
        Footage f = blocking.around.footage(c.footage());
        double middle = (open + close) / 2;
        Material[] look = PosedMesh.looked(
                new Material[] {c.material(f.shown(c, (middle - first) / rate))}, p.looks(), this::mask);
        Moment a = blocking.at(p, open, 0), b = open == close ? a : blocking.at(p, close, 0);
        double turn = c.shadowTurn(Affine.headingDeg(a.toSet()), sun);
        // By what is the same in all frames: neighbours have the same meshes.
        boolean apart = c.shadow() && !c.added() && (c.shadowTurnDeg() != 0 || c.shadowToSun() && sun != null);
        Mesh.Shows shows =
                new Mesh.Shows(c.seen(), c.shadow() && !apart, c.mirrored(), c.added(), c.shaded() && !c.lit());
        if (c.added()) shows = new Mesh.Shows(c.seen(), false, c.mirrored(), true);
        Mesh m = PosedMesh.of(p.id(), blocking.model(p), look, a, b).with(shows);
        if (!apart) return List.of(m);
        return List.of(
                m,
                PosedMesh.of(p.id(), blocking.model(p), look, turned(a, turn), turned(b, turn))
                        .with(new Mesh.Shows(false, true, false, false)));
    }

    /** About its own upright. */
    private static Moment turned(Moment m, double deg) {
        double[] r = Quat.axisAngle(Vec3.Y, Math.toRadians(deg)).matrix();
        return new Moment(
                Affine.times(m.toSet(), new double[] {r[0], r[1], r[2], 0, r[3], r[4], r[5], 0, r[6], r[7], r[8], 0}),
                m.clip(),
                m.seconds(),
                m.before(),
                m.beforeSeconds(),
                m.share(),
                m.turns());
    }

    /** A picture that masks what glows: the first frame of footage. */
    private Texture mask(String name) {
        Footage f = blocking.around.footage(name);
        if (f == null) throw new BadInput("a picture that masks what glows is not at hand");
        return f.frame(0, Card.Cut.NONE);
    }

    /** Its materials with its looks; of a flock in all its tints. */
    Material[] looks(Performer p) {
        return materials.computeIfAbsent(p.id(), k -> {
            Material[] own = PosedMesh.looked(blocking.model(p).materials(), p.looks(), this::mask);
            return p.flock() == null ? own : Flocking.shades(p.flock(), own);
        });
    }

    private List<Mesh> modelMeshes(Performer p, double open, double close) {
        if (p.flock() != null) return blocking.flock(p).meshes(open, close, looks(p));
        Moment a = blocking.at(p, open, 0), b = open == close ? a : unwound(a, blocking.at(p, close, 0));
        return List.of(PosedMesh.of(p.id(), blocking.model(p), looks(p), a, b));
    }

    /** Over the seam of a loop the clip goes on: the shutter must not see it run back. */
    static Moment unwound(Moment a, Moment b) {
        if (b.clip() == null
                || b.clip() != a.clip()
                || Math.abs(b.seconds() - a.seconds()) <= 0.5 * b.clip().seconds()) return b;
        return new Moment(b.toSet(), b.clip(), a.seconds(), b.before(), b.beforeSeconds(), b.share(), b.turns());
    }
}
