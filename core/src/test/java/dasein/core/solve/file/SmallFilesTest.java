package dasein.core.solve.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.ground.PickedPoint;
import dasein.core.ground.PicksFile;
import dasein.core.ground.SetRecipe;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.shot.MovedFile;
import dasein.core.solve.CameraMatch;
import dasein.core.solve.Hints;
import dasein.core.solve.ObjectSolver;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.StillSolver;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.TreeMap;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Small files that people and pipelines write: what they say is read, and what is wrong with them is said. */
class SmallFilesTest {
    @TempDir
    Path folder;

    private Path file(String text) throws Exception {
        Path p = folder.resolve("f.json");
        Files.writeString(p, text);
        return p;
    }

    /** Each of the texts is refused with a sentence, never with anything else. */
    private void refused(Consumer<Path> read, String... texts) throws Exception {
        for (String t : texts) {
            Path p = file(t);
            assertThatThrownBy(() -> read.accept(p)).as(t).isInstanceOf(BadInput.class);
        }
        assertThatThrownBy(() -> read.accept(folder.resolve("nothing.json"))).isInstanceOf(BadInput.class);
    }

    private static SolvedCamera camera() {
        List<SolvedCamera.Frame> f = new ArrayList<>();
        for (int n = 3; n <= 6; n++)
            f.add(new SolvedCamera.Frame(
                    n, Pose.lookAt(new Vec3(0.3 * n, 1.7, 4), new Vec3(0, 0.4, -3), Vec3.Y), 900, 0.2, 50));
        return new SolvedCamera(
                960, 540, new Rate(25, 1), "moving", 0.2, 9, new Lens(900, 470, 280, -0.05, 0.01), f, List.of());
    }

    @Test
    void aLensIsWrittenReadAndFitsOtherSizesOfItsShape() throws Exception {
        Path p = folder.resolve("lens.json");
        Lens l = new Lens(900, 470, 280, -0.1, 0.02, -0.003, 0.0004, -0.0005);
        LensFile.write(p, new LensFile.Calibrated(l, 960, 540, 0.31));
        LensFile.Calibrated c = LensFile.read(p);
        assertThat(c.lens()).isEqualTo(l);
        assertThat(c.rmsPx()).isEqualTo(0.31);
        Lens twice = c.at(1920, 1080);
        assertThat(twice.focalPx()).isEqualTo(1800);
        // The same ray lands in the same part of the picture.
        double[] a = l.project(new Vec3(0.3, 0.2, -1)), b = twice.project(new Vec3(0.3, 0.2, -1));
        assertThat(b[0]).isCloseTo(2 * a[0], within(1e-9));
        assertThat(b[1]).isCloseTo(2 * a[1], within(1e-9));
        assertThatThrownBy(() -> c.at(1000, 1000)).isInstanceOf(BadInput.class).hasMessageContaining("another shape");
        CameraFile.write(p, camera());
        assertThat(LensFile.read(p).lens()).isEqualTo(camera().lens());
        refused(
                LensFile::read,
                "",
                "no",
                "[]",
                "{\"schema\": \"dasein-lens/1\", \"width\": 960, \"height\": 540}",
                "{\"schema\": \"dasein-lens/1\", \"width\": -1, \"height\": 540, \"focalPx\": 900}",
                "{\"schema\": \"dasein-lens/1\", \"width\": 960, \"height\": 540, \"focalPx\": \"long\"}",
                "{\"schema\": \"other\"}");
    }

