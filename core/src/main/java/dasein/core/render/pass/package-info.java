/**
 * The passes of a frame. Each is declared once, in {@link dasein.core.render.pass.PassList}: its channels, how exactly
 * they are kept, what stands where there is nothing to say, and how it is filtered, smoothed and shown.
 */
package dasein.core.render.pass;
