package dasein.app.stage;

import dasein.core.BadInput;

/** Something typed into one field cannot be used; the page marks it there. */
public class BadField extends BadInput {
    private final String field;

    BadField(String field, String sentence) {
        super(sentence);
        this.field = field;
    }

    public String field() {
        return field;
    }
}
