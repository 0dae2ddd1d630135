package dasein.core.solve;

/**
 * What is known about the camera.
 *
 * @param focalPx focal length in pixels of the plate, held as given; 0 when unknown
 * @param solveK1 also solve the first radial distortion term
 * @param solveK2 also solve the second; only well determined when marks reach the corners
 * @param seed of the random samples: same seed, same solve
 */
public record SolveSettings(double focalPx, boolean solveK1, boolean solveK2, long seed) {
    public static final SolveSettings UNKNOWN = new SolveSettings(0, true, false, 1);

    public SolveSettings withFocal(double px) { return new SolveSettings(px, solveK1, solveK2, seed); }
}
