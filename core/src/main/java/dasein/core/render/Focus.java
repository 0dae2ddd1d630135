package dasein.core.render;

/**
 * Depth of field in the passes.
 *
 * @param on else everything is sharp, and the comp may soften it
 * @param fStop 0: what was noted on set; @param metres of the plane of focus, 0: what was noted
 * @param performer whose middle is in focus in every frame, 0 for the plane
 * @param blades of the iris, 0 for round; @param catsEye 0 to 1
 */
public record Focus(boolean on, double fStop, double metres, int performer, int blades, double catsEye) {
    public static final Focus OFF = new Focus(false, 0, 0, 0, 0, 0);
}
