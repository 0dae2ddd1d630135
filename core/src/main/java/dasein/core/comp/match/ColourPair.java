package dasein.core.comp.match;

/**
 * A place of the plate and one on a performer that are to have the same colour.
 *
 * @param x, y in the plate, {@code ownX}, {@code ownY} on the performer; both pixels of the plate, of the same frame
 */
public record ColourPair(int id, int frame, double x, double y, double ownX, double ownY) {}
