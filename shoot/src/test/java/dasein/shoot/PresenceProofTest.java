package dasein.shoot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.cast.ClipUse;
import dasein.core.cast.Performer;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.match.Matches;
import dasein.core.comp.step.Blacks;
import dasein.core.comp.step.Codec;
import dasein.core.comp.step.FallOff;
import dasein.core.comp.step.Fringe;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Haze;
import dasein.core.comp.step.Shadow;
import dasein.core.comp.step.Sharpen;
import dasein.core.comp.step.Softness;
import dasein.core.format.Stills;
import dasein.core.ground.GroundFit;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.key.Curve;
import dasein.core.light.Clues;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.SunSearch;
import dasein.core.light.level.PlateMatch;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.presence.Check;
import dasein.core.presence.Checks;
import dasein.core.presence.Finding;
import dasein.core.presence.layout.LightRatio;
import dasein.core.presence.layout.Weight;
import dasein.core.render.pass.Passes;
import dasein.core.track.Track;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/**
 * How often Presence is right: over all hours and performers that were filmed, and several stretches of each, what was
 * made right is looked at by every check, and each fault that can be planted is planted at twice its limit. Over the
 * other plates of the shoot, too, in which nobody was filmed. Twenty minutes: {@code -DpresenceProof=true -Dtexels=64}
 * (the set is only asked what shades what).
 */
class PresenceProofTest {
    /** First frames of stretches of three. */
    private static final int[] LONG = {14, 47, 82}, SHORT = {46, 49};

    /** As many as keep the sampler's own error below its limit at noon, too. */
    private static final int SAMPLES = 12;
    /** Added to the numbers from which grain is made. */
    private static final int[] SEEDS = {0, 1000};

    private int looks, alarms, planted, found, first, blind;
    private final Map<String, int[]> table = new TreeMap<>();
    private final List<String> said = new ArrayList<>();

    @Test
    void plantedFaultsAreFoundAndTheRightShotPasses() throws Exception {
        assumeTrue(Boolean.getBoolean("presenceProof"), "it takes ten minutes");
        List<Film> all = new ArrayList<>(Film.ALL);
        all.addAll(Filmed.TAKES);
        Stage stage = new Stage();
        for (Film film : all) {
            if (!film.name().matches(System.getProperty("films", ".*"))) continue;
            Filmed filmed = Filmed.of(film);
            CompRecipe right = null;
            // A shot has one set of marks, whichever of its frames is looked at.
            Clues clues = Film.ALL.contains(film)
                    ? new RealShadows(stage, film.hour().sunDirection()).marked(filmed.camera(), stretches(film)[0] + 1)
                    : Clues.NONE;
            for (int from : stretches(film)) {
                Map<Integer, Passes> passes = filmed.rendered(FilmedShot.of(film), from, from + 2, SAMPLES);
                if (right == null)
                    right = Belonging.matched(
                            filmed.plate(), filmed.off(), from + 1, passes.get(from + 1), clues, filmed.tracks());
                String where = film.name() + " " + from;
                look(where, filmed, right, passes, clues);
                picked(where, filmed, right, passes, clues);
                if (film.model().equals("strider.glb")) walking(where, filmed, right, passes);
                System.out.printf(
                        "%s %d: %d looks, %d alarms, %d of %d%n", film.name(), from, looks, alarms, found, planted);
            }
        }
        System.out.printf(
                "right: %d looks, %d false alarms, %d could not look%nplanted: %d, found %d, named first %d%n",
                looks, alarms, blind, planted, found, first);
        table.forEach((k, v) -> System.out.printf("| %s | %d of %d |%n", k, v[1], v[0]));
        said.forEach(System.out::println);
        assertThat((double) found / planted).isGreaterThan(0.95);
        assertThat((double) alarms / looks).isLessThan(1 / 200.0);
    }

    private static int[] stretches(Film film) {
        if (film.name().equals("LW_050")) return new int[] {3};
        // The carrier has not come before the strider yet.
        if (film.name().equals("LW_020") || film.name().equals("LW_030")) return new int[] {6};
        if (film.name().equals("LW_040")) return new int[] {18};
        return film == Film.STRIDER ? LONG : SHORT;
    }

    /** A shot made right, or a copy of it that is to be made wrong. */
    private static Made made(Filmed of, CompRecipe right, Map<Integer, Passes> passes, Clues clues) throws Exception {
        Made m = new Made(of, right, passes);
        m.clues = clues;
        m.handles = 1;
        m.pops = ByHand.pops(of, 0, 0);
        Image map = Stills.read(Path.of("demo/kit", of.film().hour().name() + "_latlong.exr"), Encoding.LINEAR);
        SunSearch.Found f = SunSearch.in(map);
        double plate = PlateMatch.ground(clues, of::frame).ratio(),
                own = PlateMatch.ratio(new Lighting(new Environment(f.rest(), 0, 1), List.of(f.sun())));
        if (plate > 0)
            m.stops = new LightRatio.Stops(
                    Math.log(plate) / Math.log(2), Math.log(own) / Math.log(2), PlateMatch.sigma(clues, of::frame));
        return m;
    }

