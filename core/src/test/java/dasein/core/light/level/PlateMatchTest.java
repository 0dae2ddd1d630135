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
