package dasein.core;

/**
 * The material is sound but the question has no answer in it (a camera that cannot be solved). The message says why.
 */
public class NoSolution extends RuntimeException {
    public NoSolution(String sentence) {
        super(sentence);
    }
}