    private void look(String where, Filmed of, CompRecipe right, Map<Integer, Passes> passes, Clues clues)
            throws Exception {
        Map<String, Finding> rest = new LinkedHashMap<>();
        for (int seed : SEEDS) {
            Made good = made(of, right, passes, clues);
            good.seed = seed;
            var subject = good.subject();
            List<Check> all = Checks.all();
            for (int f : good.rendered) {
                Check.Frame frame = good.frame(f);
                for (Check c : all) c.look(frame, subject);
            }
            for (Check c : all) {
                // Grain alone is another: what does not look at frames says the same.
                if (seed != 0 && !c.getClass().getPackageName().endsWith("picture")) continue;
                Finding f = c.finding(subject);
                rest.putIfAbsent(c.key(), f);
                if (f.state() == Finding.State.UNSEEN) blind++;
                else looks++;
                if (f.state() != Finding.State.FOUND) continue;
                // In that film the wheels do turn on the spot.
                if (c.key().equals("slide") && of.film().model().equals("mule.glb")) continue;
                alarms++;
                said.add(where + ", false alarm: " + c.key() + ", " + f.sentence());
            }
        }
        Map<String, Consumer<Made>> faults = faults(of);
        faults.putAll(further(of));
        for (var e : faults.entrySet()) {
            String key = e.getKey().split("[ ,]")[0];
            Finding was = rest.get(key);
            assertThat(was).as(key).isNotNull();
            // What could not be looked at in the right shot is not there to be found in the wrong one.
            if (was.state() == Finding.State.UNSEEN) continue;
            Made m = made(of, right, passes, clues);
            e.getValue().accept(m);
            boolean matched = MATCHED.contains(key);
            List<String> keys = matched
                    ? one(m, key)
                    : m.found(false).stream().map(Finding::key).toList();
            count(where, e.getKey(), key, keys, ", right it is " + was.figure() + " of " + was.limit());
        }
    }

    /** What is picked or drawn by hand: by the match that takes it, what makes the comp wrong by twice the limit. */
    private void picked(String where, Filmed of, CompRecipe right, Map<Integer, Passes> passes, Clues clues)
            throws Exception {
        Map<String, UnaryOperator<CompRecipe>> wrong = new LinkedHashMap<>();
        wrong.put("colour", r -> r.with(Gain.GAIN, 0.8 * r.get(Gain.GAIN)));
        wrong.put("haze", r -> r.with(Haze.HAZE, r.get(Haze.HAZE) + (r.get(Haze.HAZE) > 0.5 ? -0.1 : 0.1)));
        wrong.put("shadow-edge", r -> r.with(Shadow.SOFT, r.get(Shadow.SOFT) + 3));
        for (var e : wrong.entrySet()) {
            Made m = made(of, right, passes, clues);
            int middle = m.rendered.get(1);
            m.pairs = ByHand.pairs(of, middle, passes.get(middle));
            m.hazes = ByHand.hazes(of, middle);
            m.clues = ByHand.stroke(clues);
            try {
                m.comp = Matches.named(e.getKey().replace('-', ' '))
                        .of(m.subject().taken())
                        .recipe();
            } catch (BadInput | NoSolution cannot) {
                blind++;
                continue;
            }
            looks++;
            if (!one(m, e.getKey()).isEmpty()) {
                alarms++;
                said.add(where + ", false alarm: " + e.getKey());
            }
            m.comp = e.getValue().apply(m.comp);
            count(where, e.getKey() + " twice the limit off", e.getKey(), one(m, e.getKey()), "");
        }
    }

    /** Walking as legs of its length can, and so fast that its figure is twice the limit. */
    private void walking(String where, Filmed of, CompRecipe right, Map<Integer, Passes> passes) throws Exception {
        Made m = made(of, right, passes, Clues.NONE);
        double speed = 1;
        for (boolean wrong : new boolean[] {false, true}) {
            m.shot = m.shot.with(List.of(
                    m.shot.performers().get(0).withClips(List.of(new ClipUse("walk", 0, 0, 0, 0, speed, null, 0)))));
            Weight check = new Weight();
            Finding f = check.finding(m.subject());
            if (wrong)
                count(
                        where,
                        "weight, at twice its limit",
                        "weight",
                        f.state() == Finding.State.FOUND ? List.of("weight") : List.of(),
                        "");
            else {
                looks++;
                if (f.state() != Finding.State.GOOD) {
                    alarms++;
                    said.add(where + ", false alarm: weight, " + f.sentence());
                }
                speed = Math.sqrt(2 * f.limit() / f.figure());
            }
        }
    }

