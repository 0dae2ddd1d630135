package dasein.core.scene;

/**
 * A placed model.
 *
 * @param id number within the shot, from 1; also the value of the identity pass
 * @param model name of the model on the shelf or of the file
 * @param x metres to the right of the set's origin; {@code y} lift above the ground; {@code z} towards the start of the heading
 * @param headingDeg turn about the vertical, counter-clockwise from above; 0 faces +Z
 * @param heightMetres height at rest; sets the size
 * @param clip name of the clip; empty for the rest position
 * @param clipStart seconds into the clip at the plate's first frame
 * @param clipSpeed 1 plays at the clip's own speed
 * @param loop begin again at the end, else hold
 */
public record Performer(int id, String name, String model, double x, double y, double z, double headingDeg, double heightMetres,
    String clip, double clipStart, double clipSpeed, boolean loop) {

    /** Seconds into the clip after {@code seconds} of the shot. */
    public double clipTime(double seconds, double clipLength) {
        double t = clipStart + seconds * clipSpeed;
        if (loop && clipLength > 0) return t - Math.floor(t / clipLength) * clipLength;
        return Math.max(0, Math.min(clipLength, t));
    }
}
