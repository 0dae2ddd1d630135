package dasein.core;

/**
 * The user's material cannot be used as it is. The message is one plain sentence: which file, what is wrong, what to
 * do.
 */
public class BadInput extends RuntimeException {
    public BadInput(String sentence) {
        super(sentence);
    }

    public BadInput(String sentence, Throwable cause) {
        super(sentence, cause);
    }
}
