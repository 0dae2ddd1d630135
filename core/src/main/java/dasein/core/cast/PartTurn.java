package dasein.core.cast;

/**
 * A node of the model, turned about its own pivot on top of what its clip does.
 *
 * @param axis of the node's own, x, y or z; @param deg counter-clockwise about it; its curve is named
 *     {@link #channel()}
 * @param rolls it also turns as a wheel does over the way that is gone
 */
public record PartTurn(String node, String axis, double deg, boolean rolls) {
    public PartTurn {
        if (!axis.matches("[xyz]")) throw new dasein.core.BadInput("a part turns about x, y or z");
    }

    public String channel() {
        return "part " + axis + " " + node;
    }
}
