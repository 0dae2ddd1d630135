package dasein.core.cast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.Motion;
import dasein.core.model.Posing;
import dasein.core.model.file.BvhReader;
import dasein.core.model.file.ModelFile;
import dasein.core.model.file.ModelGlb;
import dasein.core.model.file.ModelReader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A motion of hip, arm and forearm on a skeleton with other axes, another rest pose and half the size: where hands go
 * is known.
 */
class RetargetTest {
    private static final String BVH =
            "HIERARCHY\nROOT Hips\n{\n OFFSET 0 0 0\n CHANNELS 6 Xposition Yposition Zposition Zrotation "
                    + "Xrotation Yrotation\n JOINT LeftArm\n {\n  OFFSET 0.2 0.6 0\n  CHANNELS 3 Zrotation "
                    + "Xrotation Yrotation\n  JOINT LeftForeArm\n  {\n   OFFSET 0.5 0 0\n   CHANNELS 3 "
                    + "Zrotation Xrotation Yrotation\n   End Site\n   {\n    OFFSET 0.4 0 0\n   }\n  }\n "
                    + "}\n JOINT LeftLeg\n {\n  OFFSET 0.1 -1 0\n  CHANNELS 3 Zrotation Xrotation "
                    + "Yrotation\n  End Site\n  {\n   OFFSET 0 0 0.1\n  }\n }\n}\n"
                    + "MOTION\nFrames: 2\nFrame Time: 0.5\n0 1 0 0 0 0 0 0 0 0 0 0 0 0 0\n0.6 1.2 2 0 0 90 "
                    + "90 0 0 0 0 -90 0 0 0\n";

    @TempDir
    Path folder;

    private static Model.Node node(String name, int parent, double x, double y, double z, double angle, Vec3 axis) {
        dasein.core.math.Quat q = dasein.core.math.Quat.axisAngle(axis, Math.toRadians(angle));
        return new Model.Node(
                name,
                parent,
                new float[] {(float) x, (float) y, (float) z},
                new float[] {(float) q.x(), (float) q.y(), (float) q.z(), (float) q.w()},
                new float[] {1, 1, 1},
                new float[0]);
    }

    /** Half as high; the arm hangs down at rest, along its node's own +Y. */
    private static Model model() {
        float[] foot = {0, 0, 0, 0.1f, 0, 0, 0, 0, 0.1f};
        Model.Part part = new Model.Part(
                0,
                -1,
                foot,
                new float[9],
                new float[6],
                new int[] {0, 1, 2},
                0,
                new int[0],
                new float[0],
                new float[0][],
                new float[0][]);
        return new Model(
                "half",
                List.of(
                        node("ground", -1, 0, 0, 0, 0, Vec3.Y),
                        node("rig:Pelvis", 0, 0, 0.5, 0, 0, Vec3.Y),
                        node("upper_arm.L", 1, 0.1, 0.3, 0, 180, Vec3.Z),
                        node("lower_arm.L", 2, 0, 0.25, 0, 0, Vec3.Y),
                        node("hand.L", 3, 0, 0.2, 0, 0, Vec3.Y),
                        node("shin.L", 1, 0.05, -0.5, 0, 0, Vec3.Y)),
                List.of(part),
                List.of(),
                List.of(),
                new Material[] {Material.matt(1, 1, 1)});
    }

    private Motion motion() throws Exception {
        Path p = folder.resolve("wave.bvh");
        Files.writeString(p, BVH);
        return BvhReader.read(p);
    }

    private static Vec3 at(Model m, Model.Clip c, double t, String name) {
        Posing p = new Posing(m);
        p.at(c, t);
        for (int i = 0; i < m.nodes().size(); i++)
            if (m.nodes().get(i).name().equals(name)) return new Vec3(p.node(i)[3], p.node(i)[7], p.node(i)[11]);
        throw new AssertionError(name);
    }

    @Test
    void handsGoWhereTheMotionHasThem() throws Exception {
        Model m = model();
        Map<String, String> map = Retarget.guess(motion(), m);
        assertThat(map)
                .containsExactlyInAnyOrderEntriesOf(new LinkedHashMap<>(Map.of(
                        "Hips",
                        "rig:Pelvis",
                        "LeftArm",
                        "upper_arm.L",
                        "LeftForeArm",
                        "lower_arm.L",
                        "LeftLeg",
                        "shin.L")));
        Model.Clip c = Retarget.clip(motion(), m, map, false);
        // In the first frame the motion rests with its arm out to +X; so does the model, whose own hangs.
        assertThat(at(m, c, 0, "lower_arm.L").distance(new Vec3(0.35, 0.8, 0))).isLessThan(1e-6);
        // Hips turned by 90 degrees about Y, arm by 90 about Z within that, forearm by -90 about its Y: in hip space
        // the arm points up and
        // the forearm along +Z before, which the hips turn to +X. The hip is 0.2 higher and 0.6, 2 further on, all by
        // half.
        Vec3 hip = new Vec3(0.3, 0.6, 1);
        assertThat(at(m, c, 0.5, "rig:Pelvis").distance(hip)).isLessThan(1e-6);
        assertThat(at(m, c, 0.5, "lower_arm.L").distance(hip.plus(new Vec3(0, 0.3 + 0.25, -0.1))))
                .isLessThan(1e-6);
        assertThat(at(m, c, 0.5, "hand.L").distance(hip.plus(new Vec3(0.2, 0.55, -0.1))))
                .isLessThan(1e-5);
        assertThat(at(m, Retarget.clip(motion(), m, map, true), 0.5, "rig:Pelvis")
                        .distance(new Vec3(0, 0.6, 0)))
                .isLessThan(1e-6);
        assertThatThrownBy(() -> Retarget.clip(motion(), m, Map.of("Hips", "nothing"), false))
                .isInstanceOf(BadInput.class);
        // Put into the model's file, the clip is there when it is read again.
        Path glb = folder.resolve("half.glb");
        ModelGlb.write(glb, m);
        Files.write(glb, ModelFile.with(glb, m, c));
        Model again = ModelReader.read(glb);
        assertThat(at(again, again.clip("wave"), 0.5, "hand.L").distance(hip.plus(new Vec3(0.2, 0.55, -0.1))))
                .isLessThan(1e-5);
        assertThat(at(again, again.clip("wave"), 0.25, "rig:Pelvis").y()).isCloseTo(0.55, within(1e-6));
    }

    @Test
    void whatIsNoMotionIsRefused() throws Exception {
        for (String s : List.of(
                "hello",
                BVH.substring(0, BVH.length() - 9),
                BVH.replace("Frames: 2", "Frames: 2000000"),
                BVH.replace("CHANNELS 6", "CHANNELS 7"),
                BVH.replace("0.5 0 0", "0.5 up 0"))) {
            Path p = folder.resolve("bad.bvh");
            Files.writeString(p, s);
            assertThatThrownBy(() -> BvhReader.read(p))
                    .isInstanceOf(BadInput.class)
                    .hasMessageContaining("bad.bvh");
        }
    }
}
