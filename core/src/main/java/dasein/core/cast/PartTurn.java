package dasein.core.cast;

/**
 * A node of the model, turned about its own pivot on top of what its clip does.
 *
 * @param axis of the node's own, x, y or z; @param deg counter-clockwise about it; its curve is named
 *     {@link #channel()}
 * @param rolls it turns as a wheel does over the way that is gone, whatever its clip does
 * @param steers it also points where it goes, about the model's upright
 */
public record PartTurn(String node, String axis, double deg, boolean rolls, boolean steers) {
    public PartTurn {
        if (!axis.matches("[xyz]")) throw new dasein.core.BadInput("a part turns about x, y or z");
    }

    /** One that does neither. */
    public PartTurn(String node, String axis, double deg) {
        this(node, axis, deg, false, false);
    }

    public PartTurn at(double newDeg) {
        return new PartTurn(node, axis, newDeg, rolls, steers);
    }

    public boolean wheel() {
        return rolls || steers;
    }

    public String channel() {
        return "part " + axis + " " + node;
    }
}
