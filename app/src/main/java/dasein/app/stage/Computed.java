package dasein.app.stage;

import java.nio.file.Path;
import java.util.function.Supplier;
import tools.jackson.databind.JsonNode;

/** A result that is computed once for a print: found where it is there, else computed, written and kept. */
public final class Computed {
    private Computed() {}

    /** Writes a result's file. */
    public interface Write<T> {
        void to(Path file, T value) throws Exception;
    }

    /** What is kept of a result beside its file. */
    public interface Facts<T> {
        Object of(T value);
    }

    /**
     * @param suffix of the file, with its dot; @param facts kept beside it
     * @return the facts, of before or of now
     */
    public static <T> JsonNode once(
            Desk desk, String kind, String print, String suffix, Supplier<T> compute, Write<T> write, Facts<T> facts)
            throws Exception {
        JsonNode known = desk.results().facts(kind, print);
        if (known != null) return known;
        T made = compute.get();
        String file = print + suffix;
        write.to(desk.media().result(kind, file), made);
        desk.results().save(kind, print, facts.of(made), file);
        return desk.results().facts(kind, print);
    }
}
