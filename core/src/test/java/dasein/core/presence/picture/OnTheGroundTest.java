package dasein.core.presence.picture;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Group;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.light.Clues;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.presence.Bare;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Finding.State;
import dasein.core.render.pass.Passes;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** What shadow lies on, what it lies on twice, what wet ground mirrors and what stands before performers. */
class OnTheGroundTest {
    private static final int W = 320, H = 180;
    private static final Pose EYE = Pose.lookAt(new Vec3(0, 1.6, 6), new Vec3(0, 0.6, 0), Vec3.Y);
    private static final Lens LENS = new Lens(300, W / 2.0, H / 2.0, 0, 0);

    /** A camera with points at some height over the ground about the middle, and their tracks. */
    private static Bare shot(double height, double z) {
        Bare b = new Bare();
        List<SolvedCamera.Point> points = new ArrayList<>();
        List<Track> tracks = new ArrayList<>();
        for (int k = 0; k < 8; k++) {
            Vec3 p = new Vec3(-0.35 + 0.1 * k, height, z);
            double[] q = LENS.project(EYE.toLocal(p));
            points.add(new SolvedCamera.Point(k, p, 0.2));
            tracks.add(new Track(k, new int[] {1}, new double[] {q[0]}, new double[] {q[1]}));
        }
        b.camera = new SolvedCamera(
                W,
                H,
                new Rate(24, 1),
                "moving",
                0.2,
                10,
                LENS,
                List.of(new SolvedCamera.Frame(1, EYE, 300, 0.2, 8)),
                points);
        b.tracks = tracks;
        b.set = new SetRecipe(List.of(), 0, 0, 0, List.of(), new SetRecipe.Catcher(0, 0, 12, 12), 0, 0.3);
        return b;
    }

    private static Image flat(double v) {
        Image im = new Image(W, H, 3);
        for (float[] p : im.planes) Arrays.fill(p, (float) v);
        return im;
    }

    private static Finding of(Check c, Bare b, Image plate, Passes p, Image comp) {
        View v = new View(EYE, EYE, LENS, W, H);
        CompRecipe r = CompRecipe.BLANK.with(Group.GRAIN.on(), 0);
        c.look(
                new Check.Frame(1, plate, p, comp, v, b.set.catcher(), 0, 0, false, r, Encoding.REC709, k -> comp),
                b.subject());
        return c.finding(b.subject());
    }

    private static Passes shaded(float left) {
        Passes p = new Passes(W, H);
        for (float[] s : p.shadow) for (int i = W * H / 3; i < s.length; i++) s[i] = left;
        return p;
    }

    @Test
    void shadowLaidFlatOverWhatStandsUpIsFound() {
        Finding stands = of(new UnbuiltSurface(), shot(0.5, 0), flat(0.3), shaded(0.5f), flat(0.2));
        assertThat(stands.state()).isEqualTo(State.FOUND);
        assertThat(stands.figure()).isEqualTo(8);
        assertThat(stands.place()).isNotNull();
        assertThat(of(new UnbuiltSurface(), shot(0.02, 0), flat(0.3), shaded(0.5f), flat(0.2))
                        .state())
                .as("points of the ground itself")
                .isEqualTo(State.GOOD);
        assertThat(of(new UnbuiltSurface(), shot(0.5, 0), flat(0.3), shaded(1), flat(0.3))
                        .state())
                .as("no shadow there")
                .isEqualTo(State.GOOD);
    }

    /** A wall 40 m long and turned: what stands beside it is not built, what is of it is. */
    @Test
    void aLongPieceHidesNothingBesideIt() {
        for (double aside : new double[] {0, 2}) {
            Bare b = shot(0.5, 0);
            double
                    x =
                            b.camera.points().stream()
                                    .mapToDouble(q -> q.position().x())
                                    .average()
                                    .orElseThrow(),
                    z =
                            b.camera.points().stream()
                                    .mapToDouble(q -> q.position().z())
                                    .average()
                                    .orElseThrow();
            b.set = b.set.withPieces(List.of(new Piece(
                    1, "wall", Piece.Kind.BOX, x, 0, z + 2 * aside, 90, 2, 2, 40, 0, List.of(), List.of(), 0, 0)));
            assertThat(of(new UnbuiltSurface(), b, flat(0.3), shaded(0.5f), flat(0.2))
                            .state())
                    .isEqualTo(aside == 0 ? State.GOOD : State.FOUND);
        }
    }

