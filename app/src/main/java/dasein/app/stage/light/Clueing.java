package dasein.app.stage.light;

import dasein.app.stage.Desk;
import dasein.app.stage.Seen;
import dasein.app.store.Plates;
import dasein.core.BadInput;
import dasein.core.ground.Piece;
import dasein.core.light.Clues;
import dasein.core.light.LightRig;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.ball.Circle;
import dasein.core.light.level.GreyBall;
import dasein.core.light.level.GreyProof;
import dasein.core.light.level.PlateMatch;
import dasein.core.light.level.Swatch;
import dasein.core.light.sun.OutlineSun;
import dasein.core.light.sun.Penumbra;
import dasein.core.light.sun.ShadowSun;
import dasein.core.math.Vec3;
import dasein.core.shot.Prints;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import org.springframework.stereotype.Component;

/** What the marks in the plate say of its light. */
@Component
class Clueing {
    private static final int KEPT = 60;

    private final Desk desk;
    /** Reading the plate takes a while; by plate and marks. */
    private final Map<String, Object> read = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Object> e) {
            return size() > KEPT;
        }
    };

    Clueing(Desk desk) {
        this.desk = desk;
    }

    /** @throws BadInput while it is not solved */
    SolvedCamera camera(Seen s) {
        SolvedCamera c = desk.results().cameraInSet(s.shot());
        if (c == null) throw new BadInput("the camera is not solved yet: a shadow needs the ground it lies on");
        return c;
    }

    ShadowSun.Result sun(Seen s) {
        return ShadowSun.of(camera(s), s.shot().light().clues().lines());
    }

    PlateMatch.Ground ground(Seen s) {
        Clues c = s.shot().light().clues();
        if (c.patches().isEmpty()) return new PlateMatch.Ground(null, null);
        return once(Prints.plate(s.shot()) + c.patches(), () -> {
            try (Plates.Lent lent = desk.plates().need(s.shot())) {
                return PlateMatch.ground(c, f -> lent.plate().frame(f));
            }
        });
    }

    @SuppressWarnings("unchecked")
    private <T> T once(String key, Supplier<T> look) {
        synchronized (read) {
            Object known = read.get(key);
            if (known != null) return (T) known;
        }
        T now = look.get();
        synchronized (read) {
            read.put(key, now);
        }
        return now;
    }

    /** How high what casts that place of a shadow stands over it, by the shadow drawn along it; else 1 m. */
    double height(Seen s, int frame, double x, double y) {
        SolvedCamera c = camera(s);
        if (!c.has(frame)) return 1;
        Vec3 at = ShadowSun.ground(c, frame, new double[] {x, y}, 0, "the edge");
        return s.shot().light().clues().lines().stream()
                .mapToDouble(l -> Math.rint(1000 * ShadowSun.heightAt(c, l, at)) / 1000)
                .filter(h -> h > 0.01)
                .findFirst()
                .orElse(1);
    }

    /** The sun's size by one edge of a shadow, degrees. */
    double edge(Seen s, Clues.Edge e) {
        SolvedCamera c = camera(s);
        Vec3 towards = towards(s, e.frame());
        return once(Prints.plate(s.shot()) + c.frame(e.frame()) + e + towards, () -> {
            try (Plates.Lent lent = desk.plates().need(s.shot())) {
                return Math.toDegrees(Penumbra.sunAngle(lent.plate().frame(e.frame()), c, e.stroke(), towards));
            }
        });
    }

    /** The sun by the outline of the shadow that a piece of the set throws. */
    ShadowSun.Result outline(Seen s, int piece) {
        SolvedCamera c = camera(s);
        List<Clues.Edge> of = s.shot().light().clues().edges().stream()
                .filter(e -> e.piece() == piece)
                .toList();
        if (of.isEmpty()) throw new BadInput("no edge of that piece's shadow is marked");
        int frame = of.get(0).frame();
        if (of.stream().anyMatch(e -> e.frame() != frame)
                && s.shot().set().pieces().stream().anyMatch(p -> p.id() == piece && (p.moves() || p.follows() != 0)))
            throw new BadInput("that piece moves: mark the edges of its shadow in one frame");
        return once(Prints.scene(s.shot()) + of, () -> {
            List<OutlineSun.Stroke> strokes = new ArrayList<>();
            try (Plates.Lent lent = desk.plates().need(s.shot())) {
                for (Clues.Edge e : of) {
                    if (!c.has(e.frame())) throw new BadInput("the camera of frame " + e.frame() + " is not known");
                    strokes.add(OutlineSun.stroke(e.name(), lent.plate().frame(e.frame()), c, e.stroke()));
                }
            }
            return OutlineSun.of(strokes, desk.scenes().of(s.shot()).caster(piece, frame));
        });
    }

    /** Pieces whose shadow's edge is marked at two places or more. */
    List<Piece> casters(Seen s) {
        List<Clues.Edge> edges = s.shot().light().clues().edges();
        return s.shot().set().pieces().stream()
                .filter(p -> edges.stream().filter(e -> e.piece() == p.id()).count() > 1)
                .toList();
    }

    /** The same by all of them: the median. */
    double sunSize(Seen s) {
        List<Double> all = s.shot().light().clues().edges().stream()
                .map(e -> edge(s, e))
                .sorted()
                .toList();
        if (all.isEmpty()) throw new BadInput("no shadow's edge was marked in the plate");
        return all.get(all.size() / 2);
    }

    /** Where the real shadows say the sun stood, else where it stands now. */
    private Vec3 towards(Seen s, int frame) {
        if (!s.shot().light().clues().shadows().isEmpty()) return sun(s).towards();
        return now(s, frame).suns().stream()
                .findFirst()
                .map(Sun::towards)
                .orElseThrow(() -> new BadInput(
                        "draw a shadow first: its edge's softness tells nothing without the sun's direction"));
    }

    /** The grey balls as surfaces of known reflectance. */
    List<Swatch> greys(Seen s) {
        Clues clues = s.shot().light().clues();
        if (clues.greys().isEmpty()) throw new BadInput("no grey ball was marked in the plate");
        SolvedCamera c = camera(s);
        List<Swatch> out = new ArrayList<>();
        for (Clues.Grey g : clues.greys()) {
            if (!c.has(g.frame())) throw new BadInput("the camera of frame " + g.frame() + " is not known");
            Vec3 sun = !g.lit()
                    ? null
                    : now(s, g.frame()).suns().stream()
                            .findFirst()
                            .map(Sun::towards)
                            .orElse(null);
            Circle circle = new Circle(g.x(), g.y(), g.r());
            out.addAll(once(Prints.plate(s.shot()) + c.frame(g.frame()) + g + sun, () -> {
                try (Plates.Lent lent = desk.plates().need(s.shot())) {
                    return GreyBall.swatches(
                            lent.plate().frame(g.frame()),
                            circle,
                            g.albedo(),
                            GreyBall.facing(c, g.frame(), circle),
                            sun);
                }
            }));
        }
        return out;
    }

    /** The ball in the plate beside the same in the light of its frame. */
    GreyProof grey(Seen s, Clues.Grey g) {
        SolvedCamera c = camera(s);
        if (!c.has(g.frame())) throw new BadInput("the camera of frame " + g.frame() + " is not known");
        Circle circle = new Circle(g.x(), g.y(), g.r());
        return once(Prints.plate(s.shot()) + Prints.light(s.shot()) + c.frame(g.frame()) + g, () -> {
            try (Plates.Lent lent = desk.plates().need(s.shot())) {
                return GreyProof.of(
                        lent.plate().frame(g.frame()),
                        circle,
                        g.albedo(),
                        GreyBall.facing(c, g.frame(), circle),
                        now(s, g.frame()),
                        g.lit());
            }
        });
    }

    LightRig rig(Seen s) {
        camera(s);
        return desk.scenes().light(s.shot()).rig();
    }

    Lighting now(Seen s, int frame) {
        camera(s);
        return desk.scenes().light(s.shot()).in(frame).lighting();
    }

    /** Null while the camera is not solved. */
    Lighting nowIfSolved(Seen s, int frame) {
        return s.camera() == null ? null : now(s, frame);
    }
}
