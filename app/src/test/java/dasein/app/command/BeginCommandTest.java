package dasein.app.command;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.cast.StandIn;
import dasein.core.format.Exr;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.math.Vec3;
import dasein.core.plate.Plate;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import dasein.core.track.TrackFile;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** One command from a plate to a first picture, whose files the other commands take. */
class BeginCommandTest {
    @TempDir
    Path folder;

    private int begin(String plate, String... more) {
        String[] args = new String[5 + more.length];
        args[0] = "begin";
        args[1] = "--plate";
        args[2] = "demo/" + plate + ".mp4";
        args[3] = "--out";
        args[4] = folder.toString();
        System.arraycopy(more, 0, args, 5, more.length);
        return Headless.run(args);
    }

    @Test
    void aPlateBecomesAFirstPicture() throws Exception {
        assertThat(begin("LW_040", "--last", "20", "--model", "demo/models/crate.glb"))
                .isZero();
        SolvedCamera c = CameraFile.read(folder.resolve("camera.json"));
        assertThat(c.rmsPx()).isLessThan(0.7);
        assertThat(c.frames()).hasSize(20);
        assertThat(TrackFile.read(folder.resolve("tracks.csv"))).hasSizeGreaterThan(100);
        assertThat(Exr.readColour(folder.resolve("light.exr")).width).isEqualTo(1024);
        Shot s = ShotJson.read(Files.readString(folder.resolve("shot.json")));
        Vec3 at = StandIn.place(c);
        assertThat(s.performers().get(0).x()).isEqualTo(at.x());
        // The picture is the plate, but where the stand-in is seen.
        Image first = Stills.read(folder.resolve("first.png"), Encoding.REC709);
        int frame = c.frames().get(10).frame();
        try (Plate p = Plate.open(Path.of("demo/LW_040.mp4"), null, null)) {
            Image plate = p.frame(frame).resize(first.width, first.height);
            double k = (double) first.width / c.width();
            double[] px = c.lens(frame).project(c.frame(frame).pose().toLocal(at.plus(new Vec3(0, 0.9, 0))));
            float most = 0;
            for (int y = (int) (px[1] * k) - 30; y < px[1] * k + 30; y++)
                for (int x = (int) (px[0] * k) - 30; x < px[0] * k + 30; x++)
                    most = Math.max(
                            most,
                            Math.abs(first.planes[0][y * first.width + x] - plate.planes[0][y * first.width + x]));
            assertThat(most).isGreaterThan(0.02f);
            assertThat(first.planes[0][5 * first.width + 5])
                    .isCloseTo(plate.planes[0][5 * first.width + 5], org.assertj.core.api.Assertions.within(0.02f));
        }
    }

    /** From a tripod: nothing can be solved without a person. */
    @Test
    void whatNeedsADecisionIsNoSolution() {
        assertThat(begin("LW_050")).isEqualTo(3);
        assertThat(folder.resolve("shot.json")).doesNotExist();
    }
}
