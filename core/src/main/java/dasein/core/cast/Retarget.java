package dasein.core.cast;

import dasein.core.BadInput;
import dasein.core.math.Affine;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.Motion;
import dasein.core.model.Posing;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * Puts a motion onto a model's skeleton. Turns are taken over in the world, not joint by joint, so that skeletons with
 * other axes take the same pose; where the two are at rest in different poses, each bone is first laid along that of
 * the motion.
 */
public final class Retarget {
    /** Words that mean the same joint in different skeletons, without side. */
    private static final String[][] SAME = {
        {"hips", "hip", "pelvis", "root", "body"},
        {"spine", "abdomen", "waist"},
        {"chest", "spine1", "torso", "upperchest", "spine2"},
        {"neck", "neck1"},
        {"head"},
        {"shoulder", "clavicle", "collar"},
        {"arm", "upperarm", "uparm"},
        {"forearm", "lowerarm", "elbow", "lowarm"},
        {"hand", "wrist"},
        {"upleg", "thigh", "upperleg"},
        {"leg", "shin", "calf", "knee", "lowleg", "lowerleg"},
        {"foot", "ankle"},
        {"toe", "toebase", "toes"}
    };

    private Retarget() {}

    /** Which node each joint of the motion moves, by their names; joints without a node of that name are left out. */
    public static Map<String, String> guess(Motion motion, Model model) {
        Map<String, String> byKey = new HashMap<>(), out = new LinkedHashMap<>();
        for (Model.Node n : model.nodes()) byKey.putIfAbsent(key(n.name()), n.name());
        for (Motion.Joint j : motion.joints()) {
            String exact = model.nodes().stream()
                    .map(Model.Node::name)
                    .filter(n -> n.equalsIgnoreCase(j.name()))
                    .findFirst()
                    .orElse(byKey.get(key(j.name())));
            if (exact != null && !out.containsValue(exact)) out.put(j.name(), exact);
        }
        return out;
    }

    /** A name without prefix, case and marks, its side first, its word the first of those that mean the same. */
    static String key(String name) {
        String
                s =
                        name.substring(name.lastIndexOf(':') + 1)
                                .replaceAll("([a-z])([A-Z])", "$1 $2")
                                .toLowerCase(Locale.ROOT)
                                .replaceAll("[^a-z0-9]+", " ")
                                .strip(),
                side = "";
        List<String> words = new ArrayList<>(Arrays.asList(s.split(" ")));
        for (String w : List.copyOf(words)) {
            boolean left = w.equals("l") || w.equals("left"), right = w.equals("r") || w.equals("right");
            if (!left && !right) continue;
            side = left ? "left " : "right ";
            words.remove(w);
        }
        String word = String.join("", words);
        if (side.isEmpty() && word.startsWith("left") && word.length() > 4) {
            side = "left ";
            word = word.substring(4);
        } else if (side.isEmpty() && word.startsWith("right") && word.length() > 5) {
            side = "right ";
            word = word.substring(5);
        }
        for (String[] same : SAME) if (Arrays.asList(same).contains(word)) return side + same[0];
        return side + word;
    }

