package dasein.app.stage.output;

import dasein.core.BadInput;
import dasein.core.format.MovieReader;
import dasein.core.format.MovieSpec;
import dasein.core.format.MovieWriter;
import dasein.core.format.Sound;
import dasein.core.image.CodeTable;
import dasein.core.image.Image;
import java.nio.file.Path;

/** A movie. Once it is written it is read again: as many frames, and the first and the last as they were sent. */
final class MovieSink implements Sink {
    /**
     * Pixels a side of a block, whose mean a coding leaves as it is, whatever becomes of grain; and by how much, of 1.
     */
    private static final int BLOCK = 16;

    private static final double MOST = 0.025;

    private final Path to;
    private final MovieSpec spec;
    private final float[][] sound;
    private final MovieWriter writer;
    private Image first, last;
    private int count;

    /** @param sound of all frames, from the first on; null for none */
    MovieSink(Path to, MovieSpec spec, float[][] sound) {
        this.to = to;
        this.spec = spec;
        this.sound = sound;
        writer = new MovieWriter(to, spec);
    }

    @Override
    public void put(int frame, Image im) {
        writer.write(im);
        if (sound != null) {
            int from = at(count), end = Math.min(sound[0].length, at(count + 1));
            if (end > from) writer.write(sound, from, end - from);
        }
        if (count++ == 0) first = im;
        last = im;
    }

    /** Sample with which a frame begins, counted from 0. */
    private int at(int k) {
        return (int) Math.min(Integer.MAX_VALUE, (long) k * Sound.RATE * spec.rateDen() / spec.rateNum());
    }

    @Override
    public void finish() {
        writer.finish();
        try (MovieReader r = new MovieReader(to)) {
            if (r.frameCount != count)
                throw new BadInput(
                        "the movie was not kept: read again, it has " + r.frameCount + " frames instead of " + count);
            differs(first, r.read(0, spec.encoding()), "first");
            differs(last, r.read(count - 1, spec.encoding()), "last");
        }
    }

    private void differs(Image sent, Image read, String which) {
        CodeTable codes = CodeTable.of(spec.encoding());
        double sum = 0;
        int n = 0;
        for (int y = 0; y + BLOCK <= sent.height; y += BLOCK)
            for (int x = 0; x + BLOCK <= sent.width; x += BLOCK)
                for (int c = 0; c < 3; c++, n++)
                    sum += Math.abs(mean(codes, sent, x, y, c) - mean(codes, read, x, y, c));
        if (sum / n > MOST)
            throw new BadInput("the movie was not kept: read again, its " + which
                    + " frame is not the one that was sent; write it once more, or as another kind");
    }

    private static double mean(CodeTable codes, Image im, int x0, int y0, int c) {
        double sum = 0;
        for (int y = y0; y < y0 + BLOCK; y++) for (int x = x0; x < x0 + BLOCK; x++) sum += code(codes, im.get(x, y, c));
        return sum / (BLOCK * BLOCK);
    }

    private static float code(CodeTable t, float light) {
        return Math.max(0, Math.min(1, t.encode(light)));
    }

    @Override
    public void close() {
        writer.close();
    }
}
