package dasein.shoot;

import static dasein.shoot.Noise.*;
import static dasein.shoot.Strider.BODY;
import static dasein.shoot.Strider.HEAD;
import static dasein.shoot.Strider.LEGS;
import static dasein.shoot.Strider.NECK;
import static dasein.shoot.Strider.NECK2;
import static dasein.shoot.Strider.TAIL;

import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;

/** Motions of the strider's skeleton as BVH: turns about Z, then X, then Y. */
final class StriderMotions {
    private final Strider strider = new Strider();
    private final List<Strider.Joint> joints = strider.joints;

    private StriderMotions() {}

    /** Motions of its skeleton, to be put on it: it lowers itself to the water, and it shakes itself dry. */
    static void write(Path folder) throws IOException {
        Files.createDirectories(folder);
        new StriderMotions().motion(folder.resolve("drink.bvh"), 6, (t, turns) -> {
            double down = Math.pow(Math.sin(Math.PI * Math.min(1, Math.max(0, (t - 0.08) / 0.84))), 0.6),
                    sip = down > 0.9 ? 0.05 * Math.sin(24 * Math.PI * t) : 0;
            turns.get(BODY).add(Quat.fromRotationVector(0.20 * down, 0, 0));
            turns.get(NECK).add(Quat.fromRotationVector(0.75 * down, 0, 0));
            turns.get(NECK2).add(Quat.fromRotationVector(0.55 * down + sip, 0, 0));
            turns.get(HEAD).add(Quat.fromRotationVector(-0.35 * down + sip, 0, 0));
            turns.get(TAIL).add(Quat.fromRotationVector(-0.2 * down, 0, 0));
            return new Vec3(0, -0.16 * down, 0.05 * down);
        });
        new StriderMotions().motion(folder.resolve("shake.bvh"), 2.5, (t, turns) -> {
            double on = Math.pow(Math.sin(Math.PI * t), 0.8), w = 18 * Math.PI * t;
            turns.get(BODY).add(Quat.fromRotationVector(0, 0, 0.05 * on * Math.sin(w)));
            turns.get(NECK).add(Quat.fromRotationVector(0.1 * on, 0, 0.16 * on * Math.sin(w - 0.6)));
            turns.get(NECK2).add(Quat.fromRotationVector(0.1 * on, 0, 0.24 * on * Math.sin(w - 1.1)));
            turns.get(HEAD).add(Quat.fromRotationVector(-0.1 * on, 0, 0.4 * on * Math.sin(w - 1.6)));
            turns.get(TAIL).add(Quat.fromRotationVector(0, 0.3 * on * Math.sin(w - 2), 0));
            return new Vec3(0.01 * on * Math.sin(w), -0.05 * on, 0);
        });
    }

    /** Turns of body, neck, head and tail at a part of the motion; where the body goes. */
    private interface Pose4 {
        Vec3 at(double t, List<List<Quat>> turns);
    }

    private void motion(Path path, double seconds, Pose4 of) throws IOException {
        int n = (int) Math.round(30 * seconds);
        StringBuilder b = new StringBuilder("HIERARCHY\n");
        hierarchy(b, BODY, "");
        b.append("MOTION\nFrames: ")
                .append(n + 1)
                .append("\nFrame Time: ")
                .append(String.format(Locale.ROOT, "%.6f", seconds / n))
                .append('\n');
        for (int i = 0; i <= n; i++) {
            List<List<Quat>> turns = new ArrayList<>();
            for (int k = 0; k < joints.size(); k++) turns.add(new ArrayList<>());
            Vec3 sway = of.at((double) i / n, turns);
            // Legs stand in the world: what the body leans is taken off again at the hips.
            Quat lean = turns.get(BODY).get(0);
            for (int leg = 0; leg < 4; leg++) {
                Vec3 hip =
                        joints.get(LEGS + 3 * leg).at().minus(joints.get(BODY).at());
                strider.solveLeg(leg, sway.plus(lean.rotate(hip).minus(hip)), 0, 0, turns);
                List<Quat> h = turns.get(LEGS + 3 * leg);
                h.set(0, lean.conjugate().times(h.get(0)).unit());
            }
            Vec3 at = joints.get(BODY).at().plus(sway);
            b.append(String.format(Locale.ROOT, "%.5f %.5f %.5f", at.x(), at.y(), at.z()));
            values(b, BODY, turns);
            b.append('\n');
        }
        Files.writeString(path, b);
    }

    private List<Integer> children(int joint) {
        return IntStream.range(0, joints.size())
                .filter(c -> joints.get(c).parent() == joint)
                .boxed()
                .toList();
    }

    private void hierarchy(StringBuilder b, int joint, String indent) {
        Strider.Joint j = joints.get(joint);
        Vec3 o = joint == BODY ? Vec3.ZERO : j.at().minus(joints.get(j.parent()).at());
        b.append(indent)
                .append(joint == BODY ? "ROOT " : "JOINT ")
                .append(j.name().replace(' ', '_'))
                .append('\n')
                .append(indent)
                .append("{\n");
        b.append(String.format(
                Locale.ROOT,
                "%s  OFFSET %.5f %.5f %.5f%n%s  CHANNELS %s%n",
                indent,
                o.x(),
                o.y(),
                o.z(),
                indent,
                joint == BODY
                        ? "6 Xposition Yposition Zposition Zrotation Xrotation Yrotation"
                        : "3 Zrotation Xrotation Yrotation"));
        for (int c : children(joint)) hierarchy(b, c, indent + "  ");
        if (children(joint).isEmpty())
            b.append(indent)
                    .append("  End Site\n")
                    .append(indent)
                    .append("  {\n")
                    .append(indent)
                    .append(j.name().endsWith("foot") ? "    OFFSET 0 -0.07 0\n" : "    OFFSET 0 0 0.2\n")
                    .append(indent)
                    .append("  }\n");
        b.append(indent).append("}\n");
    }

    /** Turns about Z, then X, then Y, as the channels say. */
    private void values(StringBuilder b, int joint, List<List<Quat>> turns) {
        Quat q = turns.get(joint).isEmpty() ? Quat.IDENTITY : turns.get(joint).get(0);
        double[] m = q.matrix();
        double x = Math.asin(Math.max(-1, Math.min(1, m[7]))), z = Math.atan2(-m[1], m[4]), y = Math.atan2(-m[6], m[8]);
        b.append(
                String.format(Locale.ROOT, " %.4f %.4f %.4f", Math.toDegrees(z), Math.toDegrees(x), Math.toDegrees(y)));
        for (int c : children(joint)) values(b, c, turns);
    }
}
