package dasein.core.shot;

import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.cast.Tie;
import dasein.core.comp.Apart;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.front.Front;
import dasein.core.comp.front.Matte;
import dasein.core.comp.repair.Mender;
import dasein.core.comp.repair.Repair;
import dasein.core.comp.repair.Ways;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Projective;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.render.pass.Passes;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.DrawnMask;
import dasein.core.track.MaskShapes;
import dasein.core.track.Track;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.TreeMap;
import java.util.function.IntFunction;
import java.util.function.Supplier;
import java.util.stream.Collectors;

/** A shot's plate as the comp is to have it: what is covered, and what of it stands in front. */
public final class Mending {
    /**
     * What it is made from.
     *
     * @param plate frames at full size; {@code first} to {@code last} of them may be asked for
     * @param ways of the masks that marks and surfaces carry, as far as they have been followed
     * @param camera in the set, or null while it is not solved; @param moved poses of moving things in the set
     * @param blocking where performers are; may give null
     * @param tracks as kept
     */
    public record From(
            IntFunction<Image> plate,
            int first,
            int last,
            Encoding encoding,
            Map<Integer, ? extends Map<Integer, double[]>> ways,
            SolvedCamera camera,
            Map<Integer, NavigableMap<Integer, Pose>> moved,
            Supplier<Blocking> blocking,
            List<Track> tracks) {}

    private final Shot shot;
    private final From from;
    private final MaskShapes shapes;
    private final Mender mender;
    private final Map<Integer, Map<Integer, double[]>> ways = new HashMap<>();

    public Mending(Shot shot, From from) {
        this.shot = shot;
        this.from = from;
        ways.putAll(from.ways());
        for (DrawnMask m : shot.tracks().masks()) if (m.carry().bySolve()) ways.put(m.id(), bySolve(m));
        shapes = new MaskShapes(shot.tracks().masks(), ways, shot.shutter());
        mender = new Mender(from.plate(), from.first(), from.last(), shapes, from.tracks(), this::moves);
    }

    public MaskShapes shapes() {
        return shapes;
    }

    private View view(int frame) {
        SolvedCamera c = from.camera();
        return c != null && c.has(frame) ? c.view(frame, shot.shutter(), 1) : null;
    }

    private TreeMap<Integer, double[]> bySolve(DrawnMask m) {
        if (from.camera() == null) return new TreeMap<>();
        IntFunction<Pose> carrier =
                switch (m.carry()) {
                    case THING ->
                        f -> {
                            NavigableMap<Integer, Pose> way =
                                    from.moved().get(m.marks().get(0));
                            return way == null ? null : way.get(f);
                        };
                    case PERFORMER -> {
                        Blocking b = from.blocking().get();
                        boolean there = b != null
                                && shot.performers().stream()
                                        .anyMatch(p -> p.id() == m.marks().get(0));
                        Tie tie = new Tie(Tie.To.PERFORMER, m.marks().get(0), "", true);
                        yield f -> there ? b.carrier(tie, m.name(), f) : null;
                    }
                    default -> f -> Pose.IDENTITY;
                };
        return MaskCarry.way(m, this::view, carrier, from.first(), from.last());
    }

    /** How the picture moves behind a repair; null where that is not known. */
    private Ways moves(int by) {
        if (by == Repair.GROUND) return from.camera() == null ? null : this::onGround;
        Map<Integer, double[]> way = ways.get(by);
        if (way == null || way.isEmpty()) return null;
        Map<Long, Projective> between = new java.util.concurrent.ConcurrentHashMap<>();
        return (f, x, y, to, out) -> {
            double[] a = way.get(f), b = way.get(to);
            if (a == null || b == null) return false;
            Projective h = between.computeIfAbsent((long) f << 32 ^ to, k -> {
                double[] back = new Projective(a).inverse().h(), all = new double[9];
                for (int i = 0; i < 9; i++)
                    for (int n = 0; n < 3; n++) all[i] += b[i / 3 * 3 + n] * back[3 * n + i % 3];
                return new Projective(all);
            });
            double[] q = h.at(x, y);
            out[0] = q[0];
            out[1] = q[1];
            return true;
        };
    }

    /** By the solved ground: the plane in which the set's height is nought. */
    private boolean onGround(int f, double x, double y, int to, double[] out) {
        View a = view(f), b = view(to);
        if (a == null || b == null) return false;
        Pose eye = a.at(0.5);
        Vec3 d = eye.rotation().rotate(a.lens().ray(x, y));
        double t = -eye.position().y() / d.y();
        if (!(t > 0) || !Double.isFinite(t)) return false;
        double[] q = b.project(eye.position().plus(d.times(t)));
        if (q == null) return false;
        out[0] = q[0];
        out[1] = q[1];
        return true;
    }

    /** A frame at full size as it is laid under everything. */
    public Mender.Mended frame(int frame) {
        return mender.frame(
                frame, shot.comp().repairs().stream().filter(r -> !r.clean()).toList());
    }

    /** The same for what is projected onto the set. */
    public Image projected(int frame) {
        return mender.frame(
                        frame,
                        shot.comp().repairs().stream()
                                .filter(r -> r.feeds() && !r.clean())
                                .toList())
                .image();
    }

    /**
     * What of a frame stands in front.
     *
     * @param plate at the size wanted; @param scale pixels of it for one of the full-size plate
     */
    public Matte matte(Image plate, int frame, double scale) {
        List<Front> fronts = shot.comp().fronts();
        if (fronts.isEmpty()) return Matte.NONE;
        Supplier<Image> clean = () -> {
            if (shot.comp().repairs().stream().noneMatch(r -> r.on() && r.clean())) return null;
            Image im = mender.frame(frame, shot.comp().repairs()).image();
            return im.width == plate.width ? im : im.resize(plate.width, plate.height);
        };
        return Matte.of(fronts, plate, from.encoding(), clean, shapes, frame, scale);
    }

    /**
     * Where numbers of their own count.
     *
     * @param r the comp as it is in this frame; @param scale as above; @param models of the set's pieces, by their
     *     names
     */
    public Apart.Found apart(CompRecipe r, Passes p, int frame, double scale, Map<String, Model> models) {
        return Apart.of(
                r,
                p,
                shapes,
                shot.performers().stream().collect(Collectors.toMap(Performer::id, Performer::name, (a, b) -> a)),
                frame,
                scale,
                piece -> piece(piece, frame, p, models));
    }

    private float[] piece(int piece, int frame, Passes p, Map<String, Model> models) {
        SolvedCamera c = from.camera();
        if (c == null || !c.has(frame)) return null;
        SetPieces set =
                new SetPieces(shot.set(), c, models, from.moved(), c.rate().perSecond());
        double part = (double) p.width / c.view(frame, shot.shutter(), 1).width();
        return PieceCover.of(set.there(frame), piece, c.view(frame, shot.shutter(), part), p.width, p.height);
    }
}