    @Test
    void linesRectanglesAndPlacesAreRead() throws Exception {
        LinesFile.Still s = LinesFile.read(
                file(
                        "{\"lines\": [{\"axis\": \"Z\", \"from\": [1, 2], \"to\": [300, 40.5]}], "
                                + "\"rectangle\": {\"corners\": [[100, 300], [400, 300], [350, 200], [150, 200]], \"width\": 2, "
                                + "\"length\": 3, \"metres\": true}, \"points\": [{\"at\": [10, 20], \"position\": [1, 0, -4]}]}"));
        assertThat(s.lines()).containsExactly(new StillSolver.Line(StillSolver.Axis.Z, 1, 2, 300, 40.5));
        assertThat(s.match().points()).containsExactly(new CameraMatch.Placed(10, 20, new Vec3(1, 0, -4)));
        assertThat(s.match().rectangle().metres()).isTrue();
        refused(
                LinesFile::read,
                "{}",
                "{\"lines\": [{\"axis\": \"w\", \"from\": [1, 2], \"to\": [300, 40]}]}",
                "{\"lines\": [{\"axis\": \"x\", \"from\": [1], \"to\": [300, 40]}]}",
                "{\"lines\": [{\"axis\": \"x\", \"from\": [1, 2], \"to\": [1e30, 40]}]}",
                "{\"rectangle\": {\"corners\": [[1, 2]], \"width\": 2, \"length\": 3}}",
                "{\"points\": [{\"at\": [10, 20]}]}",
                "not json");
    }

    @Test
    void picksAreReadAsASet() throws Exception {
        SetRecipe s = PicksFile.read(file("{\"ground\": [{\"1\": [10, 20]}, {\"1\": [30, 40], \"9\": [31, 41]}, "
                + "{\"2\": [50, 60]}], \"yardsticks\": [{\"name\": \"door\", \"metres\": 2.1, \"a\": {\"1\": [5, 6]}, "
                + "\"b\": {\"1\": [5, 90]}, \"weight\": 2}, {\"metres\": 1, \"a\": {\"3\": [7, 8]}}], "
                + "\"cameraHeightMetres\": 1.6, \"level\": {\"frame\": 1, \"rollDeg\": 0.5, \"tiltDeg\": -4}}"));
        assertThat(s.groundPoints()).hasSize(3);
        PickedPoint two = s.points().stream()
                .filter(p -> p.id() == s.groundPoints().get(1))
                .findFirst()
                .orElseThrow();
        assertThat(two.picks()).containsExactly(new PickedPoint.Pick(1, 30, 40), new PickedPoint.Pick(9, 31, 41));
        assertThat(s.yardsticks()).hasSize(3);
        assertThat(s.yardsticks().get(0).name()).isEqualTo("door");
        assertThat(s.yardsticks().get(0).weight()).isEqualTo(2);
        assertThat(s.yardsticks().get(1).to()).isEqualTo(SetRecipe.Yardstick.GROUND);
        assertThat(s.levels()).containsExactly(new SetRecipe.Level(1, 0.5, -4.0));
        refused(
                PicksFile::read,
                "[]",
                "{\"ground\": [{\"one\": [10, 20]}]}",
                "{\"ground\": [{\"1\": [10]}]}",
                "{\"ground\": [{}]}",
                "{\"yardsticks\": [{\"metres\": 1, \"a\": {\"1\": [1, 2]}, \"weight\": -1}]}");
    }

    @Test
    void hintsAreRead() throws Exception {
        Hints h = HintsFile.read(file("{\"weights\": [{\"track\": 3, \"weight\": 2}], \"measured\": [{\"track\": 5, "
                + "\"position\": [1, 2, 3]}, {\"track\": 6, \"position\": [0, 0, 0], \"off\": 0.2}]}"));
        assertThat(h.weights()).containsExactly(new Hints.Weight(3, 2));
        assertThat(h.measured())
                .containsExactly(new Hints.Measured(5, new Vec3(1, 2, 3), 0.01), new Hints.Measured(6, Vec3.ZERO, 0.2));
        refused(
                HintsFile::read,
                "{\"weights\": [{\"track\": 3}]}",
                "{\"weights\": [{\"track\": 3, \"weight\": 1000}]}",
                "{\"measured\": [{\"track\": 5, \"position\": [1, 2]}]}",
                "{\"measured\": [{\"track\": 5, \"position\": [1, 2, 3], \"off\": 0}]}");
    }

