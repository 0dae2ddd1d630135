package dasein.app.stage.light;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.app.ServerTest;
import dasein.app.stage.Change;
import dasein.core.BadInput;
import dasein.core.light.Clues;
import dasein.core.light.LightRecipe;
import dasein.core.light.Sun;
import dasein.core.light.lamp.Lamp;
import dasein.core.light.lamp.LampRecipe;
import dasein.core.light.level.PlateMatch;
import dasein.core.math.Vec3;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import java.util.List;
import java.util.Locale;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** What the edits of the Light stage make of a document whose camera moved over an even ground. */
class LightEditsTest extends ServerTest {
    private static final Vec3 SUN = Sun.direction(Math.toRadians(44), Math.toRadians(-70));

    @Autowired
    Clueing clueing;

    private Shot solved;

    @BeforeEach
    void solve() {
        solved = plated();
        solve(solved, "moving");
    }

    private Change light(Shot s, String action, String... fields) {
        return edit(s, "light", action, fields);
    }

    private void refused(Shot s, String with, String action, String... fields) {
        assertThatThrownBy(() -> light(s, action, fields))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining(with);
    }

    /** Foot, top and tip of something upright in the set's frame, as pixels of a frame. */
    private Shot shadow(Shot s, double x, double z, int frame) {
        SolvedCamera c = results.cameraInSet(s);
        Vec3 foot = new Vec3(x, 0, z), top = foot.plus(new Vec3(0, 1.5, 0)), tip = top.minus(SUN.times(1.5 / SUN.y()));
        String[] f = new String[14];
        f[0] = "frame";
        f[1] = String.valueOf(frame);
        String[] names = {"foot", "top", "tip"};
        Vec3[] at = {foot, top, tip};
        for (int k = 0; k < 3; k++) {
            double[] q = c.lens(frame).project(c.frame(frame).pose().toLocal(at[k]));
            for (int j = 0; j < 2; j++) {
                f[2 + 4 * k + 2 * j] = names[k] + "XY".charAt(j);
                f[3 + 4 * k + 2 * j] = String.format(Locale.ROOT, "%.3f", q[j]);
            }
        }
        return light(s, "shadow", f).shot();
    }

    @Test
    void drawnShadowsPutTheSunWhereItStood() {
        Shot s = shadow(shadow(solved, -1, -4, 1), 0, -4.5, 5);
        assertThat(s.light().clues().shadows()).hasSize(2);
        // Only offered: nothing that is lit changes.
        assertThat(Prints.frame(s, 1)).isEqualTo(Prints.frame(solved, 1));
        Shot lit = light(s, "sun-from-shadows", "frame", "1").shot();
        LightRecipe.SunRecipe sun = lit.light().sun();
        assertThat(sun.source()).isEqualTo("own");
        assertThat(sun.elevationDeg()).isCloseTo(44, within(0.3));
        assertThat(sun.azimuthDeg()).isCloseTo(-70, within(0.3));
        assertThat(Prints.frame(lit, 1)).isNotEqualTo(Prints.frame(s, 1));
        assertThat(light(lit, "remove-clue", "id", "1").shot().light().clues().shadows())
                .hasSize(1);
        refused(s, "no sun stands out", "turn-to-shadows");
        refused(solved, "no shadow was drawn", "sun-from-shadows", "frame", "1");
        refused(
                solved, "horizon", "shadow", "frame", "1", "footX", "80", "footY", "60", "topX", "80", "topY", "40",
                "tipX", "90", "tipY", "2");
        refused(plated(), "not solved yet", "sun-from-shadows", "frame", "1");
    }

    @Test
    void aFlagIsCutOutAndAnOutlineNeedsItsPiece() {
        Shot s = light(solved, "blocker-add", "kind", "FLAG", "x", "0", "z", "-4")
                .shot();
        LightRecipe cut = BlockerEdits.cut(s.light(), 1, "0123456789");
        assertThat(cut.pictures()).containsExactly("0123456789");
        assertThat(Prints.frame(s.with(cut), 1)).as("it is another light").isNotEqualTo(Prints.frame(s, 1));
        // What else is edited leaves its picture; the tick takes it away.
        Shot wide = light(s.with(cut), "blocker", "id", "1", "width", "3").shot();
        assertThat(wide.light().blockers().get(0).picture()).isEqualTo("0123456789");
        assertThat(wide.light().blockers().get(0).width()).isEqualTo(3);
        assertThat(light(wide, "blocker", "id", "1", "picture", "")
                        .shot()
                        .light()
                        .pictures())
                .isEmpty();
        assertThatThrownBy(() -> BlockerEdits.cut(s.light(), 9, "x")).hasMessageContaining("no longer there");
        refused(solved, "no edge of that piece", "sun-from-outline", "id", "3", "frame", "1");
    }

