package dasein.core.solve;

import dasein.core.NoSolution;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.track.PlaneTracker;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.NavigableMap;

/**
 * A camera from one flat surface that was followed through the shot: the frame it was drawn in is matched as one that
 * stands still, which puts the surface into the set; every other frame then is the camera that sees the same places
 * where the surface has carried them. The focal length stays that of the matched frame.
 */
public final class SurfaceSolver {
    /** The surface is represented by this many places along either side. */
    private static final int GRID = 7;

    private static final int STEPS = 40;
    /** What places may wander before they count less, pixels. */
    private static final double ROBUST_PX = 2;

    private SurfaceSolver() {}

    /**
     * @param still the matched camera; @param drawn frame the surface was drawn in
     * @param outline x, y of its corners there, pixels; @param ways 3x3 maps, row by row, from that frame to others
     * @param standing the surface is the upright plane z = 0 of the match, else the ground
     * @throws NoSolution when the surface is not on the plane that was matched, or is seen from its edge
     */
    public static SolvedCamera carried(
            SolvedCamera still, int drawn, double[] outline, NavigableMap<Integer, double[]> ways, boolean standing) {
        Lens lens = still.lens(still.first());
        Pose at = still.frames().get(0).pose();
        List<double[]> pixels = within(outline), places = new ArrayList<>();
        for (double[] p : pixels) {
            Vec3 d = at.rotation().rotate(lens.ray(p[0], p[1])).unit();
            double away = standing ? at.position().z() : at.position().y(), towards = standing ? d.z() : d.y();
            if (Math.abs(towards) < 1e-4 || -away / towards <= 0)
                throw new NoSolution(
                        standing
                                ? "the surface is not on the plane of the rectangle that was matched"
                                : "the surface reaches above the horizon: it is not on the ground; mark a "
                                        + "rectangle on it that stands upright");
            Vec3 q = at.position().plus(d.times(-away / towards));
            places.add(new double[] {q.x(), q.y(), q.z(), 1});
        }
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        double sum = 0;
        int count = 0, lost = 0;
        for (boolean forward : new boolean[] {true, false}) {
            Rigid now = MovingSolver.rigid(at);
            NavigableMap<Integer, double[]> side = forward
                    ? ways.tailMap(drawn, true)
                    : ways.headMap(drawn, false).descendingMap();
            for (var e : side.entrySet()) {
                List<double[]> seen = pixels.stream()
                        .map(p -> normalised(lens, PlaneTracker.mapped(e.getValue(), p)))
                        .toList();
                now = Resection.refine(now, places, seen, ROBUST_PX / lens.focalPx(), STEPS);
                double off = 0;
                for (int i = 0; i < places.size(); i++)
                    off += Math.min(
                            1e6, Resection.error2(now, places.get(i), seen.get(i)) * lens.focalPx() * lens.focalPx());
                double rms = Math.sqrt(off / places.size());
                if (!(rms < 0.02 * still.width())) {
                    lost++;
                    continue;
                }
                sum += off;
                count += places.size();
                frames.add(
                        new SolvedCamera.Frame(e.getKey(), MovingSolver.pose(now), lens.focalPx(), rms, places.size()));
            }
        }
        if (frames.isEmpty()) throw new NoSolution("the surface has not been followed");
        frames.sort(java.util.Comparator.comparingInt(SolvedCamera.Frame::frame));
        List<SolvedCamera.Point> points = new ArrayList<>();
        double rms = Math.sqrt(sum / count);
        for (int i = 0; i < places.size(); i++)
            points.add(
                    new SolvedCamera.Point(i + 1, new Vec3(places.get(i)[0], places.get(i)[1], places.get(i)[2]), rms));
        List<String> remarks = new ArrayList<>(still.remarks());
        remarks.set(
                0,
                String.format(
                        Locale.ROOT,
                        "The camera is carried by one surface over %d frames; its places are met within %.2f px.",
                        frames.size(),
                        rms));
        if (lost > 0) remarks.add("In " + lost + " frames the surface was lost.");
        SolvedCamera c = new SolvedCamera(
                still.width(),
                still.height(),
                still.rate(),
                "surface",
                rms,
                0,
                lens,
                List.copyOf(frames),
                points,
                still.focalOff(),
                remarks);
        return still.measured() ? c.asMeasured() : c;
    }

    /** Places spread over an outline: a grid in its bounds, those that lie inside; its own corners in any case. */
    private static List<double[]> within(double[] outline) {
        List<double[]> out = new ArrayList<>();
        double[] b = {Double.MAX_VALUE, Double.MAX_VALUE, -Double.MAX_VALUE, -Double.MAX_VALUE};
        for (int i = 0; i < outline.length; i += 2) {
            out.add(new double[] {outline[i], outline[i + 1]});
            b[0] = Math.min(b[0], outline[i]);
            b[1] = Math.min(b[1], outline[i + 1]);
            b[2] = Math.max(b[2], outline[i]);
            b[3] = Math.max(b[3], outline[i + 1]);
        }
        for (int j = 0; j < GRID; j++) {
            for (int i = 0; i < GRID; i++) {
                double x = b[0] + (i + 0.5) / GRID * (b[2] - b[0]), y = b[1] + (j + 0.5) / GRID * (b[3] - b[1]);
                boolean in = false;
                for (int k = 0, m = outline.length - 2; k < outline.length; m = k, k += 2) {
                    if (outline[k + 1] > y != outline[m + 1] > y
                            && x
                                    < (outline[m] - outline[k])
                                                    * (y - outline[k + 1])
                                                    / (outline[m + 1] - outline[k + 1])
                                            + outline[k]) in = !in;
                }
                if (in) out.add(new double[] {x, y});
            }
        }
        return out;
    }

    /** The solver's camera looks along +Z with y down. */
    private static double[] normalised(Lens lens, double[] px) {
        Vec3 r = lens.ray(px[0], px[1]);
        return new double[] {r.x() / -r.z(), -r.y() / -r.z()};
    }
}
