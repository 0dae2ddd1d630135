package dasein.core.model;

import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.List;

/**
 * Motion of a skeleton, as BVH files hold it: joints with their offsets at rest, where nothing is turned, and channels
 * over frames.
 *
 * @param joints the first is the root; each stands after the one it hangs on
 * @param frames values of all channels, joint by joint, in the file's order and units (degrees)
 */
public record Motion(String name, List<Joint> joints, double frameSeconds, float[][] frames) {

    /**
     * @param parent number, -1 of the root; @param offset from it; @param end where an end without channels lies, or
     *     null; @param first number of its first channel; @param channels 0 to 2 place, 3 to 5 turns about x, y, z, in
     *     the order in which they are applied
     */
    public record Joint(String name, int parent, Vec3 offset, Vec3 end, int first, int[] channels) {}

    /** Place of a joint against its parent in a frame. */
    public Vec3 place(int joint, int frame) {
        Joint j = joints.get(joint);
        double[] at = j.offset.array();
        boolean own = false;
        double[] v = new double[3];
        for (int k = 0; k < j.channels.length; k++) {
            if (j.channels[k] > 2) continue;
            own = true;
            v[j.channels[k]] = frames[frame][j.first + k];
        }
        // Position channels take the offset's place (common practice of writers).
        return own ? new Vec3(v[0], v[1], v[2]) : new Vec3(at[0], at[1], at[2]);
    }

    /**
     * Turn of a joint against its parent in a frame: its channels one after the other, each in the frame the last has
     * left.
     */
    public Quat turn(int joint, int frame) {
        Joint j = joints.get(joint);
        Quat q = Quat.IDENTITY;
        for (int k = 0; k < j.channels.length; k++) {
            if (j.channels[k] < 3) continue;
            q = q.times(Quat.axisAngle(
                    j.channels[k] == 3 ? Vec3.X : j.channels[k] == 4 ? Vec3.Y : Vec3.Z,
                    Math.toRadians(frames[frame][j.first + k])));
        }
        return q.unit();
    }
}
