package dasein.core.cast;

import dasein.core.BadInput;
import dasein.core.math.Affine;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.model.Moment;
import dasein.core.model.Posing;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Where every performer is and what it does at any (fractional) frame. A pure function of what was decided; what it
 * works out on the way is kept.
 */
public final class Blocking {
    /** A flock has at most so many in its different poses. */
    private static final long MOST_TRIANGLES = 8_000_000;

    private static final int DEEPEST = 8;

    private final Map<Integer, Performer> performers = new HashMap<>();
    private final Map<String, Model> models;
    private final int first;
    private final double rate;
    final Around around;
    private final Map<String, Footing> footings = new ConcurrentHashMap<>();
    private final Map<Integer, Route.Walked> routes = new ConcurrentHashMap<>();
    private final Map<Integer, Model> cards = new ConcurrentHashMap<>();
    private final Planting planting = new Planting(this);
    private final Stepping stepping = new Stepping(this, planting);
    private final Rolling rolling;
    private final Map<Integer, Flocking> flocks = new ConcurrentHashMap<>();
    private final PosedCast posed;

    /** What performers stand on and go along with. */
    public interface Around {
        /** Height of the highest thing that was really there under a place, not above {@code under}. */
        double ground(double x, double z, double under);

        /** Whether something that stands still lies between the eye and a place. */
        default boolean hides(Vec3 eye, Vec3 at) {
            return false;
        }

        /** Pose in the set of a thing that moves; null while it is not solved there. */
        Pose moved(int object, double frame);

        /** Where the camera is. */
        default Vec3 eye(double frame) {
            return Vec3.ZERO;
        }

        /** Footage of a card by its name; null where there is none at hand. */
        default Footage footage(String name) {
            return null;
        }

        /** Where a track meets the ground; null where it is not seen or above the horizon. */
        Vec3 onGround(int track, double frame);

        /** Flat ground and nothing else. */
        Around NOTHING = new Around() {
            @Override
            public double ground(double x, double z, double under) {
                return 0;
            }

            @Override
            public Pose moved(int object, double frame) {
                return null;
            }

            @Override
            public Vec3 onGround(int track, double frame) {
                return null;
            }
        };
    }

    /**
     * @param models by the names performers use; @param first frame in which clips begin; @param rate frames a second
     * @throws BadInput when a performer lacks its model or a clip
     */
    public Blocking(List<Performer> performers, Map<String, Model> models, int first, double rate, Around around) {
        this.models = models;
        this.first = first;
        rolling = new Rolling(this, first);
        this.rate = rate;
        this.around = around;
        posed = new PosedCast(this, first, rate);
        for (Performer p : performers) {
            Model m = p.card() == null ? models.get(p.model()) : card(p);
            if (m == null) throw new BadInput(p.name() + " has no model " + p.model());
            for (ClipUse c : p.clips())
                if (m.clip(c.clip()) == null)
                    throw new BadInput(p.name() + " has no clip " + c.clip() + "; its model has "
                            + m.clips().stream().map(Model.Clip::name).toList());
            if (!(p.heightMetres() > 0)) throw new BadInput(p.name() + " must be higher than zero");
            this.performers.put(p.id(), p);
        }
    }

    /** @throws BadInput when a flock has more triangles in its different poses than can be held */
    public static void refuseTooMany(Performer p, Model model) {
        boolean steps = p.route() != null && p.route().steps();
        long
                poses =
                        p.clips().isEmpty()
                                ? 1
                                : steps
                                        ? p.flock().count()
                                        : Math.min(Flocking.WAYS, p.flock().count()),
                all = poses * model.triangles();
        if (all > MOST_TRIANGLES)
            throw new BadInput(p.name() + " would have " + all / 1000 + " thousand triangles in " + poses
                    + " poses; at most " + MOST_TRIANGLES / 1000 + " thousand can be held. "
                    + (steps ? "Make fewer, do not match steps, or take a simpler model" : "Take a simpler model"));
    }

    /** One performer on flat ground whose clips begin in frame 1. */
    public static Blocking alone(Performer p, Model m, double rate) {
        return new Blocking(List.of(p), Map.of(p.model(), m), 1, rate, Around.NOTHING);
    }

    public Model model(Performer p) {
        return p.card() == null ? models.get(p.model()) : cards.get(p.id());
    }

