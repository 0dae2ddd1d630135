package dasein.core;

import java.util.concurrent.CancellationException;

/** How long work tells what it has done, and learns that nobody wants it any more. */
public interface Progress {
    Progress NONE = (done, what) -> {};

    /**
     * Fraction done in [0, 1] and what is being done. Throws {@link CancellationException} when the work was cancelled.
     */
    void at(double done, String what);

    /** A part of this progress, from {@code lo} to {@code hi}. */
    default Progress part(double lo, double hi) {
        return (done, what) -> at(lo + done * (hi - lo), what);
    }
}
