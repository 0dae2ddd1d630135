package dasein.core.render;

/** How the real ground mirrors: {@code strength} 0 (dry) to 1 (water), {@code roughness} of the film on it. */
public record CatcherLook(double strength, double roughness) {
    public static final CatcherLook DRY = new CatcherLook(0, 0.3);
}
