package dasein.core.light.level;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.light.LightRecipe;
import dasein.core.light.LightRig;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.sky.SkyModel;
import dasein.core.light.sky.SunDisc;
import dasein.core.light.sun.ShadowSun;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** What was marked on ground of known light brings any recipe to that light. */
class PlateMatchTest {
    private static final Vec3 AT = Sun.direction(Math.toRadians(42), Math.toRadians(25));
    private static final Image MAP = SunDisc.sky(new SkyModel(AT, 3, 0.3), AT, new double[] {0.3, 0.28, 0.25}, 3, 512);
    private static final double ALBEDO = 0.4;

    private static Image plate() {
        // Left in the sun, right in the shade, of ground that is as grey as said.
        Image im = new Image(40, 20, 3);
        Lighting truth = new LightRig(LightRecipe.BLANK, MAP).at(1, 24);
        float[] sky = truth.environment().irradiance(Vec3.Y),
                sun = truth.suns().get(0).irradiance();
        double[] warm = {1.2, 1, 0.8};
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < 800; i++)
                im.planes[c][i] = (float)
                        (ALBEDO / Math.PI * 1.7 * (sky[c] + (i % 40 < 20 ? 1.5 * warm[c] * sun[c] * AT.y() : 0)));
        return im;
    }

    private static PlateMatch.Ground ground() {
        Clues c = Clues.NONE.with(new Clues.Patch(1, 1, 8, 10, true)).with(new Clues.Patch(2, 1, 30, 10, false));
        return PlateMatch.ground(c, f -> plate());
    }

    private static void fits(LightRecipe r) {
        Lighting l = new LightRig(r, MAP).at(1, 24);
        assertThat(PlateMatch.ratio(l)).isCloseTo(ground().ratio(), within(0.02));
        float[] sky = l.environment().irradiance(Vec3.Y), sun = l.suns().get(0).irradiance();
        for (int c = 0; c < 3; c++) {
            double lit = ALBEDO
                    / Math.PI
                    * (sky[c] + sun[c] * l.suns().get(0).towards().y());
            assertThat(lit).isCloseTo(plate().get(8, 10, c), within(0.02 * lit));
            assertThat(ALBEDO / Math.PI * sky[c]).isCloseTo(plate().get(30, 10, c), within(0.02 * lit));
        }
    }

    @Test
    void groundSetsLevelAndSunOfTheMapAndOfOnesOwn() {
        LightRig rig = new LightRig(LightRecipe.BLANK, MAP);
        Lighting now = rig.at(1, 24);
        fits(PlateMatch.levelled(LightRecipe.BLANK, rig, now, ground(), ALBEDO));
        LightRecipe own = PlateMatch.own(LightRecipe.BLANK, now);
        LightRig ownRig = new LightRig(own, MAP);
        fits(PlateMatch.levelled(own, ownRig, ownRig.at(1, 24), ground(), ALBEDO));
        // Without a reflectance the map keeps its level, and the sun stands right against it.
        LightRecipe ratio = PlateMatch.levelled(LightRecipe.BLANK, rig, now, ground(), 0);
        assertThat(ratio.level()).isEqualTo(1);
        assertThat(PlateMatch.ratio(new LightRig(ratio, MAP).at(1, 24))).isCloseTo(ground().ratio(), within(0.02));
    }

    @Test
    void ownSunStartsAsTheMaps() {
        Lighting now = new LightRig(LightRecipe.BLANK, MAP).at(1, 24);
        Sun was = now.suns().get(0),
                is =
                        new LightRig(PlateMatch.own(LightRecipe.BLANK, now), MAP)
                                .at(1, 24)
                                .suns()
                                .get(0);
        assertThat(Math.toDegrees(Math.acos(Math.min(1, was.towards().dot(is.towards())))))
                .isLessThan(0.02);
        for (int c = 0; c < 3; c++)
            assertThat(is.irradiance()[c]).isCloseTo(was.irradiance()[c], within(0.005f * was.irradiance()[c]));
        // Where none was found it still throws a shadow that is seen.
        LightRecipe none = PlateMatch.own(LightRecipe.BLANK, new LightRig(LightRecipe.BLANK, null).at(1, 24));
        assertThat(PlateMatch.ratio(new LightRig(none, null).at(1, 24))).isCloseTo(2.5, within(0.05));
    }

    /** A grey ball under a light that is stronger and warmer than the map's: 0.1 stop and 2 % are asked. */
    @Test
    void greyBallSetsLevelAndColourOfMapAndSun() {
        LightRecipe start = LightRecipe.BLANK.withColour(List.of(1.1, 1.0, 0.9));
        LightRig rig = new LightRig(start, MAP);
        Lighting now = rig.at(1, 24);
        double[] sky = {1.5, 1.3, 0.9}, sun = {2.2, 1.6, 1.0};
        List<Swatch> seen = new ArrayList<>();
        for (Vec3 n : List.of(Vec3.Y, Vec3.X, Vec3.Z, AT, new Vec3(-0.6, 0.5, 0.4).unit())) {
            double facing = n.dot(now.suns().get(0).towards());
            double[] l = new double[3];
            for (int c = 0; c < 3; c++)
                l[c] = 0.18
                        / Math.PI
                        * (sky[c] * now.environment().irradiance(n)[c]
                                + sun[c] * now.suns().get(0).irradiance()[c] * Math.max(0, facing));
            seen.add(new Swatch("the ball", l, n, new double[] {0.18, 0.18, 0.18}, facing > 0));
        }
        for (LightRecipe from : List.of(start, PlateMatch.own(start, now))) {
            LightRig r = new LightRig(from, MAP);
            LightRecipe to = PlateMatch.matched(from, r, r.at(1, 24), seen);
            Lighting is = new LightRig(to, MAP).at(1, 24);
            for (int c = 0; c < 3; c++) {
                assertThat(is.environment().irradiance(Vec3.Y)[c]
                                / now.environment().irradiance(Vec3.Y)[c])
                        .isCloseTo((float) sky[c], within(0.02f * (float) sky[c]));
                assertThat(is.suns().get(0).irradiance()[c] / now.suns().get(0).irradiance()[c])
                        .isCloseTo((float) sun[c], within(0.02f * (float) sun[c]));
            }
        }
    }

    @Test
    void sunStandsAsPlaceAndTimeSayAndIsAsLargeAsMeasured() {
        Lighting now = new LightRig(LightRecipe.BLANK, MAP).at(1, 24);
        // NREL/TP-560-34302's example but for height and weather: azimuth 194.34, zenith 50.11.
        Clues.When when = new Clues.When(39.742476, -105.1786, "2003-10-17T12:30:30-07:00", 170);
        LightRecipe set = PlateMatch.sunAt(LightRecipe.BLANK, now, when);
        assertThat(set.sun().azimuthDeg()).isCloseTo(194.34 + 170 - 360, within(0.02));
        assertThat(set.sun().elevationDeg()).isCloseTo(90 - 50.11, within(0.02));
        LightRecipe large = PlateMatch.sized(set, now, 2.345);
        assertThat(large.sun().angleDeg()).isCloseTo(2.345, within(0.006));
        assertThat(large.sun().azimuthDeg()).isEqualTo(set.sun().azimuthDeg());
        assertThatThrownBy(() -> PlateMatch.sunAt(
                        LightRecipe.BLANK, now, new Clues.When(39.7, -105.2, "2003-10-17T00:30:30-07:00", 0)))
                .hasMessageContaining("below the ground");
        assertThatThrownBy(() -> new Clues.When(39.7, -105.2, "noon", 0).sun()).hasMessageContaining("not noon");
        assertThatThrownBy(() -> new Clues.When(95, 0, "2003-10-17T00:30:30-07:00", 0).sun())
                .hasMessageContaining("latitude");
    }

    @Test
    void mapTurnsToTheShadows() {
        LightRig rig = new LightRig(LightRecipe.BLANK, MAP);
        ShadowSun.Result wanted =
                new ShadowSun.Result(Sun.direction(Math.toRadians(40), Math.toRadians(-170)), 0, 0, List.of());
        LightRecipe r = PlateMatch.turned(LightRecipe.BLANK, rig, wanted);
        Vec3 s = new LightRig(r, MAP).at(1, 24).suns().get(0).towards();
        assertThat(Math.toDegrees(Math.atan2(s.x(), -s.z()))).isCloseTo(-170, within(0.3));
        LightRecipe set = PlateMatch.sunSet(LightRecipe.BLANK, rig.at(1, 24), wanted);
        assertThat(new LightRig(set, MAP).at(1, 24).suns().get(0).towards().dot(wanted.towards()))
                .isGreaterThan(0.99999);
        assertThatThrownBy(() -> PlateMatch.turned(LightRecipe.BLANK, new LightRig(LightRecipe.BLANK, null), wanted))
                .hasMessageContaining("no sun stands out");
        assertThatThrownBy(() -> PlateMatch.levelled(
                        LightRecipe.BLANK, rig, rig.at(1, 24), new PlateMatch.Ground(new double[] {1, 1, 1}, null), 0))
                .hasMessageContaining("reflectance");
    }
}
