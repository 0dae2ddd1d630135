package dasein.core.render;

import dasein.core.lens.View;
import dasein.core.model.Mesh;
import java.util.List;

/**
 * The frames before and after one, to know where its places come from and go to.
 *
 * @param before, after meshes then, in the order of the frame's own; null where there is no such frame
 * @param seenBefore, seenAfter the camera's views then
 */
public record Neighbours(List<Mesh> before, List<Mesh> after, View seenBefore, View seenAfter) {
    /** The same thing in another frame; null when it is not there, or is another. */
    static Mesh same(List<Mesh> then, int number, Mesh now) {
        if (then == null || number >= then.size()) return null;
        Mesh m = then.get(number);
        boolean copies = m.copies() == null
                ? now.copies() == null
                : now.copies() != null && m.copies().count() == now.copies().count();
        return m.performer() == now.performer() && m.index().length == now.index().length && copies ? m : null;
    }
}