    private Model card(Performer p) {
        Footage f = around.footage(p.card().footage());
        if (f == null) throw new BadInput(p.name() + " has no footage");
        return cards.computeIfAbsent(
                p.id(), k -> Card.model(f.aspect(), p.card().bendDeg()));
    }

    Footing footing(Performer p, String clip) {
        return footings.computeIfAbsent(
                (p.card() == null ? p.model() : "card " + p.id()) + "\0" + clip + rolling(p),
                k -> Footing.of(model(p), clip.isEmpty() ? null : model(p).clip(clip), rolling(p)));
    }

    List<Wheel> wheels(Performer p) {
        return rolling.wheels(p);
    }

    /** Nodes that turn as wheels do. */
    private java.util.Set<Integer> rolling(Performer p) {
        java.util.Set<Integer> out = new java.util.TreeSet<>();
        for (Wheel w : rolling.wheels(p)) if (w.turn().rolls()) out.add(w.node());
        return out;
    }

    double value(Performer p, String channel, double rest, double frame) {
        return p.curve(channel).at(frame, rest, rate);
    }

    Route.Walked walked(Performer p) {
        return routes.computeIfAbsent(p.id(), k -> p.route().walked());
    }

    /** Whether something that was really there lies between the eye and a place. */
    public boolean hides(Vec3 eye, Vec3 at) {
        return around.hides(eye, at);
    }

    /** Height of what lies under a place, looked for from so far above it. */
    double ground(Vec3 at, double above) {
        return around.ground(at.x(), at.z(), at.y() + above);
    }

    java.util.Collection<Performer> performers() {
        return performers.values();
    }

    /** Triangles that are posed for a frame; those of a flock once for each of its looks. */
    public long triangles() {
        return performers.values().stream().mapToLong(p -> model(p).triangles()).sum();
    }

    /** A performer's own place and heading. */
    Pose pose(Performer p, double frame) {
        Place q = place(p, frame, 0);
        return new Pose(q.turn, q.at);
    }

    /** Metres gone along the route by a frame. */
    double way(Performer p, double frame) {
        Route r = p.route();
        return value(
                p,
                "way",
                Math.max(0, Math.min(walked(p).length(), (frame - Math.max(first, r.start())) / rate * r.speed())),
                frame);
    }

    /** Size factor from the model to the set. */
    double scale(Performer p, double frame) {
        return Math.max(1e-6, value(p, "height", p.heightMetres(), frame))
                / footing(p, "").height();
    }

    public Moment at(int performer, double frame) {
        Performer p = performers.get(performer);
        if (p == null) throw new BadInput("performer " + performer + " is not in the shot");
        return at(p, frame, 0);
    }

    Moment at(Performer p, double frame, int depth) {
        Place place = place(p, frame, depth);
        double scale = scale(p, frame);
        Moment m = playing(p, frame, scale);
        Moment out = placed(place.at, place.turn, scale, lowest(p, m), m, rolling.turns(p, frame, scale));
        return p.route() != null && p.route().steps() && p.curve("clip").empty() && m.clip() != null
                ? m.before() == null
                        ? planting.planted(p, place.turn, frame, depth, scale, out)
                        : stepping.stepped(p, frame, depth, scale, out)
                : out;
    }

    /** Height in model space of what stands at the performer's height. */
    double lowest(Performer p, Moment m) {
        String now = m.clip() == null ? "" : m.clip().name();
        return switch (p.feet()) {
            case REST -> footing(p, "").lowest();
            case CLIP -> {
                double low = footing(p, now).lowest();
                yield m.before() == null
                        ? low
                        : low * m.share() + footing(p, m.before().name()).lowest() * (1 - m.share());
            }
            case ALWAYS -> lowest(footing(p, now), m);
        };
    }

    /** What is played, at a place: the model's point above its origin by {@code lowest} comes there. */
    Moment placed(Vec3 at, Quat turn, double scale, double lowest, Moment m, Map<Integer, Quat> turns) {
        double[] r = turn.matrix(), to = new double[12];
        for (int i = 0; i < 3; i++) {
            for (int k = 0; k < 3; k++) to[4 * i + k] = scale * r[3 * i + k];
            to[4 * i + 3] = at.array()[i] - to[4 * i + 1] * lowest;
        }
        return new Moment(to, m.clip(), m.seconds(), m.before(), m.beforeSeconds(), m.share(), turns);
    }

