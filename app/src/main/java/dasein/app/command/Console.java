package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.plate.Plate;
import picocli.CommandLine;

/**
 * How headless commands speak: progress and errors on standard error, exit code 0, 2 for bad input, 3 for no solution.
 */
public final class Console {
    static final int BAD_INPUT = 2;
    static final int NO_SOLUTION = 3;

    private Console() {}

    /** Exit code and one clear line for what went wrong. */
    static int failed(Exception e, CommandLine cmd, CommandLine.ParseResult parsed) throws Exception {
        if (e instanceof BadInput) {
            System.err.println("dasein: " + e.getMessage());
            return BAD_INPUT;
        }
        if (e instanceof NoSolution) {
            System.err.println("dasein: " + e.getMessage());
            return NO_SOLUTION;
        }
        throw e;
    }

    static int misused(CommandLine.ParameterException e, String[] args) {
        System.err.println("dasein: " + e.getMessage());
        e.getCommandLine().usage(System.err);
        return BAD_INPUT;
    }

    /** A line at every whole twentieth. */
    static Progress progress() {
        return new Progress() {
            private int told = -1;

            @Override
            public synchronized void at(double done, String what) {
                int step = (int) (done * 20);
                if (step <= told) return;
                told = step;
                System.err.printf("%3.0f %%  %s%n", 100 * done, what);
            }
        };
    }

    /** Numbered frames do not tell how many a second there are; everything that moves in time depends on it. */
    static void warnOfRate(Plate p) {
        if (!p.rateSaid())
            System.err.println("dasein: nobody said how many frames a second there are; " + p.rate()
                    + " is taken. If that is wrong, so is all that moves: say it with --rate");
    }

    static double[] size(String s, String option) {
        String[] p = s.toLowerCase(java.util.Locale.ROOT).split("x");
        try {
            if (p.length == 2 && Integer.parseInt(p[0].trim()) > 0 && Integer.parseInt(p[1].trim()) > 0)
                return new double[] {Integer.parseInt(p[0].trim()), Integer.parseInt(p[1].trim())};
        } catch (NumberFormatException e) {
            // said below
        }
        throw new BadInput(option + " must be width x height, for example 1280x720, not " + s);
    }

    /** "0,2,-4". */
    static double[] numbers(String s, String option) {
        try {
            double[] out = java.util.Arrays.stream(s.split(","))
                    .mapToDouble(v -> Double.parseDouble(v.trim()))
                    .toArray();
            for (double v : out) if (!Double.isFinite(v)) throw new NumberFormatException();
            return out;
        } catch (NumberFormatException e) {
            throw new BadInput(option + " must be numbers with commas between them, not " + s);
        }
    }

    /** "5", "1-96". */
    static int[] range(String s) {
        try {
            String[] p = s.split("-");
            int a = Integer.parseInt(p[0].trim()), b = p.length > 1 ? Integer.parseInt(p[1].trim()) : a;
            if (p.length <= 2 && a <= b) return new int[] {a, b};
        } catch (NumberFormatException e) {
            // said below
        }
        throw new BadInput("--frames must be a frame or a range such as 1-96, not " + s);
    }
}
