package dasein.core.solve;

import dasein.core.lens.Lens;
import dasein.core.lens.Straighten;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import java.util.List;

/**
 * A camera solve in the product's conventions (camera looks along -Z, +Y up, poses camera-to-world).
 *
 * @param frames one entry for each solved frame, rising
 * @param parallaxPx what a camera that only turned would leave at the median mark of the widest pair of frames
 * @param lens its focal length is that of the first frame; every frame has its own
 * @param points what was triangulated; id is the track's. Of a nodal camera: directions, put at one distance
 * @param focalOff one standard deviation of the focal length, pixels; 0 when it was held, NaN when it is not known
 * @param readout time from the picture's first row to its last as a part of the frame's, 0 when all rows are taken at
 *     once; poses are those of the middle row
 * @param measured its frame is that of a survey: true size, and not to be laid anew
 * @param remarks what a person should know, each a sentence
 * @param reach how far it may be trusted, in world units; null where that is not known
 */
public record SolvedCamera(
        int width,
        int height,
        Rate rate,
        String kind,
        double rmsPx,
        double parallaxPx,
        Lens lens,
        List<Frame> frames,
        List<Point> points,
        double focalOff,
        double readout,
        boolean measured,
        List<String> remarks,
        Reach reach) {

    /**
     * @param off one standard deviation of the place against the first frame's, world units; @param offDeg of the
     *     direction; NaN when not known
     */
    public record Frame(int frame, Pose pose, double focalPx, double rmsPx, int tracks, double off, double offDeg) {
        public Frame(int frame, Pose pose, double focalPx, double rmsPx, int tracks) {
            this(frame, pose, focalPx, rmsPx, tracks, Double.NaN, Double.NaN);
        }
    }

    /**
     * @param off one standard deviation of the place along the line in which it is worst known, world units; NaN when
     *     not known
     */
    public record Point(int id, Vec3 position, double rmsPx, double off) {
        public Point(int id, Vec3 position, double rmsPx) {
            this(id, position, rmsPx, Double.NaN);
        }
    }

    public SolvedCamera(
            int width,
            int height,
            Rate rate,
            String kind,
            double rmsPx,
            double parallaxPx,
            Lens lens,
            List<Frame> frames,
            List<Point> points) {
        this(width, height, rate, kind, rmsPx, parallaxPx, lens, frames, points, Double.NaN, 0, false, List.of(), null);
    }

    public double k1() {
        return lens.k1();
    }

    public double k2() {
        return lens.k2();
    }

    public double centreX() {
        return lens.centreX();
    }

    public double centreY() {
        return lens.centreY();
    }

    /** Without readout, in a frame of its own. */
    public SolvedCamera(
            int width,
            int height,
            Rate rate,
            String kind,
            double rmsPx,
            double parallaxPx,
            Lens lens,
            List<Frame> frames,
            List<Point> points,
            double focalOff,
            List<String> remarks) {
        this(width, height, rate, kind, rmsPx, parallaxPx, lens, frames, points, focalOff, 0, false, remarks, null);
    }

    public SolvedCamera with(List<String> more) {
        return but(lens, frames, points, readout, measured, List.copyOf(more), reach);
    }

    public SolvedCamera with(Lens l) {
        return but(l, frames, points, readout, measured, remarks, reach);
    }

    public SolvedCamera withFrames(List<Frame> f) {
        return but(lens, f, points, readout, measured, remarks, reach);
    }

    public SolvedCamera withReadout(double r) {
        return but(lens, frames, points, r, measured, remarks, reach);
    }

    public SolvedCamera with(Reach r) {
        return but(lens, frames, points, readout, measured, remarks, r);
    }

    /** In the frame of a survey. */
    public SolvedCamera asMeasured() {
        return but(lens, frames, points, readout, true, remarks, reach);
    }

    private SolvedCamera but(
            Lens l, List<Frame> f, List<Point> p, double readoutNow, boolean survey, List<String> said, Reach r) {
        return new SolvedCamera(
                width, height, rate, kind, rmsPx, parallaxPx, l, f, p, focalOff, readoutNow, survey, said, r);
    }

    /**
     * Whether its points lie where they are; else they are directions, or places of one surface, and show no ground.
     */
    public boolean depth() {
        return !List.of("nodal", "locked", "surface").contains(kind);
    }

    /** Whether a frame was solved, or filled on request. */
    public boolean has(int frame) {
        return frame >= first() && frame(frame).frame() == frame;
    }

    /** The same with the frames that are not there standing between their neighbours; their track count says so (0). */
    public SolvedCamera filled() {
        List<Frame> all = new java.util.ArrayList<>();
        for (int i = 0; i < frames.size(); i++) {
            Frame b = frames.get(i), a = i == 0 ? b : frames.get(i - 1);
            for (int f = a.frame + 1; f < b.frame; f++) {
                double t = (double) (f - a.frame) / (b.frame - a.frame);
                all.add(new Frame(
                        f, a.pose.interpolate(b.pose, t), a.focalPx * Math.pow(b.focalPx / a.focalPx, t), 0, 0));
            }
            all.add(b);
        }
        return all.size() == frames.size() ? this : withFrames(List.copyOf(all));
    }

    /**
     * Ranges of frames between the first and the last that are not there, "40 to 47, 60"; empty when there are none.
     */
    public String gaps() {
        StringBuilder out = new StringBuilder();
        for (int i = 1; i < frames.size(); i++) {
            int a = frames.get(i - 1).frame() + 1, b = frames.get(i).frame() - 1;
            if (a <= b) out.append(out.length() > 0 ? ", " : "").append(a == b ? "" + a : a + " to " + b);
        }
        return out.toString();
    }

    public int first() {
        return frames.get(0).frame();
    }

    public int last() {
        return frames.get(frames.size() - 1).frame();
    }

    /** The frame's own entry, or that of the nearest solved frame before it. */
    public Frame frame(int n) {
        return frames.get(index(n));
    }

    private int index(int n) {
        int lo = 0, hi = frames.size() - 1;
        while (lo < hi) {
            int mid = (lo + hi + 1) >>> 1;
            if (frames.get(mid).frame() <= n) lo = mid;
            else hi = mid - 1;
        }
        return lo;
    }

    public Lens lens(int frame) {
        return lens.withFocal(frame(frame).focalPx());
    }

    /** Pose at a fractional frame; outside the solved frames it stands still. */
    public Pose pose(double frame) {
        if (frame <= first()) return frames.get(0).pose();
        if (frame >= last()) return frames.get(frames.size() - 1).pose();
        int i = index((int) Math.floor(frame));
        Frame a = frames.get(i), b = frames.get(Math.min(i + 1, frames.size() - 1));
        double span = Math.max(1, b.frame() - a.frame());
        return a.pose().interpolate(b.pose(), (frame - a.frame()) / span);
    }

    /** View for rendering: shutter open around the frame for the given fraction of its time; picture scaled by s. */
    public View view(int frame, double shutter, double s) {
        Lens l = lens(frame).scaled(s);
        double half = (shutter + Math.abs(readout)) / 2;
        return new View(
                pose(frame - half),
                pose(frame + half),
                l,
                (int) Math.round(width * s),
                (int) Math.round(height * s),
                readout == 0 ? 0 : readout / (shutter + Math.abs(readout)));
    }

    /**
     * The same for the straight picture of the frame's lens, overscan included; {@code st} is that of the picture
     * scaled by s.
     */
    public View straightView(int frame, double shutter, double s, Straighten st) {
        View bent = view(frame, shutter, s);
        Lens l = bent.lens();
        // Rows beyond the picture's are read before and after them at the same pace.
        double more = readout * st.high / bent.height(),
                late = readout * ((st.top + 0.5 * st.high) / bent.height() - 0.5),
                half = (shutter + Math.abs(more)) / 2;
        return new View(
                pose(frame + late - half),
                pose(frame + late + half),
                new Lens(l.focalPx(), l.centreX() - st.left, l.centreY() - st.top, 0, 0),
                st.wide,
                st.high,
                more == 0 ? 0 : more / (shutter + Math.abs(more)));
    }

    /** The same solve seen in another world. */
    public SolvedCamera in(Similarity to) {
        return but(
                lens,
                frames.stream()
                        .map(f -> new Frame(
                                f.frame, to.apply(f.pose), f.focalPx, f.rmsPx, f.tracks, f.off * to.scale(), f.offDeg))
                        .toList(),
                points.stream()
                        .map(p -> new Point(p.id, to.apply(p.position), p.rmsPx, p.off * to.scale()))
                        .toList(),
                readout,
                measured,
                remarks,
                reach == null ? null : reach.scaled(to.scale()));
    }

    public double pathLength() {
        double s = 0;
        for (int i = 1; i < frames.size(); i++)
            s += frames.get(i)
                    .pose()
                    .position()
                    .distance(frames.get(i - 1).pose().position());
        return s;
    }
}
