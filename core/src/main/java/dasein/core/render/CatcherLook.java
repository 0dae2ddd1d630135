package dasein.core.render;

/**
 * How the real ground mirrors: {@code strength} 0 (dry) to 1 (water), {@code roughness} of the film on it.
 *
 * @param beyond the ground where it takes nothing but hides what is sunk in it; null where it ends with the catcher
 */
public record CatcherLook(double strength, double roughness, Beyond beyond) {
    public static final CatcherLook DRY = new CatcherLook(0, 0.3);

    public CatcherLook(double strength, double roughness) {
        this(strength, roughness, null);
    }
}
