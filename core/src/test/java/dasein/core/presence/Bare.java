package dasein.core.presence;

import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.match.Taken;
import dasein.core.ground.GroundFit;
import dasein.core.ground.SetRecipe;
import dasein.core.light.Clues;
import dasein.core.light.sun.ShadowSun;
import dasein.core.math.Vec3;
import dasein.core.plate.PlateFacts;
import dasein.core.presence.layout.LightRatio;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.List;

/** A shot of which nothing is there but what a test puts in. */
public final class Bare {
    public int width = 320, height = 180, first = 1, last = 10;
    public boolean rateSaid = true;
    public double focalMm, sensorMm, size = 1;
    public SolvedCamera camera;
    public List<GroundFit.Check> measured = List.of();
    public List<Performer> performers = List.of();
    public Blocking blocking;
    public SetRecipe set = SetRecipe.BLANK;
    public Vec3 sun;
    public ShadowSun.Result realSun;
    public LightRatio.Stops stops;
    /** Frames before and after what is delivered. */
    public int handles;

    public Clues clues = Clues.NONE;
    public List<Track> tracks = List.of();
    public List<Integer> rendered = List.of(), pops;
    public CompRecipe comp = CompRecipe.BLANK;
    public Taken taken;

    public Subject subject() {
        return new Subject(
                new PlateFacts(
                        width, height, first, last, 24, 1, rateSaid, "REC709", "h264 movie", 8, 1, "", List.of()),
                first - handles,
                last + handles,
                first,
                last,
                focalMm,
                sensorMm,
                camera,
                measured,
                performers,
                blocking,
                set,
                sun,
                realSun,
                stops,
                clues,
                tracks,
                rendered,
                size,
                pops,
                comp,
                taken);
    }
}
