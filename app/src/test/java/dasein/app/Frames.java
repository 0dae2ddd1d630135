package dasein.app;

import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.util.Random;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import javax.imageio.ImageIO;

/** Small footage made for tests. */
public final class Frames {
    private Frames() {}

    /** A zip of numbered PNG frames, each of other noise. */
    public static byte[] zip(int count, int width, int height) throws Exception {
        return zip(count, width, height, 0);
    }

    /** @param take another one gives other frames */
    public static byte[] zip(int count, int width, int height, int take) throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream z = new ZipOutputStream(out)) {
            for (int f = 1; f <= count; f++) {
                z.putNextEntry(new ZipEntry(String.format("take.%04d.png", f)));
                z.write(png(width, height, 1000 * take + f));
                z.closeEntry();
            }
        }
        return out.toByteArray();
    }

    public static byte[] png(int width, int height, int seed) throws Exception {
        Random r = new Random(seed);
        BufferedImage im = new BufferedImage(width, height, BufferedImage.TYPE_INT_RGB);
        for (int y = 0; y < height; y++) for (int x = 0; x < width; x++) im.setRGB(x, y, r.nextInt(1 << 24));
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ImageIO.write(im, "png", out);
        return out.toByteArray();
    }
}
