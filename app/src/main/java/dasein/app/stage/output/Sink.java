package dasein.app.stage.output;

import dasein.core.image.Image;
import java.io.IOException;

/** Where finished frames go, one after the other. */
interface Sink extends AutoCloseable {
    /** @param frame its number */
    void put(int frame, Image im) throws IOException;

    /** Everything is there: the file becomes whole, is opened again and looked at. */
    void finish() throws IOException;

    @Override
    void close();
}
