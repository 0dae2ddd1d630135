package dasein.core.render;

import java.util.Arrays;

/** What the plate shows of a place on a catcher, by the light it comes from. Mutable and reused by one worker. */
final class PlateLight {
    private final Ground ground;
    private final OpenLight open;
    /** Three colours, by map and sun; all by the map where lights are not kept apart. */
    final float[] byMap = new float[3], bySun = new float[3];

    /** @param open null where lights are not kept apart */
    PlateLight(Ground ground, OpenLight open) {
        this.ground = ground;
        this.open = open;
    }

    /** @return false when the plate does not tell */
    boolean at(Surface at) {
        if (!ground.radiance(at.px, at.py, at.pz, at.gx, at.gy, at.gz, byMap)) return false;
        Arrays.fill(bySun, 0);
        if (open == null) return true;
        float[] map = open.map().on(at.gx, at.gy, at.gz), sun = open.sun().on(at.gx, at.gy, at.gz);
        for (int c = 0; c < 3; c++) {
            float all = map[c] + sun[c], k = all > 0 ? byMap[c] / all : 0;
            byMap[c] = k * map[c];
            bySun[c] = k * sun[c];
        }
        return true;
    }
}