    private static double lowest(Footing f, Moment m) {
        float[] feet = f.places(new Moment(
                Affine.identity(), m.clip(), m.seconds(), m.before(), m.beforeSeconds(), m.share(), m.turns()));
        double low = Double.MAX_VALUE;
        for (int i = 1; i < feet.length; i += 3) low = Math.min(low, feet[i]);
        return feet.length == 0 ? f.lowest() : low;
    }

    /** Where a performer stands in the set. */
    public Vec3 foot(int performer, double frame) {
        return place(performers.get(performer), frame, 0).at;
    }

    /** Pose of what a performer is tied to. */
    public Pose carrier(int performer, double frame) {
        return carrier(performers.get(performer), performers.get(performer).tie(), frame, 0);
    }

    /** A performer's foot and turn in the set. */
    record Place(Vec3 at, Quat turn) {}

    Place place(Performer p, double frame, int depth) {
        return place(p, frame, depth, p.route() == null ? 0 : way(p, frame));
    }

    /** @param way metres gone along its route, if it has one */
    Place place(Performer p, double frame, int depth, double way) {
        if (depth > DEEPEST)
            throw new BadInput(p.name() + " is tied to itself over others, or over more than " + DEEPEST + " of them");
        double x = value(p, "x", p.x(), frame),
                y = value(p, "y", p.y(), frame),
                z = value(p, "z", p.z(), frame),
                heading = Math.toRadians(value(p, "heading", p.headingDeg(), frame));
        if (p.route() != null) {
            // Wheels that cannot steer go along the route; what is before them swings out.
            double led = led(p, frame, heading);
            double[] on = walked(p).at(way + led);
            // Offsets lie across and along the way.
            z -= led;
            double s = Math.sin(on[2]), c = Math.cos(on[2]), ox = x * c + z * s, oz = -x * s + z * c;
            x = on[0] + ox;
            z = on[1] + oz;
            heading += on[2];
        }
        Quat turn = Quat.axisAngle(Vec3.Y, heading)
                .times(Quat.axisAngle(Vec3.X, -Math.toRadians(value(p, "pitch", p.pitchDeg(), frame))))
                .times(Quat.axisAngle(Vec3.Z, Math.toRadians(value(p, "roll", p.rollDeg(), frame))));
        Vec3 at = new Vec3(x, y, z);
        if (p.card() != null && p.card().faces()) {
            // Its own heading is added: it may look past the camera.
            Vec3 to = around.eye(frame).minus(at);
            if (Math.hypot(to.x(), to.z()) > 1e-6)
                turn = Quat.axisAngle(Vec3.Y, Math.atan2(to.x(), to.z())).times(turn);
        }
        if (p.tie() != null) {
            Pose with = carrier(p, p.tie(), frame, depth);
            at = with.toWorld(at);
            if (p.tie().turns()) turn = with.rotation().times(turn).unit();
        }
        if (p.onGround()) {
            // From a step above its feet down, so that what hangs over it does not lift it.
            double under = at.y() - y + Math.max(0.5, 0.5 * p.heightMetres());
            at = new Vec3(at.x(), around.ground(at.x(), at.z(), under) + y, at.z());
            List<Wheel> wheels = rolling.wheels(p);
            if (!wheels.isEmpty()) return Tilt.of(around, wheels, new Place(at, turn), scale(p, frame), y, under);
        }
        return new Place(at, turn);
    }

    /** How far before its point the axle is that goes along its route, metres. */
    private double led(Performer p, double frame, double heading) {
        Vec3 fixed = Wheel.fixed(rolling.wheels(p));
        if (fixed == null) return 0;
        return scale(p, frame) * (fixed.z() * Math.cos(heading) - fixed.x() * Math.sin(heading));
    }

    /** Pose in the set of what something goes along with. @param who it is called in sentences */
    public Pose carrier(Tie tie, String who, double frame) {
        return carrier(who, tie, frame, 0);
    }

    private Pose carrier(Performer p, Tie tie, double frame, int depth) {
        return carrier(p.name(), tie, frame, depth);
    }

