package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.ground.Piece;
import dasein.core.ground.Piece.Kind;
import dasein.core.ground.Piece.Role;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.file.ModelGlb;
import dasein.core.model.file.ModelReader;
import dasein.core.plate.Rate;
import dasein.core.render.Quality;
import dasein.core.render.ray.Tracer;
import dasein.core.solve.SolvedCamera;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A box before a wall, painted by a known function of place and seen by a camera that travels past: the textures have
 * the colours of their places.
 */
class PieceColoursTest {
    private static final int W = 480, H = 270;
    private static final Lens LENS = new Lens(400, W / 2.0, H / 2.0, -0.05, 0);
    private static final List<Piece> PIECES = List.of(
            new Piece(
                    1,
                    "wall",
                    Kind.WALL,
                    0,
                    0,
                    -3,
                    0,
                    6,
                    2.5,
                    0,
                    0,
                    List.of(),
                    List.of(Role.SHADOW, Role.HIDE),
                    0.3,
                    1),
            new Piece(
                    2,
                    "crate",
                    Kind.BOX,
                    0.2,
                    0,
                    -1,
                    30,
                    0.8,
                    0.7,
                    0.6,
                    0,
                    List.of(),
                    List.of(Role.SHADOW, Role.HIDE),
                    0.3,
                    1));

    @TempDir
    Path folder;

    private static Pose at(int f) {
        return Pose.lookAt(new Vec3(-2.2 + 0.45 * f, 1.5, 2.5), new Vec3(0, 0.6, -2), Vec3.Y);
    }

    private static SolvedCamera camera() {
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int f = 1; f <= 9; f++) frames.add(new SolvedCamera.Frame(f, at(f), 400, 0.1, 50));
        return new SolvedCamera(W, H, new Rate(24, 1), "moving", 0.1, 10, LENS, frames, List.of());
    }

    private static float[] paint(double x, double y, double z) {
        return new float[] {
            (float) (0.4 + 0.3 * Math.sin(2 * x)),
            (float) (0.4 + 0.3 * Math.sin(2.5 * y)),
            (float) (0.4 + 0.3 * Math.sin(2 * z))
        };
    }

    private static Image plate(int f) {
        Tracer t = Tracer.of(new SetPieces(SetRecipe.BLANK.withPieces(PIECES), null, Map.of(), Map.of(), 24).at(f, f));
        Image im = new Image(W, H, 3);
        for (int y = 0; y < H; y++) {
            for (int x = 0; x < W; x++) {
                Vec3 e = at(f).position(),
                        d = at(f).rotation().rotate(LENS.ray(x + 0.5, y + 0.5)).unit();
                if (!t.nearest(
                        (float) e.x(),
                        (float) e.y(),
                        (float) e.z(),
                        (float) d.x(),
                        (float) d.y(),
                        (float) d.z(),
                        100,
                        0.5f,
                        0.5f)) continue;
                Vec3 q = e.plus(d.times(t.t));
                float[] c = paint(q.x(), q.y(), q.z());
                for (int k = 0; k < 3; k++) im.planes[k][y * W + x] = c[k];
            }
        }
        return im;
    }

    @Test
    void everyPlaceHasThePlatesColour() {
        PieceColours.Result r = PieceColours.of(
                SetRecipe.BLANK.withPieces(PIECES),
                camera(),
                Map.of(),
                Map.of(),
                PieceColoursTest::plate,
                Progress.NONE);
        // The crate covers part of the wall in every frame, but another part in each; its own back, far side and foot
        // are never seen.
        assertThat(r.seen().get(1)).isGreaterThan(0.9);
        assertThat(r.seen().get(2)).isBetween(0.3, 0.75);
        Path file = folder.resolve("set.glb");
        ModelGlb.write(file, r.model());
        Model m = ModelReader.read(file);
        assertThat(m.nodes()).extracting(Model.Node::name).containsExactly("wall", "crate");
        int far = 0, all = 0;
        for (Model.Part p : m.parts()) {
            for (int t = 0; t < p.index().length; t += 3) {
                for (double[] w : new double[][] {{1 / 3.0, 1 / 3.0}, {0.6, 0.2}, {0.2, 0.6}, {0.2, 0.2}}) {
                    double[] v = new double[5];
                    double[] weight = {w[0], w[1], 1 - w[0] - w[1]};
                    for (int k = 0; k < 3; k++) {
                        int i = p.index()[t + k];
                        for (int a = 0; a < 3; a++) v[a] += weight[k] * p.position()[3 * i + a];
                        for (int a = 0; a < 2; a++) v[3 + a] += weight[k] * p.uv()[2 * i + a];
                    }
                    // Only what some frame looks at from the front.
                    double best = 0;
                    int n = p.index()[t];
                    for (int f = 1; f <= 9; f++) {
                        Vec3 to = at(f).position()
                                .minus(new Vec3(v[0], v[1], v[2]))
                                .unit();
                        best = Math.max(
                                best,
                                to.dot(new Vec3(p.normal()[3 * n], p.normal()[3 * n + 1], p.normal()[3 * n + 2])));
                    }
                    if (best < 0.2) continue;
                    float[] got = new float[4], want = paint(v[0], v[1], v[2]);
                    m.materials()[p.material()].baseTexture().sample((float) v[3], (float) v[4], got);
                    all++;
                    for (int k = 0; k < 3; k++) if (Math.abs(got[k] - want[k]) > 0.02) far++;
                }
            }
        }
        assertThat(all).isGreaterThan(20);
        assertThat(far).isZero();
        assertThatThrownBy(() -> PieceColours.of(
                        SetRecipe.BLANK, camera(), Map.of(), Map.of(), PieceColoursTest::plate, Progress.NONE))
                .isInstanceOf(BadInput.class);
    }

    /** A frame that was painted clean tells the ground's colour instead of the frame that is rendered. */
    @Test
    void aPaintedFrameGivesItsColours() {
        Image red = new Image(W, H, 3), green = new Image(W, H, 3);
        java.util.Arrays.fill(red.planes[0], 0.3f);
        java.util.Arrays.fill(green.planes[1], 0.3f);
        for (boolean painted : new boolean[] {false, true}) {
            SetRecipe set = SetRecipe.BLANK.withColours(
                    painted ? List.of(new SetRecipe.ColourFrame(5, "0".repeat(64))) : List.of());
            ShotScene scene = new ShotScene(
                    Shot.BLANK.with(set),
                    camera(),
                    Map.of(),
                    null,
                    Map.of(),
                    f -> f == 5 ? green : red,
                    List.of(),
                    Map.of());
            float[] c = new float[3];
            scene.job(4, red, 1, new Quality(2, 2, 0, 1, false)).ground().albedo(0, 0, -2, 0, 1, 0, c);
            assertThat(c[painted ? 1 : 0]).isGreaterThan(4 * c[painted ? 0 : 1]);
        }
    }
}
