package dasein.shoot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dasein.core.cast.ClipUse;
import dasein.core.cast.Performer;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Blacks;
import dasein.core.comp.step.Codec;
import dasein.core.comp.step.FallOff;
import dasein.core.comp.step.Fringe;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Saturation;
import dasein.core.comp.step.Sharpen;
import dasein.core.comp.step.Softness;
import dasein.core.ground.GroundFit;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Image;
import dasein.core.key.Curve;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Plate;
import dasein.core.plate.PlateFacts;
import dasein.core.presence.Checks;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * The strider in LW_010, as right as matching makes it, passes every check; with one thing made wrong on purpose that
 * one is found; and what was really filmed, put in as if it were a comp, passes, too.
 */
class PresenceTest {
    private static final int FIRST = 47, LAST = 49;
    private static final Film FILM = Film.STRIDER;

    private static Filmed filmed;
    private static Plate truth;
    private static CompRecipe right;
    private static final Map<Integer, Passes> PASSES = new TreeMap<>();

    @BeforeAll
    static void render() throws Exception {
        filmed = Filmed.of(FILM);
        truth = Plate.open(FILM.take(Filmed.TRUTH, 1), null, null);
        PASSES.putAll(filmed.rendered(FilmedShot.of(FILM), FIRST, LAST));
        right = Belonging.matched(filmed.plate(), 0, 48, PASSES.get(48));
    }

    private static Made made() {
        return new Made(filmed, right, PASSES);
    }

    /** They take a minute: {@code -DpresenceAll=true}. */
    private static void onlyWhenAsked() {
        assumeTrue(Boolean.getBoolean("presenceAll"), "they take a minute");
    }

    private static void only48(Made m) throws Exception {
        m.passes = filmed.rendered(m.shot, 48, 48);
        m.rendered = List.of(48);
    }

    /** The same footage of which nothing says how fast it runs. */
    private static PlateFacts assumed(PlateFacts f) {
        return new PlateFacts(
                f.width(),
                f.height(),
                f.first(),
                f.last(),
                f.rateNum(),
                f.rateDen(),
                false,
                f.encoding(),
                f.kind(),
                f.bitDepth(),
                f.aspect(),
                f.timecode(),
                f.warnings());
    }

    private static List<String> keys(List<Finding> of) {
        return of.stream().map(Finding::key).toList();
    }

    @Test
    void theRightShotPassesAll() throws Exception {
        assertThat(made().found(true)).isEmpty();
    }

    /** The film itself as a comp: nothing that looks at the picture finds anything but that it is not the plate. */
    @Test
    void whatWasReallyFilmedPasses() throws Exception {
        assertThat(keys(asFilmed(made(), FILM, truth).found(false))).isSubsetOf("untouched");
    }

    /** The mule, noon and evening: one frame of each, with as many samples as keep noon's own noise below the limit. */
    @ParameterizedTest
    @ValueSource(strings = {"LW_010_mule", "LW_010_noon", "LW_010_evening"})
    void soDoesWhatWasFilmedOtherwise(String name) throws Exception {
        onlyWhenAsked();
        Film film =
                Film.ALL.stream().filter(f -> f.name().equals(name)).findAny().orElseThrow();
        Filmed of = Filmed.of(film);
        Map<Integer, Passes> passes = of.rendered(FilmedShot.of(film), 48, 48, 12);
        Made m = new Made(of, Belonging.matched(of.plate(), of.off(), 48, passes.get(48)), passes);
        Plate there = Plate.open(film.take(Filmed.TRUTH, 1), null, null);
        assertThat(keys(asFilmed(m, film, there).found(false))).isSubsetOf("untouched");
    }

    private static Made asFilmed(Made m, Film film, Plate there) {
        m.spoil = (im, p, f) -> {
            Image real = there.frame(there.first() + f - film.first());
            for (int c = 0; c < 3; c++) System.arraycopy(real.planes[c], 0, im.planes[c], 0, im.planes[c].length);
        };
        return m;
    }

    private static Made moved(double x, double y, double z) {
        Made m = made();
        Performer p = m.shot.performers().get(0);
        m.shot = m.shot.with(List.of(p.at(p.x() + x, p.y() + y, p.z() + z)));
        return m;
    }

    @ParameterizedTest
    @CsvSource({"0.10", "0.03", "-0.05"})
    void whoIsLiftedOrSunkIsFound(double y) throws Exception {
        List<Finding> f = moved(0, y, 0).found(false);
        assertThat(keys(f)).first().isEqualTo("contact");
        assertThat(f.get(0).figure()).isCloseTo(100 * Math.abs(y), org.assertj.core.api.Assertions.within(0.3));
        assertThat(f.get(0).place()).isNotNull();
    }

    @Test
    void whoSlidesIsFound() throws Exception {
        Made m = made();
        Performer p = m.shot.performers().get(0);
        m.shot = m.shot.with(List.of(p.with(
                "x",
                new Curve(
                        List.of(
                                new Curve.Key(1, p.x(), Curve.Ease.LINEAR),
                                new Curve.Key(96, p.x() + 1, Curve.Ease.LINEAR)),
                        List.of()))));
        assertThat(keys(m.found(false))).containsExactly("slide");
    }

    /** A clip of something 2.4 m high, on something ten times as large. */
    @Test
    void whoWalksTooFastForItsSizeIsFound() throws Exception {
        Made m = made();
        Performer p = m.shot.performers().get(0);
        List<ClipUse> walk = List.of(new ClipUse("walk", 0, 0, 0, 0, 1, null, 0));
        m.shot = m.shot.with(List.of(p.withClips(walk)));
        assertThat(keys(m.found(false))).doesNotContain("weight");
        Performer.Stance s = p.stance();
        m.shot = m.shot.with(List.of(
                new Performer(1, p.name(), p.model(), s.x(), s.y(), s.z(), s.headingDeg(), 24, "walk", 0, 1, true)
                        .withClips(List.of(new ClipUse("walk", 0, 0, 0, 0, 2.5, null, 0)))));
        assertThat(keys(m.found(false))).contains("weight");
    }

