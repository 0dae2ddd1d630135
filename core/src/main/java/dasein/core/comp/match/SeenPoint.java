package dasein.core.comp.match;

import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** A place of the plate whose distance is known. @param x, y pixels; @param metres from the camera along its view */
public record SeenPoint(double x, double y, double metres) {
    /** Solved points that are seen in a frame; none where points are directions only. @param camera in the set */
    public static List<SeenPoint> of(SolvedCamera camera, List<Track> tracks, int frame) {
        if (camera == null || !camera.depth() || !camera.has(frame)) return List.of();
        Map<Integer, Vec3> places = new HashMap<>();
        for (SolvedCamera.Point p : camera.points()) places.put(p.id(), p.position());
        List<SeenPoint> out = new ArrayList<>();
        for (Track t : tracks) {
            Vec3 at = places.get(t.id());
            int k = at == null ? -1 : Arrays.binarySearch(t.frames(), frame);
            if (k < 0) continue;
            // Cameras look along -z.
            double far = -camera.frame(frame).pose().toLocal(at).z();
            if (far > 0) out.add(new SeenPoint(t.x()[k], t.y()[k], far));
        }
        return List.copyOf(out);
    }
}