    @Test
    void aGreyBallOfThePlateIsPhotographedAnew() {
        Shot s = light(solved, "grey", "frame", "1", "x", "60", "y", "60", "r", "20")
                .shot();
        Clues.Grey g = s.light().clues().greys().get(0);
        double off = clueing.grey(seen(s), g).medianStops();
        Shot brighter = light(s, "settings", "level", "4", "frame", "1").shot();
        assertThat(clueing.grey(seen(brighter), g).medianStops()).isGreaterThan(off + 0.5);
        assertThatThrownBy(() -> clueing.grey(seen(plated()), g)).hasMessageContaining("not solved yet");
    }

    @Test
    void markedGroundSetsLevelAndSun() {
        Shot s = light(solved, "settings", "source", "own", "frame", "1").shot();
        assertThat(PlateMatch.ratio(clueing.now(seen(s), 1)))
                .as("an own sun is seen at once")
                .isCloseTo(2.5, within(0.1));
        s = light(s, "patch", "frame", "1", "x", "20", "y", "30", "lit", "yes").shot();
        refused(s, "reflectance", "level-from-ground", "frame", "1");
        s = light(s, "albedo", "albedo", "0.25").shot();
        assertThat(s.light().clues().albedo()).isEqualTo(0.25);
        Shot levelled = light(s, "level-from-ground", "frame", "1").shot();
        assertThat(levelled.light().level()).isNotEqualTo(1);
        refused(s, "the place", "patch", "frame", "1", "x", "-4", "y", "30", "lit", "yes");
        refused(s, "no choice", "patch", "frame", "1", "x", "4", "y", "30", "lit", "perhaps");
        refused(s, "the reflectance", "albedo", "albedo", "3");
    }

    @Test
    void placeAndTimePutTheSunThereAndShadowsTellNorth() {
        String[] when = {
            "latitude",
            "54.3",
            "longitude",
            "10.1",
            "date",
            "2026-06-21",
            "clock",
            "15:40",
            "offset",
            "2",
            "northDeg",
            "10"
        };
        Shot s = light(solved, "when", when).shot();
        assertThat(s.light().clues().when().time()).isEqualTo("2026-06-21T15:40:00+02:00");
        assertThat(s.light().clues().when().offsetHours()).isEqualTo(2);
        assertThat(Prints.frame(s, 1)).isEqualTo(Prints.frame(solved, 1));
        Shot lit = light(s, "sun-from-time", "frame", "1").shot();
        double az = s.light().clues().when().sun().azimuthDeg();
        assertThat(lit.light().sun().azimuthDeg()).isCloseTo(az + 10 - 360, within(0.01));
        assertThat(lit.light().sun().elevationDeg())
                .isCloseTo(s.light().clues().when().sun().elevationDeg(), within(0.01));
        Shot north = light(shadow(s, -1, -4, 1), "north-from-shadows").shot();
        assertThat(north.light().clues().when().northDeg()).isCloseTo(-70 - az + 360, within(0.4));
        refused(solved, "where and when", "sun-from-time", "frame", "1");
        when[5] = "midsummer";
        refused(solved, "must be like", "when", when);
        when[5] = "2026-06-21";
        when[7] = "01:00";
        refused(light(solved, "when", when).shot(), "below the ground", "sun-from-time", "frame", "1");
    }

