package dasein.core.plate;

/** From which frame to which something goes, by the plate's own numbers, both with. */
public interface Span {
    int first();

    int last();

    default int count() {
        return last() - first() + 1;
    }
}
