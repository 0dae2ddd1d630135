package dasein.shoot;

import java.nio.file.Path;
import java.util.List;

/** Makes the demo material anew. Clean frames are kept in a work folder, so that an interrupted shoot goes on where it stopped. */
public final class Shoot {
    private Shoot() {}

    public static void main(String[] args) throws Exception {
        Path work = Path.of(args[0]);
        new Stage().frames(work.resolve("LW_010"), 1, Walk.FRAMES, f -> List.of(), 6);
    }
}
