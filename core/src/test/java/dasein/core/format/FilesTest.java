package dasein.core.format;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.render.Passes;
import dasein.core.solve.CameraFile;
import dasein.core.solve.CameraGltf;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import de.javagl.jgltf.model.io.GltfModelReader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What we write is read back by readers that are not ours (tinyexr, jgltf), or by our own where the format is ours. */
class FilesTest {
    @TempDir Path folder;

    @Test
    void passesComeBackThroughTinyExr() {
        Passes p = new Passes(70, 37);
        Random r = new Random(4);
        for (int i = 0; i < 70 * 37; i++) {
            p.alpha[i] = r.nextFloat();
            p.beauty[2][i] = 10 * r.nextFloat();
            p.shadow[0][i] = i % 3 == 0 ? 1 : r.nextFloat();
            p.depth[i] = i % 5 == 0 ? Float.POSITIVE_INFINITY : 1000 * r.nextFloat();
            p.id[i] = i % 4;
        }
        p.noise = 0.0125f;
        Path f = folder.resolve("p.exr");
        p.write(f);
        Passes q = Passes.read(f);
        // Halves keep eleven bits; depth and identity are stored in full.
        for (int i = 0; i < 70 * 37; i++) {
            assertThat(q.beauty[2][i]).isCloseTo(p.beauty[2][i], within(10f / 2048));
            assertThat(q.shadow[0][i] == 1).isEqualTo(p.shadow[0][i] == 1 || Half.toFloat(Half.of(p.shadow[0][i])) == 1);
            assertThat(q.depth[i]).isEqualTo(p.depth[i]);
            assertThat(q.id[i]).isEqualTo(p.id[i]);
        }
    }

    /** IEEE 754-2008 binary16: values from the standard's tables. */
    @Test
    void halvesAreTheStandards() {
        assertThat(Half.of(1)).isEqualTo(0x3c00);
        assertThat(Half.of(65504)).isEqualTo(0x7bff);
        assertThat(Half.of(-2)).isEqualTo(0xc000);
        assertThat(Half.of(0x1p-24f)).isEqualTo(1);
        for (int h = 0; h < 0x7c00; h++) assertThat(Half.of(Half.toFloat(h))).isEqualTo(h);
    }

    private static SolvedCamera camera() {
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int f = 5; f < 9; f++) frames.add(new SolvedCamera.Frame(f, Pose.lookAt(new Vec3(0.1 * f, 1.5, 3), new Vec3(0, 1, -4), Vec3.Y), 1400.5, 0.3, 200));
        return new SolvedCamera(1280, 720, new Rate(24000, 1001), "moving", 0.31, 12, -0.08, 0.01, 641, 359, frames, List.of(new SolvedCamera.Point(7, new Vec3(1, 2, -3), 0.4)));
    }

    @Test
    void cameraFilesComeBackTheSame() {
        SolvedCamera c = camera(), back = CameraFile.fromJson(CameraFile.toJson(c));
        assertThat(back.rate()).isEqualTo(c.rate());
        assertThat(back.k1()).isEqualTo(c.k1());
        assertThat(back.points()).isEqualTo(c.points());
        for (int k = 0; k < 4; k++) assertThat(back.frames().get(k).pose().rotation().angleTo(c.frames().get(k).pose().rotation())).isLessThan(1e-9);
        assertThatThrownBy(() -> CameraFile.fromJson("{\"schema\":\"x\"}")).isInstanceOf(BadInput.class);
        assertThatThrownBy(() -> CameraFile.fromJson("{broken")).isInstanceOf(BadInput.class).hasMessageContaining("damaged");
    }

    @Test
    void theCameraAsGltfIsReadByAnotherLibrary() throws Exception {
        Path f = folder.resolve("c.glb");
        Files.write(f, CameraGltf.of(camera()));
        var m = new GltfModelReader().read(f);
        assertThat(m.getCameraModels()).hasSize(1);
        assertThat(m.getAnimationModels().get(0).getChannels()).hasSize(2);
        assertThat(m.getNodeModels().get(0).getTranslation()[1]).isEqualTo(1.5f);
        assertThat(m.getCameraModels().get(0).getCameraPerspectiveModel().getYfov()).isCloseTo((float) (2 * Math.atan(360 / 1400.5)), within(1e-6f));
    }

    @Test
    void tracksComeBackAndABadLineIsNamed() throws Exception {
        List<Track> t = List.of(new Track(3, new int[] {4, 5, 6}, new double[] {1.25, 2.5, 3.75}, new double[] {9, 8, 7}));
        TrackFile.write(folder.resolve("t.csv"), t);
        Track back = TrackFile.read(folder.resolve("t.csv")).get(0);
        assertThat(back.frames()).containsExactly(4, 5, 6);
        assertThat(back.x()).containsExactly(1.25, 2.5, 3.75);
        Files.writeString(folder.resolve("bad.csv"), "track,frame,x,y\n1,1,5,5\n1,two,5,5\n");
        assertThatThrownBy(() -> TrackFile.read(folder.resolve("bad.csv"))).isInstanceOf(BadInput.class).hasMessageContaining("line 3");
    }
}
