package dasein.core.presence;

/**
 * What a presence check found: passed or not, its figure with unit, the limit, a sentence, the stage that mends it, the
 * worst frame.
 */
public record Finding(
        String check,
        boolean passed,
        double figure,
        String unit,
        double limit,
        String sentence,
        String stage,
        int frame) {}