    /**
     * @param map node by joint; @param inPlace the root's way over the ground is left out, so that the model walks on
     *     the spot
     * @throws BadInput when nothing fits
     */
    public static Model.Clip clip(Motion motion, Model model, Map<String, String> map, boolean inPlace) {
        int joints = motion.joints().size(), nodes = model.nodes().size(), n = motion.frames().length;
        int[] nodeOf = new int[joints], jointOf = new int[nodes];
        pair(motion, model, map, nodeOf, jointOf);
        // At rest: places and turns of the model's nodes, places of the motion's joints.
        Posing posing = new Posing(model);
        Vec3[] at = new Vec3[nodes], from = new Vec3[joints];
        Quat[] rest = new Quat[nodes];
        for (int k = 0; k < nodes; k++) {
            double[] m = posing.node(k);
            at[k] = new Vec3(m[3], m[7], m[11]);
            rest[k] = Affine.rotation(m);
        }
        double low = rest(motion, from);
        Quat[] laid = new Quat[nodes];
        for (int k = 0; k < nodes; k++)
            laid[k] = jointOf[k] < 0 ? Quat.IDENTITY : laid(motion, model, jointOf[k], nodeOf, at, from);
        double ground = model.bounds()[1],
                floor = floor(motion),
                legs = from[0].y() - low,
                own = nodeOf[0] < 0 ? 0 : at[nodeOf[0]].y() - ground,
                ratio = legs > 1e-9 && own > 1e-9 ? own / legs : 1;
        float[] times = new float[n];
        float[][] turns = new float[nodes][];
        for (int k = 0; k < nodes; k++) if (jointOf[k] >= 0) turns[k] = new float[4 * n];
        float[] places = nodeOf[0] < 0 ? null : new float[3 * n];
        Quat[] world = new Quat[joints], now = new Quat[nodes];
        for (int f = 0; f < n; f++) {
            times[f] = (float) (f * motion.frameSeconds());
            for (int j = 0; j < joints; j++) {
                int p = motion.joints().get(j).parent();
                world[j] = p < 0
                        ? motion.turn(j, f)
                        : world[p].times(motion.turn(j, f)).unit();
            }
            for (int k = 0; k < nodes; k++) {
                Model.Node node = model.nodes().get(k);
                Quat above = node.parent() < 0 ? Quat.IDENTITY : now[node.parent()];
                Quat local =
                        new Quat(node.rotation()[0], node.rotation()[1], node.rotation()[2], node.rotation()[3]).unit();
                if (jointOf[k] >= 0) {
                    local = above.conjugate()
                            .times(world[jointOf[k]].times(laid[k]).times(rest[k]))
                            .unit();
                    // The shorter way round from frame to frame.
                    if (f > 0) {
                        float[] t = turns[k];
                        int o = 4 * f - 4;
                        if (t[o] * local.x() + t[o + 1] * local.y() + t[o + 2] * local.z() + t[o + 3] * local.w() < 0)
                            local = new Quat(-local.x(), -local.y(), -local.z(), -local.w());
                    }
                    float[] t = turns[k];
                    t[4 * f] = (float) local.x();
                    t[4 * f + 1] = (float) local.y();
                    t[4 * f + 2] = (float) local.z();
                    t[4 * f + 3] = (float) local.w();
                }
                now[k] = above.times(local).unit();
            }
            if (places == null) continue;
            Vec3 p = motion.place(0, f), begin = motion.place(0, 0);
            boolean moves = Arrays.stream(motion.joints().get(0).channels()).anyMatch(c -> c < 3);
            // Height over the motion's floor; its way over the ground from where it begins.
            Vec3 to = !moves
                    ? at[nodeOf[0]]
                    : new Vec3(
                            at[nodeOf[0]].x() + (inPlace ? 0 : ratio * (p.x() - begin.x())),
                            ground + ratio * (p.y() - floor),
                            at[nodeOf[0]].z() + (inPlace ? 0 : ratio * (p.z() - begin.z())));
            double[] up = model.nodes().get(nodeOf[0]).parent() < 0
                    ? Affine.identity()
                    : posing.node(model.nodes().get(nodeOf[0]).parent());
            float[] v = within(up, to);
            System.arraycopy(v, 0, places, 3 * f, 3);
        }
        return new Model.Clip(motion.name(), times[n - 1], channels(times, turns, nodeOf[0], places));
    }

    /** Which node each joint moves, and the other way round; -1 for none. */
    private static void pair(Motion motion, Model model, Map<String, String> map, int[] nodeOf, int[] jointOf) {
        Arrays.fill(nodeOf, -1);
        Arrays.fill(jointOf, -1);
        for (int j = 0; j < nodeOf.length; j++) {
            String to = map.get(motion.joints().get(j).name());
            if (to == null || to.isEmpty()) continue;
            for (int k = 0; k < jointOf.length; k++) {
                if (!model.nodes().get(k).name().equals(to) || jointOf[k] >= 0) continue;
                nodeOf[j] = k;
                jointOf[k] = j;
                break;
            }
        }
        if (Arrays.stream(nodeOf).allMatch(k -> k < 0))
            throw new BadInput("no joint of " + motion.name() + " has a part of the model to move");
    }

