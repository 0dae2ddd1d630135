package dasein.core.comp.match;

import dasein.core.BadInput;

/**
 * A dark place of the plate at a known distance.
 *
 * @param x, y pixels of the plate; @param metres from the camera
 */
public record HazePick(int id, int frame, double x, double y, double metres) {
    public HazePick {
        if (!(metres > 0 && metres < 1e6)) throw new BadInput("how far away it is must lie above 0 m");
    }
}
