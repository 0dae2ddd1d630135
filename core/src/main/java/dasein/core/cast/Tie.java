package dasein.core.cast;

/**
 * What a performer goes along with; its own place and turn are then those in the frame of that.
 *
 * @param to what kind of thing; @param id its number; @param node of a performer: a node's name
 * @param turns it also turns with it
 */
public record Tie(To to, int id, String node, boolean turns) {
    public enum To {
        /** A thing whose motion was solved. */
        OBJECT,
        /** Where a track meets the ground. */
        TRACK,
        /** Another performer, or one of its nodes. */
        PERFORMER
    }
}
