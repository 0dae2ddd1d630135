package dasein.core.solve;

import dasein.core.lens.Lens;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;

/**
 * One bundle adjustment of where a solver stands: the observations that count, adjusted, and what came out written back
 * into the solver's cameras, zooms and points.
 *
 * @param frames of the bundle's cameras; @param rows of its points
 */
record Adjustment(Bundle bundle, int[] frames, int[] rows) {
    /**
     * @param cam of each frame, null where it is not solved; @param point of each row, null where there is none; @param
     *     used which observations count
     * @param measured the solver's frame is that of the survey, whose points now count, too
     * @param moves cameras move, else they only turn; @param least fewer points than this are not adjusted
     * @return null when there were too few points
     */
    static Adjustment run(
            Observations obs,
            Rigid[] cam,
            double[] zoom,
            double[][] point,
            boolean[][] used,
            Lens lens,
            int[] frames,
            boolean moves,
            boolean[] freeLens,
            SolveSettings settings,
            int width,
            int height,
            int least,
            int steps,
            double settled,
            boolean measured) {
        int[] place = new int[obs.frames];
        Arrays.fill(place, -1);
        for (int k = 0; k < frames.length; k++) place[frames[k]] = k;
        int n = 0, m = 0, most = obs.sightings();
        int[] oc = new int[most], op = new int[most], rows = new int[obs.tracks()];
        double[] x = new double[most],
                y = new double[most],
                w = settings.hints().weights().isEmpty() ? null : new double[most];
        Map<Integer, Double> weights = settings.hints().byTrack();
        for (int t = 0; t < point.length; t++) {
            if (point[t] == null) continue;
            int from = n;
            for (int i = 0; i < obs.frame[t].length; i++) {
                if (!used[t][i] || place[obs.frame[t][i]] < 0) continue;
                oc[n] = place[obs.frame[t][i]];
                op[n] = m;
                x[n] = obs.x[t][i];
                if (w != null) w[n] = weights.getOrDefault(obs.id[t], 1.0);
                y[n++] = obs.y[t][i];
            }
            if (n - from < 2) n = from;
            else rows[m++] = t;
        }
        if (m < least) return null;
        Rigid[] cams = Arrays.stream(frames).mapToObj(f -> cam[f]).toArray(Rigid[]::new);
        double[][] points = IntStream.range(0, m).mapToObj(i -> point[rows[i]]).toArray(double[][]::new);
        boolean[] free = freeLens.clone();
        // A zoom holds all that changes; the lens's own focal length only says against what.
        if (settings.zooms()) free[Bundle.FOCAL] = false;
        int[] camOf = Arrays.copyOf(oc, n), pointOf = Arrays.copyOf(op, n);
        Bundle b = new Bundle(
                cams,
                Arrays.stream(frames).mapToDouble(f -> zoom[f]).toArray(),
                points,
                lens,
                camOf,
                pointOf,
                Arrays.copyOf(x, n),
                Arrays.copyOf(y, n),
                new Bundle.Free(moves, settings.zooms(), free),
                new Wishes(
                        settings,
                        width,
                        height,
                        frames,
                        (double) n / frames.length,
                        moves ? depth(cams, points, camOf, pointOf) : 0),
                w == null ? null : Arrays.copyOf(w, n),
                measured ? anchors(settings.hints().measured(), obs, rows, m) : List.of());
        b.solve(steps, 1.0, settled);
        for (int k = 0; k < frames.length; k++) {
            cam[frames[k]] = b.cams[k];
            zoom[frames[k]] = b.zoom[k];
        }
        for (int i = 0; i < m; i++) point[rows[i]] = b.points[i];
        return new Adjustment(b, frames, Arrays.copyOf(rows, m));
    }

    /** A standard deviation of a measured place weighs as one of a mark does. */
    private static final double MARK_PX = 0.4;

    private static List<Bundle.Anchor> anchors(List<Hints.Measured> measured, Observations obs, int[] rows, int count) {
        List<Bundle.Anchor> out = new ArrayList<>();
        for (Hints.Measured k : measured)
            for (int i = 0; i < count; i++)
                if (obs.id[rows[i]] == k.track())
                    out.add(new Bundle.Anchor(i, k.position().array(), k.off() / MARK_PX));
        return out;
    }

    /** Distance of the median observation's point; a seventh of them is enough to know. */
    private static double depth(Rigid[] cams, double[][] points, int[] camOf, int[] pointOf) {
        double[] d = new double[(camOf.length + 6) / 7];
        for (int i = 0; i < d.length; i++) {
            double[] p = points[pointOf[7 * i]];
            d[i] = Math.abs(p[3]) < 1e-9 ? 1e9 : cams[camOf[7 * i]].toCamera(p)[2] / p[3];
        }
        return Homography.median(d);
    }
}