    private Pose carrier(String who, Tie tie, double frame, int depth) {
        return switch (tie.to()) {
            case OBJECT -> {
                Pose pose = around.moved(tie.id(), frame);
                if (pose == null)
                    throw new BadInput(
                            who + " goes along with a thing that is not solved in frame " + Math.round(frame));
                yield pose;
            }
            case TRACK -> {
                Vec3 at = around.onGround(tie.id(), frame);
                if (at == null)
                    throw new BadInput(who + " goes along with track " + tie.id()
                            + ", which does not meet the ground in frame " + Math.round(frame));
                yield new Pose(Quat.IDENTITY, at);
            }
            case PERFORMER -> {
                Performer other = performers.get(tie.id());
                if (other == null) throw new BadInput(who + " goes along with a performer that is no longer there");
                Moment m = at(other, frame, depth + 1);
                double[] to = m.toSet();
                if (tie.node().isEmpty()) {
                    Place foot = place(other, frame, depth + 1);
                    yield new Pose(foot.turn, foot.at);
                }
                Model model = model(other);
                int node = node(model, tie.node());
                if (node < 0)
                    throw new BadInput(
                            other.name() + " has no part " + tie.node() + " for " + who + " to go along with");
                Posing posing = new Posing(model);
                posing.at(m);
                to = Affine.times(to, posing.node(node));
                yield new Pose(Affine.rotation(to), new Vec3(to[3], to[7], to[11]));
            }
        };
    }

    static int node(Model m, String name) {
        for (int i = 0; i < m.nodes().size(); i++) if (m.nodes().get(i).name().equals(name)) return i;
        return -1;
    }

    /** What it plays; the map to the set is not in it yet. */
    Moment playing(Performer p, double frame, double scale) {
        List<ClipUse> clips = p.clips();
        if (clips.isEmpty()) return Moment.still(null, null, 0);
        int k = use(p, frame);
        ClipUse now = clips.get(k);
        Model.Clip clip = rolling.without(p, model(p).clip(now.clip()));
        double seconds = seconds(p, now, frame, scale, clip);
        if (k == 0 || now.blend() <= 0 || frame >= now.at() + now.blend()) return Moment.still(null, clip, seconds);
        ClipUse last = clips.get(k - 1);
        Model.Clip before = rolling.without(p, model(p).clip(last.clip()));
        double u = (frame - now.at()) / now.blend();
        return new Moment(
                null, clip, seconds, before, seconds(p, last, frame, scale, before), u * u * (3 - 2 * u), Map.of());
    }

    /** Which of its clips it plays. */
    static int use(Performer p, double frame) {
        int k = 0;
        while (k + 1 < p.clips().size() && p.clips().get(k + 1).at() <= frame) k++;
        return k;
    }

    double seconds(Performer p, ClipUse use, double frame, double scale, Model.Clip clip) {
        if (!p.curve("clip").empty()) return Math.max(0, Math.min(clip.seconds(), value(p, "clip", 0, frame)));
        double since = (frame - (use.at() == 0 ? first : use.at())) / rate;
        if (p.route() != null && p.route().steps()) {
            double pace = footing(p, use.clip()).stepSpeed() * scale;
            // A clip that takes no steps plays as it is.
            if (Math.abs(pace) > 1e-6) since = (way(p, frame) - (use.at() == 0 ? 0 : way(p, use.at()))) / pace;
        }
        return use.time(since, clip.seconds());
    }

    /** Everybody's triangles from one (fractional) frame to another: the same ones while the same is asked. */
    public List<Mesh> meshes(double open, double close) {
        return meshes(open, close, null);
    }

    /** @param sun towards it, which shadows of cards may turn to; null where there is none */
    public List<Mesh> meshes(double open, double close, Vec3 sun) {
        return posed.meshes(open, close, sun);
    }

    /** Its materials with its looks; of a flock in all its tints. */
    public Material[] looks(Performer p) {
        return posed.looks(p);
    }

    /** How many copies of a flock find room. */
    public int found(int performer) {
        return flock(performers.get(performer)).found();
    }

    Flocking flock(Performer p) {
        return flocks.computeIfAbsent(p.id(), k -> new Flocking(p, model(p), this, first, rate));
    }

    /**
     * A copy of a flock at one moment. @param toSet affine 3x4; @param seconds into its clip; @param share of its
     * brightness, about 1
     */
    public record Copy(double[] toSet, double seconds, double share) {}

    /** All copies of a performer that is a flock. */
    public List<Copy> copies(int performer, double frame) {
        return flock(performers.get(performer)).at(frame).stream()
                .map(c -> new Copy(c.moment().toSet(), c.moment().seconds(), c.share()))
                .toList();
    }

    public Slide slide(int performer, int last) {
        return Slide.of(this, performers.get(performer), first, last);
    }
}
