package dasein.core.comp.match;

import dasein.core.BadInput;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.PlateColour;
import dasein.core.image.Image;

/** The colour of a place of the plate, to be mixed into performers. */
public final class TintPick {
    /** What is mixed in when a colour is picked and nothing was said yet. */
    private static final double SOME = 0.25;

    private TintPick() {}

    /** @throws BadInput where the place lies outside of the picture */
    public static CompRecipe of(CompRecipe r, Image plate, double x, double y) {
        double[] seen = Around.of(plate, x, y);
        if (seen == null) throw new BadInput("that place lies outside of the picture");
        CompRecipe out = r.with(PlateColour.RED, PlateColour.RED.held(seen[0]))
                .with(PlateColour.GREEN, PlateColour.GREEN.held(seen[1]))
                .with(PlateColour.BLUE, PlateColour.BLUE.held(seen[2]));
        return r.get(PlateColour.MIX) > 0 ? out : out.with(PlateColour.MIX, SOME);
    }
}