    @Test
    void edgesGreyBallsAndPairsAreMarkedSetAndTakenAway() {
        // What the plate shows there is none, and without a drawn shadow an edge tells nothing.
        refused(solved, "draw a shadow first", "edge", "frame", "1", "x", "20", "y", "70", "toX", "60", "toY", "70");
        refused(
                shadow(solved, -1, -4, 1),
                "shorter than four",
                "edge",
                "frame",
                "1",
                "x",
                "20",
                "y",
                "70",
                "toX",
                "22",
                "toY",
                "70");
        refused(solved, "no shadow's edge was marked", "sun-size", "frame", "1");
        Shot s = light(solved, "grey", "frame", "1", "x", "60", "y", "40", "r", "12")
                .shot();
        int id = s.light().clues().greys().get(0).id();
        s = light(s, "grey", "id", String.valueOf(id), "albedo", "0.2", "lit_", "1")
                .shot();
        assertThat(s.light().clues().greys().get(0).albedo()).isEqualTo(0.2);
        assertThat(s.light().clues().greys().get(0).lit()).isFalse();
        assertThat(s.light().clues().greys().get(0).r()).isEqualTo(12);
        // An even picture is lit evenly: the grey sky's level is what it shows, pi over 0.2 of it.
        Shot matched = light(s, "match-grey", "frame", "1").shot();
        assertThat(matched.light().level()).isNotEqualTo(1);
        Shot again = light(matched, "match-grey", "frame", "1").shot();
        assertThat(again.light().level())
                .isCloseTo(
                        matched.light().level(), within(0.01 * matched.light().level()));
        refused(solved, "no grey ball", "match-grey", "frame", "1");
        refused(s, "no longer there", "grey", "id", "77");
        Shot moved = light(s, "grey", "id", String.valueOf(id), "x", "50", "y", "44", "r", "14")
                .shot();
        assertThat(moved.light().clues().greys()).hasSize(1);
        assertThat(moved.light().clues().greys().get(0)).isEqualTo(new Clues.Grey(id, 1, 50, 44, 14, 0.2, false));
        Shot ground = light(s, "patch", "frame", "1", "x", "20", "y", "60", "lit", "yes")
                .shot();
        int patch = ground.light().clues().patches().get(0).id();
        Shot there = light(
                        ground, "patch", "id", String.valueOf(patch), "frame", "1", "x", "30", "y", "70", "lit", "yes")
                .shot();
        assertThat(there.light().clues().patches()).containsExactly(new Clues.Patch(patch, 1, 30, 70, true));
        // No mark takes the number of one of another kind.
        refused(
                s,
                "no longer there",
                "patch",
                "id",
                String.valueOf(id),
                "frame",
                "1",
                "x",
                "20",
                "y",
                "60",
                "lit",
                "yes");
        refused(s, "no longer there", "patch", "id", "99", "frame", "1", "x", "20", "y", "60", "lit", "yes");
        Shot p = light(s, "pair", "frame", "1", "x", "64", "y", "30", "azimuthDeg", "20", "elevationDeg", "5")
                .shot();
        assertThat(light(p, "turn-to-pairs", "frame", "1").shot().light().turnDeg())
                .isNotEqualTo(0);
        refused(solved, "both plate and map", "turn-to-pairs", "frame", "1");
        Shot gone = light(p, "remove-clue", "id", String.valueOf(id)).shot();
        assertThat(gone.light().clues().greys()).isEmpty();
        assertThat(gone.light().clues().pairs()).hasSize(1);
        Shot stand = light(solved, "stand", "mirror", "yes", "x", "1", "z", "-4", "radius", "0.2", "y", "0.2")
                .shot();
        assertThat(stand.light().clues().stands().get(0).mirror()).isTrue();
        Shot grown = light(stand, "stand", "id", "1", "radius", "0.5").shot();
        assertThat(grown.light().clues().stands().get(0).y())
                .as("still on the ground")
                .isEqualTo(0.5);
        assertThat(Prints.frame(grown, 1)).as("only looked at").isEqualTo(Prints.frame(solved, 1));
    }

    @Test
    void lampsAreAddedAimedKeyedTiedAndTakenAway() {
        Shot s = light(solved.with(List.of()), "lamp-add", "kind", "SPOT", "x", "1", "z", "-5", "frame", "1")
                .shot();
        LampRecipe k = s.light().lamps().get(0);
        assertThat(k.kind()).isEqualTo(Lamp.Kind.SPOT);
        assertThat(Prints.frame(s, 1)).isNotEqualTo(Prints.frame(solved, 1));
        assertThat(Prints.light(s)).as("sky and sun are as they were").isEqualTo(Prints.light(solved));
        s = light(s, "lamp", "id", "1", "name", "lantern", "level", "9", "kelvin", "2700", "y", "2.5", "frame", "1")
                .shot();
        k = s.light().lamps().get(0);
        assertThat(k.name()).isEqualTo("lantern");
        assertThat(k.shine().kelvin()).isEqualTo(2700);
        assertThat(k.stand().y()).isEqualTo(2.5);
        s = light(s, "lamp-aim", "id", "1", "x", "1", "z", "-2.5", "frame", "1").shot();
        assertThat(s.light().lamps().get(0).stand().headingDeg()).isCloseTo(0, within(0.01));
        assertThat(s.light().lamps().get(0).stand().tiltDeg()).isCloseTo(-45, within(0.01));
        s = light(s, "key", "id", "1", "channel", "level", "frame", "1").shot();
        s = light(s, "lamp", "id", "1", "level", "3", "frame", "5").shot();
        assertThat(s.light().lamps().get(0).curve("level").keys()).hasSize(2);
        assertThat(s.light().lamps().get(0).shine().level())
                .as("at rest as it was")
                .isEqualTo(9);
        Shot off = light(s, "lamp", "id", "1", "on_", "1").shot();
        assertThat(off.light().lamps().get(0).on()).isFalse();
        assertThat(light(s, "lamp-remove", "id", "1").shot().light().lamps()).isEmpty();
        refused(s, "no longer there", "lamp", "id", "7", "level", "3");
        refused(s, "no choice", "lamp-add", "kind", "MOON");
        refused(s, "level", "lamp", "id", "1", "level", "-3", "frame", "1");
    }