    private void count(String where, String fault, String key, List<String> keys, String was) {
        planted++;
        int[] row = table.computeIfAbsent(fault, k -> new int[2]);
        row[0]++;
        if (keys.contains(key)) {
            found++;
            row[1]++;
            if (keys.get(0).equals(key)) first++;
        } else said.add(where + ", missed: " + fault + was);
    }

    private static final List<String> MATCHED = Checks.all().stream()
            .filter(c -> c.getClass().getPackageName().endsWith("matched"))
            .map(Check::key)
            .toList();

    private static List<String> one(Made m, String key) throws Exception {
        var s = m.subject();
        return Checks.all().stream()
                .filter(c -> c.key().equals(key))
                .map(c -> c.finding(s))
                .filter(f -> f.state() == Finding.State.FOUND)
                .map(Finding::key)
                .toList();
    }

    /** By the check that is to find them; each at twice that one's limit, those that are there or not at all. */
    private static Map<String, Consumer<Made>> faults(Filmed of) {
        Map<String, Consumer<Made>> w = new LinkedHashMap<>();
        w.put("contact lifted by 2 cm", m -> moved(m, 0.02, 0));
        w.put("contact sunk by 2 cm", m -> moved(m, -0.02, 0));
        if (of.film().model().equals("strider.glb")) w.put("slide of 1 px a frame", m -> slides(m, of));
        w.put(
                "size 4 % too large",
                m -> m.measured = List.of(new GroundFit.Check("survey pole", 2.4, 2.4 * 1.04, "m", true)));
        w.put("lens noted 8 % shorter", m -> m.focalMm = Walk.FOCAL_MM * 0.92);
        w.put("stick off by 1 px", m -> m.seen = drifted(of.tracks()));
        w.put(
                "sun turned by 10 degrees",
                m -> m.sun = Quat.axisAngle(
                                Vec3.Y, Math.toRadians(10) / Math.max(0.2, Math.hypot(m.sun.x(), m.sun.z())))
                        .rotate(m.sun));
        w.put("ground left behind", m -> moved(m, 0, 12));
        w.put("frames, one missing", m -> m.rendered = m.rendered.subList(0, 2));
        w.put("pops by 12 % once", m -> m.pops = ByHand.pops(of, m.rendered.get(1), 0.12));
        w.put("untouched but for one float", m -> m.spoil = (im, p, f) -> im.planes[1][3] += 0.001f);
        w.put(
                "outline 5 % darker",
                m -> m.spoil = (im, p, f) -> Wrong.line(im, p, of.plate().encoding(), 0.05));
        w.put(
                "flicker of 0.08 stops",
                m -> m.spoil = (im, p, f) -> {
                    for (int i = 0; i < p.alpha.length && f == m.rendered.get(1); i++)
                        if (p.alpha[i] > 0) for (float[] c : im.planes) c[i] *= 1.057f;
                });
        w.put(
                "clipped, a tenth",
                m -> m.spoil = (im, p, f) -> {
                    for (int i = 0; i < p.alpha.length; i += 10)
                        if (p.alpha[i] > 0.98f) for (float[] c : im.planes) c[i] = 1.1f;
                    for (int i = 3; i < p.alpha.length; i += 30)
                        if (p.alpha[i] > 0.98f) for (float[] c : im.planes) c[i] = 1.1f;
                });
        w.put("frozen grain", m -> m.frozen = true);
        w.put("left-out shadow", m -> m.comp = m.comp.with(Group.SHADOW.on(), 0));
        w.put(
                "saturation 50 % stronger",
                m -> m.spoil = (im, p, f) ->
                        Wrong.painted(im, of.frame(f), p, of.plate().encoding(), 0.5));
        w.put("blacks 0.8 % up", m -> m.comp = m.comp.with(Blacks.BLACKS, m.comp.get(Blacks.BLACKS) + 0.008));
        w.put("corners 0.12 darker", m -> m.comp = m.comp.with(FallOff.CORNER, m.comp.get(FallOff.CORNER) + 0.12));
        w.put("halos 0.5", m -> m.comp = m.comp.with(Sharpen.AMOUNT, m.comp.get(Sharpen.AMOUNT) + 0.5));
        w.put(
                "softness 0.4 px more",
                m -> m.comp = m.comp.with(Softness.SOFTNESS, m.comp.get(Softness.SOFTNESS) + 0.4));
        w.put("fringe 0.6 px", m -> m.comp = m.comp.with(Fringe.RED, m.comp.get(Fringe.RED) + 0.6));
        w.put("grain 30 % more", m -> m.comp = m.comp.with(Grain.GRAIN, m.comp.get(Grain.GRAIN) * 1.3));
        w.put("grain 30 % less", m -> m.comp = m.comp.with(Grain.GRAIN, m.comp.get(Grain.GRAIN) * 0.7));
        w.put("grain-size 0.5 px more", m -> m.comp = m.comp.with(Grain.SIZE, m.comp.get(Grain.SIZE) + 0.5));
        w.put("compression 6 % coarser", m -> m.comp = m.comp.with(Codec.STEP, m.comp.get(Codec.STEP) + 0.06));
        w.put("blur 150 degrees longer", m -> m.shutter += 150 / 360.0);
        return w;
    }

