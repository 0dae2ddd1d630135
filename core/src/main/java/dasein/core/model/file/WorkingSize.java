package dasein.core.model.file;

import dasein.core.model.Texture;

/**
 * How large a model may be to be worked with. What is scanned or generated often has more than any picture shows, and
 * all of it is drawn in every preview.
 *
 * @param triangles at most, 0 for {@link #MANY} where there are far more; @param texels of a picture's longer side, 0
 *     for {@link #LARGE} where it is far larger
 */
public record WorkingSize(int triangles, int texels) {
    public static final WorkingSize SERVES = new WorkingSize(0, 0),
            WHOLE = new WorkingSize(Integer.MAX_VALUE, Integer.MAX_VALUE);

    /** What serves when nothing is said, and above how many it is brought to that. */
    public static final int MANY = 300_000, TOO_MANY = 400_000, LARGE = 2048, TOO_LARGE = 4096;

    int most(int has) {
        return triangles > 0 ? triangles : has > TOO_MANY ? MANY : has;
    }

    Texture within(Texture t) {
        int has = Math.max(t.width(), t.height());
        return t.within(texels > 0 ? texels : has > TOO_LARGE ? LARGE : has);
    }
}