    @Test
    void aLampTiedToAPerformerStaysWhereItIs() {
        Shot s = solved.with(List.of(
                new dasein.core.cast.Performer(3, "crate", model("crate"), 1, 0, -5, 40, 0.8, "", 0, 1, false)));
        s = light(s, "lamp-add", "kind", "SPHERE", "x", "2", "z", "-4").shot();
        LampRecipe free = s.light().lamps().get(0);
        Shot tied = light(s, "lamp-tie", "id", "1", "to", "3", "frame", "1").shot();
        LampRecipe k = tied.light().lamps().get(0);
        assertThat(k.tie().id()).isEqualTo(3);
        assertThat(k.stand().x()).isNotEqualTo(free.stand().x());
        Vec3 at = k.at(1, 24, desk.scenes().blocking(tied).carrier(k.tie(), "lamp", 1))
                .at();
        assertThat(at.distance(new Vec3(2, 2, -4))).isLessThan(0.01);
        Shot loose = light(tied, "lamp-tie", "id", "1", "to", "", "frame", "1").shot();
        assertThat(loose.light().lamps().get(0).tie()).isNull();
        assertThat(loose.light().lamps().get(0).stand().x()).isCloseTo(2, within(0.01));
    }

    /** A crate in the middle of the picture. */
    private Shot crate() {
        return solved.with(List.of(
                new dasein.core.cast.Performer(3, "crate", model("crate"), 0, 0, -5, 40, 1.5, "", 0, 1, false)));
    }

    /** Pixel of a place in the first frame. */
    private String[] pixel(Shot s, Vec3 at) {
        SolvedCamera c = results.cameraInSet(s);
        double[] q = c.lens(1).project(c.frame(1).pose().toLocal(at));
        return new String[] {String.format(Locale.ROOT, "%.3f", q[0]), String.format(Locale.ROOT, "%.3f", q[1])};
    }

    @Test
    void lampsAndSunGoWhereTheirHighlightAndShadowAreWanted() {
        Shot s = light(crate(), "lamp-add", "kind", "SPOT", "x", "1", "z", "-3", "frame", "1")
                .shot();
        String[] q = pixel(s, new Vec3(0, 0.7, -5));
        Shot lit = light(s, "lamp-highlight", "id", "1", "px", q[0], "py", q[1], "frame", "1")
                .shot();
        var hit = desk.scenes().of(s).seen(1, Double.parseDouble(q[0]), Double.parseDouble(q[1]));
        LampRecipe k = lit.light().lamps().get(0);
        Lamp lamp = k.at(1, 24, dasein.core.math.Pose.IDENTITY);
        // Mirrored at what was clicked the lamp is seen: half way between eye and lamp lies the normal.
        Vec3 eye = results.cameraInSet(s).frame(1).pose().position();
        Vec3 half = eye.minus(hit.at())
                .unit()
                .plus(lamp.at().minus(hit.at()).unit())
                .unit();
        assertThat(half.dot(hit.normal())).isGreaterThan(0.9999);
        assertThat(lamp.towards().dot(hit.at().minus(lamp.at()).unit())).isGreaterThan(0.999);
        // And its shadow: eye, top and tip in one line with the lamp.
        Shot tip = light(s, "lamp-shadow", "id", "1", "px", q[0], "py", q[1], "x", "-1.5", "z", "-3.5", "frame", "1")
                .shot();
        Vec3 at = tip.light()
                .lamps()
                .get(0)
                .at(1, 24, dasein.core.math.Pose.IDENTITY)
                .at();
        assertThat(at.minus(hit.at())
                        .unit()
                        .dot(hit.at().minus(new Vec3(-1.5, 0, -3.5)).unit()))
                .isGreaterThan(0.9999);
        Shot sun = light(s, "sun-shadow", "px", q[0], "py", q[1], "x", "-1.5", "z", "-3.5", "frame", "1")
                .shot();
        Vec3 towards = clueing.now(seen(sun), 1).suns().get(0).towards();
        assertThat(towards.dot(hit.at().minus(new Vec3(-1.5, 0, -3.5)).unit())).isGreaterThan(0.9999);
        refused(s, "no performer", "lamp-highlight", "id", "1", "px", "2", "py", "2", "frame", "1");
    }