    /** Faults that {@link #faults} has no room for. */
    private static Map<String, Consumer<Made>> further(Filmed of) {
        Map<String, Consumer<Made>> w = new LinkedHashMap<>();
        w.put("solve, one frame off by 2 px", m -> m.solved = Wrong.offBy(m.solved, m.rendered.get(1), 2));
        w.put("handles, one missing", m -> m.solved = Wrong.without(m.solved, m.rendered.get(0) - 1));
        w.put(
                "doubled, 40 % of shadow laid over a real one",
                m -> m.passes.replaceAll((f, p) -> Wrong.shadowOver(p, m, f, 0.6)));
        w.put("wet, but the set is not", m -> m.plate = (im, f) -> Wrong.mirroring(im, m.solved, f, 0.7));
        w.put("ratio, at twice its limit", m -> {
            double most = Math.max(1 / 3.0, 3 * m.stops.sigma());
            m.stops = new LightRatio.Stops(m.stops.plate(), m.stops.plate() + 2 * most, m.stops.sigma());
        });
        w.put("noise of 20 %", m -> m.passes.replaceAll((f, p) -> Wrong.noisy(p, 0.2f)));
        w.put("order, twice as far", m -> m.passes.replaceAll((f, p) -> Wrong.farther(p, 2)));
        w.put("catcher of 3 m", Wrong::smallGround);
        w.put(
                "unbuilt, what is shaded stands half a metre high",
                m -> m.solved = Wrong.raised(m.solved, m.rendered.get(1), 0.5));
        w.put("darkening, 60 % lost", m -> m.comp = m.comp.with(Shadow.DENSITY, 0.4 * m.comp.get(Shadow.DENSITY)));
        w.put("density 0.24 less", m -> m.comp = m.comp.with(Shadow.DENSITY, m.comp.get(Shadow.DENSITY) - 0.24));
        w.put("shadow-tint 0.16 off", m -> m.comp = m.comp.with(Shadow.RED, m.comp.get(Shadow.RED) + 0.16));
        w.put(
                "softness-here, 1.6 px more",
                m -> m.comp = m.comp.with(Softness.SOFTNESS, m.comp.get(Softness.SOFTNESS) + 1.6));
        w.put("drift of 0.24 stops", m -> m.comp = Wrong.drifting(m.comp, m.rendered, 0.24));
        return w;
    }

    private static void moved(Made m, double y, double x) {
        Performer p = m.shot.performers().get(0);
        m.shot = m.shot.with(List.of(p.at(p.x() + x, p.y() + y, p.z())));
    }

    private static void slides(Made m, Filmed of) {
        Performer p = m.shot.performers().get(0);
        int f = m.rendered.get(1);
        double
                far =
                        -of.camera()
                                .frame(f)
                                .pose()
                                .toLocal(new Vec3(p.x(), 0, p.z()))
                                .z(),
                metres = far / of.camera().lens(f).focalPx();
        // Across the picture.
        Vec3 right = of.camera().frame(f).pose().rotation().rotate(new Vec3(metres, 0, 0));
        m.shot = m.shot.with(List.of(p.with("x", way(p.x(), right.x(), f)).with("z", way(p.z(), right.z(), f))));
    }

    private static Curve way(double at, double each, int middle) {
        return new Curve(
                List.of(
                        new Curve.Key(1, at + each * (1 - middle), Curve.Ease.LINEAR),
                        new Curve.Key(96, at + each * (96 - middle), Curve.Ease.LINEAR)),
                List.of());
    }

    private static List<Track> drifted(List<Track> tracks) {
        return tracks.stream()
                .map(t -> new Track(
                        t.id(),
                        t.frames(),
                        IntStream.range(0, t.length())
                                .mapToDouble(i -> t.x()[i] + 1)
                                .toArray(),
                        t.y()))
                .toList();
    }
}