    /** Where a performer hides the sky, it is darker in the sun's shadow, too. */
    @Test
    void darkRightUnderPerformersIsNoShadowOfTheSun() {
        Bare b = shot(0, 0);
        b.clues = Clues.NONE.with(new Clues.Patch(1, 1, 100, 150, false));
        Passes under = shaded(0.5f);
        Arrays.fill(under.ao, 0.5f);
        assertThat(of(new DoubledShadow(), b, flat(0.1), under, flat(0.05)).state())
                .isEqualTo(State.GOOD);
        // Single dark pixels of a noisy pass, in each of which the comp is as dark.
        Passes noisy = shaded(1);
        Image comp = flat(0.1);
        for (int i = 0; i < W * H; i += 9) {
            for (float[] c : noisy.shadow) c[i] = 0.4f;
            for (float[] c : comp.planes) c[i] = 0.04f;
        }
        assertThat(of(new DoubledShadow(), b, flat(0.1), noisy, comp).state()).isEqualTo(State.GOOD);
    }

    @Test
    void shadowInARealShadowIsFound() {
        Bare b = shot(0, 0);
        b.clues = Clues.NONE.with(new Clues.Patch(1, 1, 100, 150, false));
        assertThat(of(new DoubledShadow(), b, flat(0.1), shaded(0.5f), flat(0.05))
                        .state())
                .isEqualTo(State.FOUND);
        assertThat(of(new DoubledShadow(), b, flat(0.1), shaded(0.5f), flat(0.095))
                        .state())
                .as("spared")
                .isEqualTo(State.GOOD);
        assertThat(of(new DoubledShadow(), shot(0, 0), flat(0.1), shaded(0.5f), flat(0.05))
                        .state())
                .as("nobody marked a real shadow")
                .isEqualTo(State.UNSEEN);
        Image cracks = flat(0.4);
        for (float[] c : cracks.planes) for (int i = 0; i < c.length; i++) if (i % W % 12 < 2 || near(i)) c[i] = 0.1f;
        assertThat(of(new DoubledShadow(), b, cracks, shaded(0.5f), flat(0.05)).state())
                .as("cracks of lit ground are no shadow")
                .isEqualTo(State.GOOD);
    }

    /** A few pixels about the place that is marked. */
    private static boolean near(int i) {
        return Math.abs(i % W - 100) < 7 && Math.abs(i / W - 150) < 7;
    }

    /** Noise above the horizon, and its mirror image below it or noise of its own. */
    private static Image mirrored(boolean wet) {
        Random r = new Random(5);
        Image im = flat(0.3);
        float[] far = new float[64 * 64];
        for (int i = 0; i < far.length; i++) far[i] = r.nextFloat();
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++) {
                Vec3 d = EYE.rotation().rotate(LENS.ray(x + 0.5, y + 0.5)).unit();
                double up = wet ? Math.abs(d.y()) : d.y();
                int u = Math.floorMod((int) Math.floor(d.x() * 90), 64),
                        v = Math.floorMod((int) Math.floor(up * 90), 64);
                for (float[] p : im.planes) p[y * W + x] = 0.2f + 0.2f * far[v * 64 + u];
            }
        return im;
    }

    @Test
    void groundThatMirrorsInThePlateAndNotInTheSetIsFound() {
        Bare b = shot(0, 0);
        SetRecipe.Catcher far = new SetRecipe.Catcher(0, -40, 100, 100);
        b.set = new SetRecipe(List.of(), 0, 0, 0, List.of(), far, 0, 0.3);
        assertThat(of(new WetGround(), b, mirrored(true), new Passes(W, H), mirrored(true))
                        .state())
                .isEqualTo(State.FOUND);
        assertThat(of(new WetGround(), b, mirrored(false), new Passes(W, H), mirrored(false))
                        .state())
                .isEqualTo(State.GOOD);
        b.set = new SetRecipe(List.of(), 0, 0, 0, List.of(), far, 0.5, 0.3);
        assertThat(of(new WetGround(), b, mirrored(true), new Passes(W, H), mirrored(true))
                        .state())
                .as("it is said to be wet")
                .isEqualTo(State.GOOD);
    }

    @Test
    void aPerformerOverNearerPointsIsFound() {
        Passes p = new Passes(W, H);
        Arrays.fill(p.alpha, 1);
        Arrays.fill(p.depth, 6);
        assertThat(of(new DepthOrder(), shot(0.5, 3), flat(0.3), p, flat(0.3)).state())
                .isEqualTo(State.FOUND);
        assertThat(of(new DepthOrder(), shot(0.5, -3), flat(0.3), p, flat(0.3)).state())
                .as("they lie behind it")
                .isEqualTo(State.GOOD);
    }
}
