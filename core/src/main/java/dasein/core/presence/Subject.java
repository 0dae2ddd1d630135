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
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * What there is of a shot beside its finished frames. What is not there yet is null, or empty.
 *
 * @param first, last what is worked on; @param cutFirst, cutLast what is delivered
 * @param focalMm, sensorMm as noted on set, 0 where nobody did
 * @param camera in the set; @param measured what was measured on set, and what the solve has of it
 * @param sun towards the sun that lights performers; @param realSun as shadows tell it that were drawn in the plate;
 *     {@code stops} by which ground is brighter in it
 * @param tracks as kept; @param rendered frames that are, as they would be now; @param size part of the plate's size at
 *     which they are; @param pops frames in which what stands in front pops
 * @param comp with its keys; @param taken what matches are made from, of one rendered frame
 */
public record Subject(
        PlateFacts plate,
        int first,
        int last,
        int cutFirst,
        int cutLast,
        double focalMm,
        double sensorMm,
        SolvedCamera camera,
        List<GroundFit.Check> measured,
        List<Performer> performers,
        Blocking blocking,
        SetRecipe set,
        Vec3 sun,
        ShadowSun.Result realSun,
        LightRatio.Stops stops,
        Clues clues,
        List<Track> tracks,
        List<Integer> rendered,
        double size,
        List<Integer> pops,
        CompRecipe comp,
        Taken taken) {

    /** Performers that have feet: no cards, no flocks. */
    public List<Performer> standing() {
        return performers.stream()
                .filter(p -> p.card() == null && p.flock() == null)
                .toList();
    }

    public Map<Integer, Track> tracksByNumber() {
        return tracks.stream().collect(Collectors.toMap(Track::id, Function.identity(), (a, b) -> a));
    }

    /** Pixels of the plate for a metre at a place; 0 where it is not before the camera. */
    public double pixels(int frame, Vec3 at) {
        if (camera == null || !camera.has(frame)) return 0;
        double z = -camera.frame(frame).pose().toLocal(at).z();
        return z > 0.01 ? camera.lens(frame).focalPx() / z : 0;
    }

    /** Where a place is seen; null where it is not. */
    public Finding.Place seen(int frame, Vec3 at, double half) {
        if (camera == null || !camera.has(frame)) return null;
        double[] q = camera.lens(frame).project(camera.frame(frame).pose().toLocal(at));
        return q == null || q[0] < 0 || q[1] < 0 || q[0] >= plate.width() || q[1] >= plate.height()
                ? null
                : new Finding.Place(q[0], q[1], half);
    }

    /** A place of a finished frame, which may be smaller than the plate, as one of the plate. */
    public Finding.Place place(Check.Frame f, double x, double y, double half) {
        double by = (double) plate.width() / f.passes().width;
        return new Finding.Place(by * x, by * y, by * half);
    }

    /** First and last frame that is both delivered and solved; null without a camera. */
    public int[] solved() {
        if (camera == null) return null;
        int a = Math.max(cutFirst, camera.first()), b = Math.min(cutLast, camera.last());
        return a > b ? null : new int[] {a, b};
    }
}
