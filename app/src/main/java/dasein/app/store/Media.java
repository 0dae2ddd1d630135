package dasein.app.store;

/**
 * A file that was brought in. {@code hash} is the SHA-256 of its content and its name on disk; {@code kind} plate,
 * model, environment.
 */
public record Media(String hash, String name, String kind, long bytes) {}
