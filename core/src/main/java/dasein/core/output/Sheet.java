package dasein.core.output;

import java.awt.image.BufferedImage;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.util.ArrayList;
import java.util.List;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.common.PDRectangle;
import org.apache.pdfbox.pdmodel.font.PDFont;
import org.apache.pdfbox.pdmodel.font.PDType0Font;
import org.apache.pdfbox.pdmodel.graphics.image.JPEGFactory;
import org.apache.pdfbox.pdmodel.graphics.image.PDImageXObject;

/** A PDF that is written from top to bottom, A4, page after page: headings, lines, tables, pictures. */
public final class Sheet implements AutoCloseable {
    private static final float MARGIN = 48, WIDE = PDRectangle.A4.getWidth() - 2 * MARGIN, LINE = 1.35f, JPEG = 0.88f;

    private final PDDocument doc = new PDDocument();
    private final PDFont font;
    private PDPageContentStream page;
    private float y;

    /** @param title that readers show */
    public Sheet(String title) throws IOException {
        try (InputStream in = Sheet.class.getResourceAsStream(Lettering.FONT)) {
            font = PDType0Font.load(doc, in);
        }
        doc.getDocumentInformation().setTitle(title);
        doc.getDocumentInformation().setCreator("Dasein");
        turn();
    }

    private void turn() throws IOException {
        if (page != null) page.close();
        PDPage p = new PDPage(PDRectangle.A4);
        doc.addPage(p);
        page = new PDPageContentStream(doc, p);
        y = PDRectangle.A4.getHeight() - MARGIN;
    }

    /** So much is needed in one piece. */
    private void room(float high) throws IOException {
        if (y - high < MARGIN) turn();
    }

    public void title(String s) throws IOException {
        line(s, 20, 0);
        y -= 4;
    }

    public void heading(String s) throws IOException {
        room(60);
        y -= 12;
        line(s, 12, 0);
        rule();
    }

    public void text(String s) throws IOException {
        line(s, 9.5f, 0.25f);
    }

    private void rule() throws IOException {
        y -= 4;
        page.setStrokingColor(0.75f);
        page.setLineWidth(0.5f);
        page.moveTo(MARGIN, y);
        page.lineTo(MARGIN + WIDE, y);
        page.stroke();
        y -= 2;
    }

    private void line(String s, float size, float grey) throws IOException {
        for (String part : broken(s, size, WIDE)) {
            room(size * LINE);
            y -= size * LINE;
            put(part, MARGIN, size, grey);
        }
    }

    private void put(String s, float x, float size, float grey) throws IOException {
        page.beginText();
        page.setFont(font, size);
        page.setNonStrokingColor(grey);
        page.newLineAtOffset(x, y);
        page.showText(s);
        page.endText();
    }

    /** @param shares of the width for each column */
    public void table(List<List<String>> rows, float... shares) throws IOException {
        float size = 8.5f;
        for (List<String> row : rows) {
            List<List<String>> cells = new ArrayList<>();
            int most = 1;
            for (int c = 0; c < shares.length; c++) {
                List<String> lines = broken(c < row.size() ? row.get(c) : "", size, shares[c] * WIDE - 8);
                cells.add(lines);
                most = Math.max(most, lines.size());
            }
            room(most * size * LINE + 4);
            float top = y;
            for (int k = 0; k < most; k++) {
                y -= size * LINE;
                float x = MARGIN;
                for (int c = 0; c < shares.length; c++) {
                    if (k < cells.get(c).size()) put(cells.get(c).get(k), x, size, c == 0 ? 0.4f : 0);
                    x += shares[c] * WIDE;
                }
            }
            y = top - most * size * LINE - 2;
        }
        y -= 4;
    }