    @Test
    void aSolvedThingComesBack() throws Exception {
        List<ObjectSolver.Frame> frames = new ArrayList<>();
        for (int f = 4; f <= 6; f++)
            frames.add(new ObjectSolver.Frame(
                    f, new Pose(Quat.axisAngle(Vec3.Y, 0.1 * f), new Vec3(f, 0.5, -3)), 0.3, 20 + f));
        ObjectSolver.Result r = new ObjectSolver.Result(
                frames, List.of(new SolvedCamera.Point(7, new Vec3(0.1, 0.2, 0.3), 0.4)), 0.35, 5.5);
        Path p = folder.resolve("o.json");
        ObjectFile.write(p, camera(), r);
        ObjectSolver.Result q = ObjectFile.read(p);
        assertThat(q.frames()).hasSize(3);
        for (int k = 0; k < 3; k++) {
            Pose a = r.frames().get(k).objectToWorld(), b = q.frames().get(k).objectToWorld();
            assertThat(q.frames().get(k).frame()).isEqualTo(4 + k);
            assertThat(q.frames().get(k).tracks()).isEqualTo(24 + k);
            assertThat(b.position().distance(a.position())).isLessThan(1e-9);
            assertThat(b.rotation().angleTo(a.rotation())).isLessThan(1e-7);
        }
        assertThat(q.distance()).isEqualTo(5.5);
        assertThat(q.points().get(0).position()).isEqualTo(new Vec3(0.1, 0.2, 0.3));
        String text = Files.readString(p);
        refused(
                ObjectFile::read,
                text.replace("objectToWorld", "elsewhere"),
                text.substring(0, text.length() / 2),
                "{}");
    }

    @Test
    void thingsThatMoveComeBack() throws Exception {
        NavigableMap<Integer, Pose> way = new TreeMap<>();
        way.put(1, new Pose(Quat.axisAngle(new Vec3(1, 2, 3), 0.7), new Vec3(1, 0.25, -3)));
        way.put(9, Pose.IDENTITY);
        String text = MovedFile.toJson(Map.of(2, way));
        Map<Integer, NavigableMap<Integer, Pose>> back = MovedFile.read(file(text));
        assertThat(back).isEqualTo(Map.of(2, way));
        refused(
                MovedFile::read,
                "{}",
                "nonsense",
                text.replace("dasein-moved/1", "dasein-moved/9"),
                text.replace("\"9\"", "\"nine\""),
                "{\"schema\": \"dasein-moved/1\", \"things\": {\"1\": {\"1\": [0, 0, 0, 0, 0, 0, 2]}}}",
                "{\"schema\": \"dasein-moved/1\", \"things\": {\"1\": {\"1\": [0, 0, 0]}}}");
    }

    /** A table that people may have touched in a spreadsheet. */
    @Test
    void aCameraTableThatWasTouchedIsReadOrRefused() throws Exception {
        String text = CameraCsv.write(camera());
        SolvedCamera c = CameraCsv.read(text.replace("\n", "\r\n") + "\r\n\r\n", "c.csv");
        assertThat(c.frames()).hasSize(4);
        assertThat(c.rate()).isEqualTo(new Rate(25, 1));
        assertThat(c.lens().k1()).isCloseTo(-0.05, within(1e-9));
        // Rows in another order are put in order.
        String[] lines = text.split("\\R");
        String turned = String.join("\n", lines[0], lines[1], lines[5], lines[3], lines[4], lines[2]);
        assertThat(CameraCsv.read(turned, "c.csv").frames())
                .extracting(SolvedCamera.Frame::frame)
                .containsExactly(3, 4, 5, 6);
        for (String bad : new String[] {
            "",
            text.replace("width=960", "width=none"),
            text.replaceFirst("# .*", "#"),
            lines[0] + "\n" + lines[1],
            text + "\n7,1,2,3",
            text.replace(",", ";")
        })
            assertThatThrownBy(() -> CameraCsv.read(bad, "c.csv"))
                    .isInstanceOf(BadInput.class)
                    .hasMessageContaining("c.csv");
    }
}