    @Test
    void levelsCanBeTypedAsOnTheBox() {
        Shot s = light(solved, "lamp-add", "kind", "POINT", "x", "0", "z", "-4").shot();
        refused(s, "plate's white", "lamp", "id", "1", "level", "800 lm", "frame", "1");
        s = light(s, "white", "fStop", "4", "exposure", "1/50", "iso", "400").shot();
        // ISO 12232: 78 N^2 / (0.65 t S).
        double white = 78 * 16 / (0.65 * 0.02 * 400);
        assertThat(s.light().clues().white()).isCloseTo(white, within(0.6));
        s = light(s, "lamp", "id", "1", "level", "800 lm", "frame", "1").shot();
        assertThat(s.light().lamps().get(0).shine().level())
                .isCloseTo(800 / (4 * Math.PI) / s.light().clues().white(), within(1e-6));
        refused(s, "like 1/48", "white", "fStop", "4", "exposure", "soon", "iso", "400");
    }

    @Test
    void blockersAreHungSetAndTakenAway() {
        Shot s = light(solved, "settings", "source", "own", "azimuthDeg", "90", "elevationDeg", "45", "frame", "1")
                .shot();
        s = light(s, "blocker-add", "kind", "LEAVES", "x", "1", "z", "-4", "frame", "1")
                .shot();
        var b = s.light().blockers().get(0);
        // Towards the sun by as much as it hangs high: its shadow falls where it was wanted.
        assertThat(b.x()).isCloseTo(1 + b.y(), within(1e-6));
        assertThat(Prints.frame(s, 1)).isNotEqualTo(Prints.frame(solved, 1));
        s = light(s, "blocker", "id", "1", "cover", "70", "drift", "0.3", "on_", "1")
                .shot();
        assertThat(s.light().blockers().get(0).cover()).isEqualTo(0.7);
        assertThat(s.light().blockers().get(0).on()).isFalse();
        Shot named = light(s, "blocker", "id", "1", "name", "the old ash").shot();
        assertThat(Prints.frame(named, 1)).isEqualTo(Prints.frame(s, 1));
        refused(s, "the cover", "blocker", "id", "1", "cover", "120");
        refused(s, "no longer there", "blocker", "id", "9");
        assertThat(light(s, "blocker-remove", "id", "1").shot().light().blockers())
                .isEmpty();
    }

    @Test
    void ballViewsKeepWhatIsTyped() {
        Clues.Ball b = new Clues.Ball(
                1, List.of(new Clues.Photo("a", "1.jpg"), new Clues.Photo("b", "2.jpg")), "", "", 0, 0.7);
        Shot s = solved.with(solved.light().with(Clues.NONE.with(b)));
        Shot set = light(s, "ball", "id", "1", "stops", "0,-2", "fieldDeg", "6.2", "reflectance", "0.8")
                .shot();
        Clues.Ball now = set.light().clues().balls().get(0);
        assertThat(now.stops()).isEqualTo("0,-2");
        assertThat(now.fieldDeg()).isEqualTo(6.2);
        assertThat(now.reflectance()).isEqualTo(0.8);
        assertThat(light(set, "ball", "id", "1", "fieldDeg", "")
                        .shot()
                        .light()
                        .clues()
                        .balls()
                        .get(0)
                        .fieldDeg())
                .isZero();
        refused(s, "2 photographs", "ball", "id", "1", "stops", "0,1,2");
        refused(s, "circle", "ball", "id", "1", "circle", "4,5");
        refused(s, "no longer there", "ball", "id", "9", "stops", "");
    }
}