    /** As wide as a share of the page; next to each other where there are several. */
    public void pictures(List<BufferedImage> all, float share) throws IOException {
        float wide = share * WIDE, gap = 6, x = MARGIN, high = 0;
        for (BufferedImage b : all) high = Math.max(high, wide * b.getHeight() / b.getWidth());
        room(high + 8);
        for (BufferedImage b : all) {
            PDImageXObject im = JPEGFactory.createFromImage(doc, b, JPEG);
            float h = wide * b.getHeight() / b.getWidth();
            page.drawImage(im, x, y - 6 - h, wide, h);
            x += wide + gap;
        }
        y -= high + 8;
    }

    /** Draws in a square field whose middle is 0, 0 and whose sides lie at +-1. */
    public interface Plan {
        void draw(Pen pen) throws IOException;
    }

    /** Lines and dots in a plan. */
    public final class Pen {
        private final float left, foot, half;

        private Pen(float left, float foot, float half) {
            this.left = left;
            this.foot = foot;
            this.half = half;
        }

        private float x(double v) {
            return left + half * (1 + (float) v);
        }

        private float y(double v) {
            return foot + half * (1 - (float) v);
        }

        public void line(double ax, double ay, double bx, double by, float grey) throws IOException {
            page.setStrokingColor(grey);
            page.setLineWidth(0.7f);
            page.moveTo(x(ax), y(ay));
            page.lineTo(x(bx), y(by));
            page.stroke();
        }

        public void dot(double ax, double ay, float size, float grey) throws IOException {
            page.setNonStrokingColor(grey);
            page.addRect(x(ax) - size / 2, y(ay) - size / 2, size, size);
            page.fill();
        }

        public void word(String s, double ax, double ay) throws IOException {
            page.beginText();
            page.setFont(font, 7.5f);
            page.setNonStrokingColor(0f);
            page.newLineAtOffset(x(ax) + 4, y(ay) - 2);
            page.showText(clean(s));
            page.endText();
        }
    }

    /** @param share of the page's width that the field takes */
    public void plan(float share, Plan p) throws IOException {
        float half = share * WIDE / 2;
        room(2 * half + 8);
        page.saveGraphicsState();
        page.addRect(MARGIN, y - 2 * half - 4, 2 * half, 2 * half);
        page.clip();
        p.draw(new Pen(MARGIN, y - 2 * half - 4, half));
        page.restoreGraphicsState();
        page.setStrokingColor(0.75f);
        page.addRect(MARGIN, y - 2 * half - 4, 2 * half, 2 * half);
        page.stroke();
        y -= 2 * half + 8;
    }

    /** Words in lines that are no wider. */
    private List<String> broken(String s, float size, float wide) throws IOException {
        List<String> out = new ArrayList<>();
        StringBuilder now = new StringBuilder();
        for (String word : clean(s).split(" ")) {
            String more = now.isEmpty() ? word : now + " " + word;
            if (!now.isEmpty() && width(more, size) > wide) {
                out.add(now.toString());
                now = new StringBuilder(word);
            } else now = new StringBuilder(more);
            // A word that is wider than all of it is cut.
            while (width(now.toString(), size) > wide && now.length() > 1) {
                int k = now.length() - 1;
                while (k > 1 && width(now.substring(0, k), size) > wide) k--;
                out.add(now.substring(0, k));
                now = new StringBuilder(now.substring(k));
            }
        }
        out.add(now.toString());
        return out;
    }

    private float width(String s, float size) throws IOException {
        return font.getStringWidth(s) / 1000 * size;
    }

    /** What the font has no letter for becomes a question mark. */
    private String clean(String s) {
        StringBuilder b = new StringBuilder();
        for (int code : s.replaceAll("\\s+", " ").codePoints().toArray()) {
            String one = Character.toString(code);
            try {
                font.encode(one);
                b.append(one);
            } catch (IOException | IllegalArgumentException e) {
                b.append('?');
            }
        }
        return b.toString();
    }

    public void write(OutputStream out) throws IOException {
        page.close();
        page = null;
        doc.save(out);
    }

    @Override
    public void close() throws IOException {
        if (page != null) page.close();
        doc.close();
    }
}
