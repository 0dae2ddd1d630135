package dasein.core.render;

import dasein.core.light.LightRig;
import dasein.core.light.Sun;
import dasein.core.math.Vec3;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The light of every frame; where nothing is keyed, one for all. Safe for several threads. */
public final class Lit {
    private static final int KEPT = 8;

    private final LightRig rig;
    private final double rate;
    private final Map<Integer, Irradiance> frames = new LinkedHashMap<>();

    /** @param rate frames a second */
    public Lit(LightRig rig, double rate) {
        this.rig = rig;
        this.rate = rate;
    }

    public LightRig rig() {
        return rig;
    }

    /** Towards the first sun; null where there is none. */
    public Vec3 sun(int frame) {
        List<Sun> suns = in(frame).lighting().suns();
        return suns.isEmpty() ? null : suns.get(0).towards();
    }

    public synchronized Irradiance in(int frame) {
        if (frames.size() > KEPT) frames.clear();
        return frames.computeIfAbsent(rig.still() ? 0 : frame, f -> new Irradiance(rig.at(f, rate)));
    }
}
