package dasein.core.presence.picture;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.cast.Blocking;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.presence.Bare;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.render.pass.Passes;
import dasein.core.shot.OnSet;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class ShadowEdgeTest {
    private final Pose pose = Pose.lookAt(new Vec3(0, 2, 6), new Vec3(0, 0, -1), Vec3.Y);
    private final View view = new View(pose, pose, new Lens(300, 160, 90, 0, 0), 320, 180);

    /** A round shadow of radius 1 m at the origin. */
    private Passes shadow() {
        Passes p = new Passes(320, 180);
        for (float[] s : p.shadow) Arrays.fill(s, 1);
        for (int y = 0; y < 180; y++) {
            for (int x = 0; x < 320; x++) {
                Vec3 d = pose.rotation().rotate(view.lens().ray(x + 0.5, y + 0.5));
                if (d.y() >= 0) continue;
                Vec3 at = pose.position().plus(d.times(-pose.position().y() / d.y()));
                if (Math.hypot(at.x(), at.z()) < 1) for (float[] s : p.shadow) s[y * 320 + x] = 0.5f;
            }
        }
        return p;
    }

    @Test
    void aShadowCutByTheCatcherIsFoundAndOneInsideIsNot() {
        ShadowEdge cut = new ShadowEdge(), whole = new ShadowEdge();
        // The plate is twice as wide as the passes.
        Bare plate = new Bare();
        plate.width = 640;
        plate.height = 360;
        cut.look(
                new Check.Frame(12, null, shadow(), null, view, new SetRecipe.Catcher(0.6, 0, 2, 6), 0, 0, false),
                plate.subject());
        whole.look(
                new Check.Frame(12, null, shadow(), null, view, new SetRecipe.Catcher(0, 0, 4, 4), 0, 0, false),
                plate.subject());
        assertThat(cut.finding(null).passed()).isFalse();
        assertThat(cut.finding(null).sentence()).contains("frame 12").contains("50 %");
        Finding.Place at = cut.finding(null).place();
        // The edge runs through x = -0.4 at the left: in pixels of the plate, left of its middle.
        assertThat(at.x()).isBetween(200.0, 300.0);
        assertThat(at.y()).isBetween(180.0, 300.0);
        assertThat(whole.finding(null).passed()).isTrue();
    }

    /** What is shaded there is the wall that stands before the edge, not the ground at its end. */
    @Test
    void anEdgeBehindAPieceIsNotSeen() {
        Piece wall = new Piece(
                1,
                "wall",
                Piece.Kind.WALL,
                -0.4,
                0,
                2,
                0,
                3,
                2,
                0,
                0,
                List.of(),
                List.of(Piece.Role.SHADOW, Piece.Role.HIDE),
                0,
                0);
        SetRecipe.Catcher catcher = new SetRecipe.Catcher(0.6, 0, 2, 6);
        for (boolean built : new boolean[] {false, true}) {
            Bare plate = new Bare();
            SetRecipe set = SetRecipe.BLANK.withPieces(built ? List.of(wall) : List.of());
            plate.blocking = new Blocking(
                    List.of(), Map.of(), 1, 24, new OnSet(set, null, Map.of(), Map.of(), List.of(), Map.of()));
            ShadowEdge c = new ShadowEdge();
            c.look(new Check.Frame(12, null, shadow(), null, view, catcher, 0, 0, false), plate.subject());
            assertThat(c.finding(null).passed()).isEqualTo(built);
        }
    }
}
