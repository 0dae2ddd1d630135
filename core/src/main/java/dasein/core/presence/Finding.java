package dasein.core.presence;

import java.util.List;
import java.util.Map;

/**
 * What a presence check found.
 *
 * @param key in addresses; @param check what it is called; @param figure in {@code unit}, against {@code limit}
 * @param why that limit: common practice, or the plate's own figures
 * @param stage that mends it; @param frames in which it is found, rising; @param frame the worst of them, 0 for none
 * @param place where in that frame, pixels of the plate; null for nowhere in particular
 * @param mend one step that mends it; null where a person has to
 */
public record Finding(
        String key,
        String check,
        State state,
        double figure,
        String unit,
        double limit,
        String why,
        String sentence,
        String stage,
        List<Integer> frames,
        int frame,
        Place place,
        Mend mend) {
    /** UNSEEN: it could not be looked at; the sentence says why. */
    public enum State {
        GOOD,
        FOUND,
        UNSEEN
    }

    /** Middle and half width, pixels of the plate. */
    public record Place(double x, double y, double half) {}

    /** An edit of a stage: what its button says, and the fields that are sent. */
    public record Mend(String stage, String label, Map<String, String> fields) {
        /** What sets the comp by a match, as it is measured in a frame. */
        public static Mend match(String key, int frame) {
            return new Mend(
                    "comp", "Match " + key, Map.of("action", "match", "which", key, "frame", Integer.toString(frame)));
        }
    }

    public boolean passed() {
        return state != State.FOUND;
    }

    public Finding in(List<Integer> some, int worst) {
        return new Finding(key, check, state, figure, unit, limit, why, sentence, stage, some, worst, place, mend);
    }

    public Finding at(Place p) {
        return new Finding(key, check, state, figure, unit, limit, why, sentence, stage, frames, frame, p, mend);
    }

    public Finding mendedBy(Mend m) {
        return new Finding(key, check, state, figure, unit, limit, why, sentence, stage, frames, frame, place, m);
    }

    /** What a check is about, from which its findings are made. */
    public record About(String key, String check, String stage, String unit, double limit, String why) {
        public Finding good(double figure, String sentence) {
            return said(State.GOOD, figure, sentence);
        }

        public Finding found(double figure, String sentence) {
            return said(State.FOUND, figure, sentence);
        }

        public Finding unseen(String sentence) {
            return said(State.UNSEEN, 0, sentence);
        }

        private Finding said(State state, double figure, String sentence) {
            return new Finding(key, check, state, figure, unit, limit, why, sentence, stage, List.of(), 0, null, null);
        }

        /** The same against another limit. */
        public About limit(double other) {
            return new About(key, check, stage, unit, other, why);
        }
    }
}