    @Test
    void whatIsWrongWithTheRestOfTheShotIsFound() throws Exception {
        Map<String, Made> wrong = new TreeMap<>();
        Made sun = made(), size = made(), lens = made(), rate = made(), missing = made();
        sun.sun = Quat.axisAngle(Vec3.Y, Math.toRadians(20)).rotate(sun.sun);
        size.measured = List.of(new GroundFit.Check("survey pole", 2.4, 2.64, "m", true));
        lens.focalMm = 24;
        rate.facts = assumed(rate.facts);
        missing.rendered = List.of(47, 48);
        wrong.put("sun", sun);
        wrong.put("size", size);
        wrong.put("lens", lens);
        wrong.put("rate", rate);
        wrong.put("frames", missing);
        Made drift = made();
        drift.seen = filmed.tracks().stream()
                .map(t -> new Track(
                        t.id(),
                        t.frames(),
                        IntStream.range(0, t.length())
                                .mapToDouble(i -> t.x()[i] + 0.02 * (t.frames()[i] - 1))
                                .toArray(),
                        t.y()))
                .toList();
        wrong.put("stick", drift);
        Made off = moved(12, 0, 0);
        wrong.put("ground", off);
        Made pops = made();
        pops.pops = List.of(48);
        wrong.put("pops", pops);
        for (var e : wrong.entrySet())
            assertThat(keys(e.getValue().found(false))).as(e.getKey()).containsExactly(e.getKey());
    }

    @Test
    void whatIsWrongInThePictureIsFound() throws Exception {
        Map<String, Made> wrong = new TreeMap<>();
        Made outside = made(), burnt = made(), line = made(), flicker = made(), frozen = made();
        outside.spoil = (im, p, f) -> im.planes[1][3] += 0.001f;
        burnt.comp = right.with(Gain.GAIN, 20);
        line.spoil = (im, p, f) -> {
            for (int i = 0; i < p.alpha.length; i++)
                if (p.alpha[i] > 0.2f && p.alpha[i] < 0.8f) for (float[] c : im.planes) c[i] *= 0.5f;
        };
        flicker.spoil = (im, p, f) -> {
            for (int i = 0; i < p.alpha.length && f == 48; i++)
                if (p.alpha[i] > 0) for (float[] c : im.planes) c[i] *= 1.12f;
        };
        frozen.frozen = true;
        wrong.put("untouched", outside);
        wrong.put("clipped", burnt);
        wrong.put("outline", line);
        wrong.put("flicker", flicker);
        wrong.put("frozen", frozen);
        Made dark = made(), strong = made();
        dark.comp = right.with(Group.SHADOW.on(), 0);
        strong.comp = right.with(Saturation.SATURATION, 3);
        wrong.put("left-out", dark);
        wrong.put("saturation", strong);
        for (var e : wrong.entrySet())
            assertThat(keys(e.getValue().found(false))).as(e.getKey()).contains(e.getKey());
    }

    @Test
    void aNoisyFrameIsFound() throws Exception {
        float was = PASSES.get(48).noise;
        try {
            PASSES.get(48).noise = 0.3f;
            List<Finding> f = made().found(false);
            assertThat(keys(f)).containsExactly("noise");
            assertThat(f.get(0).frames()).containsExactly(48);
        } finally {
            PASSES.get(48).noise = was;
        }
    }

    /** Its shadow cut off by a small ground; itself laid over what stands before it. */
    @Test
    void whatIsWrongInTheSetIsFound() throws Exception {
        onlyWhenAsked();
        Made small = made();
        small.shot = small.shot.with(
                new SetRecipe(List.of(), 0, 0, 0, List.of(), new SetRecipe.Catcher(0.6, -6, 3, 3), 0, 0.3));
        only48(small);
        assertThat(keys(small.found(false))).contains("catcher");
        small.passes.clear();
        Made behind = moved(1.6, 0, -4);
        only48(behind);
        assertThat(keys(behind.found(false))).contains("order");
        behind.passes.clear();
    }

    @Test
    void numbersThatAreNotThePlatesAreFound() throws Exception {
        onlyWhenAsked();
        Map<String, CompRecipe> wrong = new TreeMap<>();
        wrong.put("grain", right.with(Group.GRAIN.on(), 0));
        wrong.put("blacks", right.with(Blacks.BLACKS, 0.03));
        wrong.put("softness", right.with(Softness.SOFTNESS, 1.6));
        wrong.put("compression", right.with(Codec.STEP, 0));
        wrong.put("fringe", right.with(Fringe.RED, 1.5));
        wrong.put("corners", right.with(FallOff.CORNER, 0.3));
        wrong.put("halos", right.with(Sharpen.AMOUNT, 0.8));
        wrong.put("grain-size", right.with(Grain.SIZE, 1.4));
        List<String> missed = new ArrayList<>();
        Made m = made();
        Subject s = m.subject();
        for (var e : wrong.entrySet()) {
            m.comp = e.getValue();
            Subject t = m.subject();
            Finding f = Checks.all().stream()
                    .filter(c -> c.getClass().getPackageName().endsWith("matched"))
                    .filter(c -> c.key().equals(e.getKey()))
                    .map(c -> c.finding(t))
                    .findFirst()
                    .orElseThrow();
            if (f.state() != Finding.State.FOUND) missed.add(f.toString());
        }
        assertThat(missed).isEmpty();
        assertThat(s.taken().now()).isEqualTo(right.at(48, Walk.RATE));
    }
}
