package dasein.core.presence;

import dasein.core.NoSolution;
import dasein.core.comp.match.GrainMeasure;
import dasein.core.image.CodeTable;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.util.Arrays;

/**
 * What of a shot has to agree with the shots beside it.
 *
 * @param blacks, whites codes below and above which half a percent of the picture lies, of 0 to 1
 * @param warmth stops by which its middle tones are redder than blue; @param greenness likewise greener than both
 * @param grain standard deviation of a code at middle brightness; no number where too little of it stands still
 */
public record ShotLook(double blacks, double whites, double warmth, double greenness, double grain) {
    private static final double TAIL = 0.005, LOW = 0.25, HIGH = 0.75;
    /** What is said of neighbours is seen where they are cut against each other (common practice). */
    public static final double BLACKS = 0.015, WARMTH = 0.15, GRAIN = 0.25;

    /** @param next the frame after it */
    public static ShotLook of(Image frame, Image next, Encoding e) {
        CodeTable codes = CodeTable.of(e);
        int n = frame.width * frame.height;
        float[] luma = frame.luminance();
        float[][] p = frame.planes;
        float[] sorted = luma.clone();
        Arrays.sort(sorted);
        float low = sorted[(int) (LOW * (n - 1))], high = sorted[(int) (HIGH * (n - 1))];
        double[] sum = new double[3];
        for (int i = 0; i < n; i++)
            if (luma[i] >= low && luma[i] <= high) for (int c = 0; c < 3; c++) sum[c] += Math.max(0, p[c][i]);
        double grain = Double.NaN;
        try {
            GrainMeasure g = new GrainMeasure();
            g.look(frame, next, e);
            grain = g.found().level();
        } catch (NoSolution moving) {
            // Said by there being none.
        }
        double tiny = 1e-6;
        return new ShotLook(
                codes.encode(sorted[(int) (TAIL * (n - 1))]),
                codes.encode(sorted[(int) ((1 - TAIL) * (n - 1))]),
                Math.log((sum[0] + tiny) / (sum[2] + tiny)) / Math.log(2),
                Math.log((sum[1] + tiny) / (Math.sqrt(sum[0] * sum[2]) + tiny)) / Math.log(2),
                grain);
    }

    /** In what it is unlike another, in words; empty where it agrees. */
    public String unlike(ShotLook other) {
        StringBuilder s = new StringBuilder();
        if (Math.abs(blacks - other.blacks) > BLACKS)
            s.append(blacks > other.blacks ? "blacks higher" : "blacks lower");
        if (Math.abs(warmth - other.warmth) > WARMTH)
            s.append(s.isEmpty() ? "" : ", ").append(warmth > other.warmth ? "warmer" : "colder");
        double most = Math.max(grain, other.grain);
        if (most > 0 && Math.abs(grain - other.grain) > GRAIN * most)
            s.append(s.isEmpty() ? "" : ", ").append(grain > other.grain ? "more grain" : "less grain");
        return s.toString();
    }
}