    /** Places of the joints at rest. @return height of the lowest end */
    private static double rest(Motion motion, Vec3[] at) {
        double low = Double.MAX_VALUE;
        for (int j = 0; j < at.length; j++) {
            Motion.Joint q = motion.joints().get(j);
            at[j] = q.parent() < 0 ? Vec3.ZERO : at[q.parent()].plus(q.offset());
            low = Math.min(low, at[j].y());
            if (q.end() != null) low = Math.min(low, at[j].plus(q.end()).y());
        }
        return low;
    }

    private static List<Model.Channel> channels(float[] times, float[][] turns, int root, float[] places) {
        List<Model.Channel> channels = new ArrayList<>();
        for (int k = 0; k < turns.length; k++)
            if (turns[k] != null)
                channels.add(
                        new Model.Channel(k, Model.Property.ROTATION, times, turns[k], 4, Model.Interpolation.LINEAR));
        if (places != null)
            channels.add(
                    new Model.Channel(root, Model.Property.TRANSLATION, times, places, 3, Model.Interpolation.LINEAR));
        return channels;
    }

    /** Lowest place of any joint in the first frame: what the motion stands on. */
    private static double floor(Motion m) {
        double low = Double.MAX_VALUE;
        Vec3[] at = new Vec3[m.joints().size()];
        Quat[] q = new Quat[at.length];
        for (int j = 0; j < at.length; j++) {
            Motion.Joint k = m.joints().get(j);
            at[j] = k.parent() < 0 ? m.place(j, 0) : at[k.parent()].plus(q[k.parent()].rotate(m.place(j, 0)));
            q[j] = k.parent() < 0 ? m.turn(j, 0) : q[k.parent()].times(m.turn(j, 0));
            low = Math.min(low, at[j].y());
            if (k.end() != null)
                low = Math.min(low, at[j].plus(q[j].rotate(k.end())).y());
        }
        return low;
    }

    /** The least turn that lays a node's bone along the motion's at rest: towards the next joint that both have. */
    private static Quat laid(Motion motion, Model model, int joint, int[] nodeOf, Vec3[] at, Vec3[] from) {
        for (int c = 0; c < motion.joints().size(); c++) {
            if (motion.joints().get(c).parent() != joint || nodeOf[c] < 0) continue;
            Vec3 own = at[nodeOf[c]].minus(at[nodeOf[joint]]), theirs = from[c].minus(from[joint]);
            // Where several hang on it no one of them says how it lies.
            long hang =
                    motion.joints().stream().filter(k -> k.parent() == joint).count();
            if (hang > 1 || own.length() < 1e-9 || theirs.length() < 1e-9) return Quat.IDENTITY;
            return Quat.between(own.unit(), theirs.unit());
        }
        // The last joint of a limb lies as its end says, the model's as its only child does.
        Vec3 end = motion.joints().get(joint).end();
        int[] below = java.util.stream.IntStream.range(0, model.nodes().size())
                .filter(k -> model.nodes().get(k).parent() == nodeOf[joint])
                .toArray();
        if (end == null || below.length != 1 || end.length() < 1e-9) return Quat.IDENTITY;
        Vec3 own = at[below[0]].minus(at[nodeOf[joint]]);
        return own.length() < 1e-9 ? Quat.IDENTITY : Quat.between(own.unit(), end.unit());
    }

    /** A place in a node's own space (Cramer's rule on its 3x4 map). */
    private static float[] within(double[] m, Vec3 p) {
        double x = p.x() - m[3], y = p.y() - m[7], z = p.z() - m[11];
        double a = m[5] * m[10] - m[6] * m[9],
                b = m[6] * m[8] - m[4] * m[10],
                c = m[4] * m[9] - m[5] * m[8],
                det = m[0] * a + m[1] * b + m[2] * c;
        if (Math.abs(det) < 1e-18) return new float[3];
        return new float[] {
            (float) ((x * a + y * (m[2] * m[9] - m[1] * m[10]) + z * (m[1] * m[6] - m[2] * m[5])) / det),
            (float) ((x * b + y * (m[0] * m[10] - m[2] * m[8]) + z * (m[2] * m[4] - m[0] * m[6])) / det),
            (float) ((x * c + y * (m[1] * m[8] - m[0] * m[9]) + z * (m[0] * m[5] - m[1] * m[4])) / det)
        };
    }
}
