package dasein.core.output;

import dasein.core.image.Image;
import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.Shape;
import java.awt.geom.AffineTransform;
import java.awt.geom.GeneralPath;
import java.awt.image.BufferedImage;
import java.awt.image.DataBufferByte;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.List;
import org.apache.fontbox.ttf.TTFParser;
import org.apache.fontbox.ttf.TrueTypeFont;
import org.apache.pdfbox.io.RandomAccessReadBuffer;

/**
 * Letters in a picture, drawn from outlines that ship with the PDF library: a server needs no fonts of its own. White
 * with a dark rim, so that they are read on any picture.
 */
public final class Lettering {
    /** Ships with the PDF library. */
    static final String FONT = "/org/apache/pdfbox/resources/ttf/LiberationSans-Regular.ttf";

    private static final TrueTypeFont FACE = face();
    /** Light of a white letter and of a slate, scene-linear. */
    private static final float WHITE = 0.9f, SLATE = 0.02f;

    private Lettering() {}

    private static TrueTypeFont face() {
        try (InputStream in = Lettering.class.getResourceAsStream(FONT)) {
            return new TTFParser().parse(new RandomAccessReadBuffer(in));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** A line of text as an outline whose foot begins at 0, 0; {@code size} is the height of its square, pixels. */
    static GeneralPath outline(String text, double size) {
        GeneralPath out = new GeneralPath();
        try {
            double k = size / FACE.getUnitsPerEm(), x = 0;
            for (int code : text.codePoints().toArray()) {
                int glyph = FACE.getUnicodeCmapLookup().getGlyphId(code);
                var shape = FACE.getGlyph().getGlyph(glyph);
                AffineTransform at = AffineTransform.getTranslateInstance(x, 0);
                at.scale(k, -k);
                if (shape != null) out.append(shape.getPath().createTransformedShape(at), false);
                x += k * FACE.getAdvanceWidth(glyph);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out;
    }

    /**
     * Writes into the lower edge of a picture, at left, middle and right, within the inner 90 % where titles are safe
     * (common practice).
     *
     * @return a picture of its own
     */
    public static Image burnt(Image im, String left, String middle, String right) {
        double size = Math.max(9, 0.032 * im.height), y = 0.95 * im.height - 0.3 * size;
        Mask m = new Mask(im.width, im.height);
        String[] texts = {left, middle, right};
        for (int k = 0; k < 3; k++) {
            Shape s = outline(texts[k], size);
            double w = s.getBounds2D().getMaxX(), x = 0.05 * im.width + 0.5 * k * (0.9 * im.width - w);
            m.draw(s, x, y, size);
        }
        return m.over(im.copy());
    }

    /** A card of its own before the first frame. @param lines the first of them is its title */
    public static Image slate(int width, int height, List<String> lines) {
        Image im = new Image(width, height, 3);
        for (float[] p : im.planes) java.util.Arrays.fill(p, SLATE);
        Mask m = new Mask(width, height);
        double size = Math.min(0.05 * height, 0.045 * width), y = 0.16 * height + size;
        for (int k = 0; k < lines.size(); k++) {
            double own = k == 0 ? 1.9 * size : size;
            Shape s = outline(lines.get(k), own);
            double wide = s.getBounds2D().getMaxX(), room = 0.84 * width;
            if (wide > room) {
                own *= room / wide;
                s = outline(lines.get(k), own);
            }
            m.draw(s, 0.08 * width, y, own);
            y += (k == 0 ? 2.6 : 1.6) * size;
        }
        return m.over(im);
    }

    /** How much of each pixel is letter, and how much rim. */
    private static final class Mask {
        private final BufferedImage letter, rim;

        Mask(int w, int h) {
            letter = new BufferedImage(w, h, BufferedImage.TYPE_BYTE_GRAY);
            rim = new BufferedImage(w, h, BufferedImage.TYPE_BYTE_GRAY);
        }

        void draw(Shape s, double x, double y, double size) {
            Shape there = AffineTransform.getTranslateInstance(x, y).createTransformedShape(s);
            fill(letter, there);
            fill(rim, there);
            fill(
                    rim,
                    new BasicStroke((float) (0.16 * size), BasicStroke.CAP_ROUND, BasicStroke.JOIN_ROUND)
                            .createStrokedShape(there));
        }

        private static void fill(BufferedImage on, Shape s) {
            Graphics2D g = on.createGraphics();
            g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
            g.setColor(Color.WHITE);
            g.fill(s);
            g.dispose();
        }

        Image over(Image im) {
            byte[] l = ((DataBufferByte) letter.getRaster().getDataBuffer()).getData(),
                    r = ((DataBufferByte) rim.getRaster().getDataBuffer()).getData();
            for (int i = 0; i < l.length; i++) {
                float a = (l[i] & 0xff) / 255f, dark = 0.8f * (r[i] & 0xff) / 255f;
                if (dark > 0) for (float[] p : im.planes) p[i] = a * WHITE + (1 - a) * (1 - dark) * p[i];
            }
            return im;
        }
    }
}
