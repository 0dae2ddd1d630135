package dasein.core.plate;

import dasein.core.Progress;
import dasein.core.image.Image;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;

/**
 * The condition of a plate, frame by frame.
 *
 * @param flicker how far each frame's exposure is from its neighbours', stops
 * @param change mean difference of each frame from the one before, codes of 255; 0 for the first
 * @param repeated frames that are the one before over again
 * @param jumps frames before which so much more happens than around them that frames may be missing
 */
public record PlateHealth(
        List<FrameHealth> frames, double[] flicker, double[] change, List<Integer> repeated, List<Integer> jumps) {
    private static final double FLICKER = 0.08;
    private static final double DRIFT = 0.3;
    private static final double CLIPPED = 0.02;
    /** A smear as long as this makes tracks weak, pixels. */
    private static final double BLURRED = 5;

    /** Codes of 255; pictures of full contrast use twice as many and more. */
    private static final double FLAT = 100;

    private static final int MOST_RUNS = 6;

    /** Frames that are looked at side by side. */
    private static final int BATCH = 4;

    public static PlateHealth of(Plate p, int first, int last, Progress progress) {
        int n = last - first + 1;
        FrameHealth[] frames = new FrameHealth[n];
        double[] change = new double[n];
        float[] before = null;
        for (int from = 0; from < n; from += BATCH) {
            int start = from, count = Math.min(BATCH, n - from);
            progress.at((double) from / n, "looking at frame " + (first + from));
            Image[] im = new Image[count];
            float[][] g = new float[count][];
            // Decoding goes in order, the rest side by side.
            for (int k = 0; k < count; k++) {
                im[k] = p.frame(first + from + k);
                g[k] = p.grey(first + from + k);
            }
            float[] last0 = before;
            IntStream.range(0, count).parallel().forEach(k -> {
                frames[start + k] = FrameHealth.of(first + start + k, im[k], g[k], p.encoding());
                float[] prev = k > 0 ? g[k - 1] : last0;
                if (prev != null) change[start + k] = difference(prev, g[k]);
            });
            before = g[count - 1];
        }
        List<FrameHealth> all = List.of(frames);
        return new PlateHealth(all, flicker(all), change, repeated(change, first), jumps(change, first));
    }

    private static double difference(float[] a, float[] b) {
        double s = 0;
        int n = 0;
        for (int i = 0; i < a.length; i += 3, n++) s += Math.abs(a[i] - b[i]);
        return s / n;
    }

    private static double[] flicker(List<FrameHealth> f) {
        double[] out = new double[f.size()];
        for (int i = 0; i < out.length; i++) {
            double[] around = new double[Math.min(out.length - 1, i + 3) - Math.max(0, i - 3) + 1];
            for (int k = Math.max(0, i - 3), m = 0; m < around.length; k++, m++)
                around[m] = f.get(k).stops();
            Arrays.sort(around);
            out[i] = f.get(i).stops() - around[around.length / 2];
        }
        return out;
    }

    /** Much less change than the shot's usual, and hardly any at all. */
    private static List<Integer> repeated(double[] change, int first) {
        double usual = median(change);
        List<Integer> out = new ArrayList<>();
        for (int i = 1; i < change.length; i++) if (change[i] < 0.05 + 0.12 * usual && usual > 0.3) out.add(first + i);
        return out;
    }

    private static List<Integer> jumps(double[] change, int first) {
        List<Integer> out = new ArrayList<>();
        for (int i = 1; i < change.length; i++) {
            double before = i > 1 ? change[i - 1] : change[Math.min(i + 1, change.length - 1)],
                    after = i + 1 < change.length ? change[i + 1] : before;
            if (change[i] > 1.8 * Math.max(before, after) + 1) out.add(first + i);
        }
        return out;
    }

    private static double median(double[] v) {
        double[] s = v.length > 1 ? Arrays.copyOfRange(v, 1, v.length) : v.clone();
        Arrays.sort(s);
        return s.length == 0 ? 0 : s[s.length / 2];
    }

    /** Noise of the whole shot by brightness, codes of 255: the median of the frames; NaN for empty bands. */
    public double[] noise() {
        double[] out = new double[FrameHealth.BANDS];
        for (int b = 0; b < out.length; b++) {
            int band = b;
            double[] v = frames.stream()
                    .mapToDouble(f -> f.noise()[band])
                    .filter(x -> !Double.isNaN(x))
                    .sorted()
                    .toArray();
            out[b] = v.length < Math.max(1, frames.size() / 4) ? Double.NaN : v[v.length / 2];
        }
        return out;
    }

    /** What matters, each a sentence with what it means for the work; empty when the plate is healthy. */
    public List<String> findings() {
        List<String> out = new ArrayList<>();
        String blurred = blurred();
        if (!blurred.isEmpty()) out.add(blurred);
        double[] spans = frames.stream().mapToDouble(FrameHealth::span).sorted().toArray();
        if (spans.length > 0 && spans[spans.length / 2] < FLAT)
            out.add(String.format(
                    Locale.ROOT,
                    "The picture is flat: from its darkest to its brightest parts it uses %.0f %% of the codes. If it "
                            + "was recorded in log, choose that encoding, or its light will be wrong.",
                    100 * spans[spans.length / 2] / 255));
        if (!repeated.isEmpty())
            out.add(list("Frame", repeated) + (repeated.size() == 1 ? " repeats" : " repeat")
                    + " the one before: the camera would seem to stop there. Take the footage at its true rate.");
        if (!jumps.isEmpty())
            out.add("Much more happens before " + list("frame", jumps) + " than around: frames may be "
                    + "missing there.");
        double worst = Arrays.stream(flicker).map(Math::abs).max().orElse(0);
        if (worst > FLICKER)
            out.add(String.format(Locale.ROOT, "Brightness flickers by up to %.2f stops from frame to frame.", worst));
        double lo = frames.stream().mapToDouble(FrameHealth::stops).min().orElse(0),
                hi = frames.stream().mapToDouble(FrameHealth::stops).max().orElse(0);
        if (hi - lo > DRIFT)
            out.add(String.format(
                    Locale.ROOT,
                    "Brightness drifts by %.1f stops over the shot (exposure, or what comes into the "
                            + "picture): light and match must follow it.",
                    hi - lo));
        double
                white =
                        frames.stream()
                                .mapToDouble(FrameHealth::clippedWhite)
                                .max()
                                .orElse(0),
                black =
                        frames.stream()
                                .mapToDouble(FrameHealth::clippedBlack)
                                .max()
                                .orElse(0);
        if (white > CLIPPED)
            out.add(String.format(
                    Locale.ROOT,
                    "Up to %.0f %% of the picture is clipped at white: no colour can be measured there.",
                    100 * white));
        if (black > CLIPPED)
            out.add(String.format(Locale.ROOT, "Up to %.0f %% of the picture is clipped at black.", 100 * black));
        return out;
    }

    /** One sentence for all runs of blurred frames; empty without. */
    private String blurred() {
        List<String> runs = new ArrayList<>();
        double most = 0, cx = 0, cy = 0;
        for (int i = 0; i < frames.size(); ) {
            if (frames.get(i).blurPx() < BLURRED) {
                i++;
                continue;
            }
            int j = i;
            // A frame or two of less blur do not end a run.
            for (int k = i; k < frames.size() && k - j <= 2; k++) {
                FrameHealth f = frames.get(k);
                if (f.blurPx() < BLURRED) continue;
                j = k;
                most = Math.max(most, f.blurPx());
                cx += Math.cos(2 * Math.toRadians(f.blurDeg()));
                cy += Math.sin(2 * Math.toRadians(f.blurDeg()));
            }
            int a = frames.get(i).frame(), b = frames.get(j).frame();
            runs.add(a == b ? "" + a : a + " to " + b);
            i = j + 1;
        }
        if (runs.isEmpty()) return "";
        double deg = Math.floorMod(Math.round(Math.toDegrees(0.5 * Math.atan2(cy, cx))), 180);
        // Runs that differ in direction have none in common.
        String along = Math.hypot(cx, cy) < 1 || runs.size() > 1
                ? ""
                : deg < 23 || deg > 157 ? "along x " : deg > 67 && deg < 113 ? "along y " : "slantwise ";
        boolean one = runs.size() == 1 && !runs.get(0).contains(" ");
        int more = runs.size() - MOST_RUNS;
        return String.format(
                Locale.ROOT,
                "%s %s%s %s blurred %sby up to %.0f px: tracks will be weak there; use thorough quality.",
                one ? "Frame" : "Frames",
                String.join(", ", runs.subList(0, Math.min(MOST_RUNS, runs.size()))),
                more > 0 ? " and " + more + " runs more" : "",
                one ? "is" : "are",
                along,
                most);
    }

    /** Whether any frame is blurred so much that marks are looked for better thoroughly. */
    public boolean blurs() {
        return frames.stream().anyMatch(f -> f.blurPx() >= BLURRED);
    }

    private static String list(String word, List<Integer> n) {
        String some = n.stream().limit(6).map(String::valueOf).collect(java.util.stream.Collectors.joining(", "));
        return word + (n.size() == 1 ? " " : "s ") + some + (n.size() > 6 ? " and " + (n.size() - 6) + " more" : "");
    }
}
