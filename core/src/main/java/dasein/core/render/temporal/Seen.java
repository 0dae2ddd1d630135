package dasein.core.render.temporal;

import dasein.core.lens.View;
import dasein.core.render.pass.Passes;

/**
 * A rendered frame.
 *
 * @param passes raw ones, with {@link dasein.core.render.pass.PassSet#FILTERS}
 * @param view they were rendered for, of their size
 */
public record Seen(Passes passes, View view) {}
