package dasein.core.solve;

import dasein.core.lens.Lens;
import java.util.Arrays;

/** The terms of the lens that a solver has free, and how it came to them. */
final class FreeTerms {
    private final SolveSettings settings;
    private final int width, height;
    private TermChoice choice;
    boolean[] free;

    FreeTerms(SolveSettings settings, int width, int height) {
        this.settings = settings;
        this.width = width;
        this.height = height;
        free = settings.firstLens();
    }

    /** Goes on from where a lens is known. */
    void from(Lens known) {
        free = settings.freeLens(known, width, height);
    }

    /**
     * Chooses them anew.
     *
     * @param end none is given up before: what is adjusted halfway tells little of what could be done without
     * @return the lens to go on with, or null where nothing changes
     */
    Lens chosen(Bundle adjusted, boolean end) {
        if (!settings.terms().finds()) return null;
        TermChoice c = TermChoice.of(adjusted, settings.terms(), width, height);
        if (c == null) return null;
        choice = c;
        boolean[] now = adjusted.free.lens(), next = c.free().clone();
        for (int i = 0; i < next.length && !end; i++) next[i] |= now[i];
        if (Arrays.equals(next, now)) return null;
        free = next;
        // Other terms move with cameras and points, or not at all.
        return end ? LensTerms.rested(adjusted.lens, next, width, height) : adjusted.lens;
    }

    /** For a person; empty where none were looked for. */
    String said() {
        return choice == null ? "" : choice.said();
    }
}
