package dasein.core.plate;

import dasein.core.BadInput;
import java.util.ArrayList;
import java.util.List;
import java.util.function.IntPredicate;
import java.util.function.IntToDoubleFunction;

/**
 * How what a file holds is made into frames that stand evenly, progressive, with square pixels.
 *
 * @param order which stored frames are taken
 * @param leftOut with {@link Order#WITHOUT}: numbers of stored frames (from 1 in a movie, by name in a folder) that are
 *     not taken
 * @param aspect width of a pixel over its height; 0 for what the file says. Pictures are made wider or narrower until
 *     it is 1
 */
public record Conform(Order order, Fields fields, double aspect, List<Integer> leftOut) {
    public static final Conform NONE = new Conform(Order.STORED, Fields.WHOLE, 0, List.of());

    public enum Order {
        STORED("one by one"),
        BY_TIME("by their times, evened out"),
        WITHOUT("one by one, without repeats");

        public final String label;

        Order(String label) {
            this.label = label;
        }
    }

    /** What is done about a picture that holds two moments in alternate lines. */
    public enum Fields {
        WHOLE("as they are"),
        UPPER("upper lines, others made anew"),
        LOWER("lower lines, others made anew");

        public final String label;

        Fields(String label) {
            this.label = label;
        }
    }

    public Conform {
        if (order == null) order = Order.STORED;
        if (fields == null) fields = Fields.WHOLE;
        if (leftOut == null) leftOut = List.of();
        if (!(aspect == 0 || aspect >= 0.25 && aspect <= 4))
            throw new BadInput("the width of a pixel must lie between 0.25 and 4");
    }

    /**
     * Stored frame for each frame there is to be, both from 0.
     *
     * @param stored how many there are
     * @param seconds when a stored frame begins, rising; @param length of the whole in seconds
     * @param left whether a stored frame is to be left out
     */
    int[] frames(int stored, IntToDoubleFunction seconds, double length, Rate rate, IntPredicate left) {
        List<Integer> out = new ArrayList<>();
        if (order == Order.BY_TIME) {
            long n = Math.max(1, Math.round(length * rate.perSecond()));
            if (n > 20L * stored + 100)
                throw new BadInput("by their times the " + stored + " frames would become " + n
                        + "; the file's times cannot be right");
            // The middle of a frame's time is asked for, so that a rounded time stamp does not decide.
            for (int k = 0, i = 0; k < n; k++) {
                double t = (k + 0.5) / rate.perSecond();
                while (i + 1 < stored && seconds.applyAsDouble(i + 1) <= t) i++;
                out.add(i);
            }
        } else {
            for (int i = 0; i < stored; i++) if (order == Order.STORED || !left.test(i)) out.add(i);
            if (out.isEmpty()) throw new BadInput("every frame is left out");
        }
        return out.stream().mapToInt(i -> i).toArray();
    }
}
