package dasein.core.output;

import static org.assertj.core.api.Assertions.assertThat;

import java.awt.Color;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.util.ArrayList;
import java.util.List;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.rendering.PDFRenderer;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.Test;

class SheetTest {
    private static byte[] made() throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (Sheet s = new Sheet("LW_010")) {
            s.title("LW_010");
            BufferedImage red = new BufferedImage(160, 90, BufferedImage.TYPE_INT_RGB);
            for (int y = 0; y < 90; y++) for (int x = 0; x < 160; x++) red.setRGB(x, y, 0xd01010);
            s.pictures(List.of(red, red, red), 0.32f);
            s.heading("Plate");
            s.text("A hand-held plate, in which the wind moves grass. ".repeat(12));
            List<List<String>> rows = new ArrayList<>();
            for (int k = 1; k <= 90; k++)
                rows.add(List.of("row " + k, "n\u00e4her \u4e2d", "x".repeat(k == 3 ? 300 : 10)));
            s.table(rows, 0.2f, 0.3f, 0.5f);
            s.plan(0.4f, p -> {
                p.line(-1, -1, 1, 1, 0);
                p.dot(0, 0, 6, 0);
                p.word("strider", 0, 0);
            });
            s.write(out);
        }
        return out.toByteArray();
    }

    /** All of it is there and in order; what is wider than its column is broken, and nothing lies off the page. */
    @Test
    void everythingIsOnThePages() throws Exception {
        try (PDDocument d = Loader.loadPDF(made())) {
            assertThat(d.getNumberOfPages()).isBetween(2, 4);
            String text = new PDFTextStripper().getText(d);
            assertThat(text).startsWith("LW_010").contains("row 1 ", "row 90", "n\u00e4her ?", "strider");
            assertThat(text.replaceAll("\\s+", " ").split("wind moves grass", -1))
                    .hasSize(13);
            for (int k = 0; k < d.getNumberOfPages(); k++) {
                BufferedImage p = new PDFRenderer(d).renderImageWithDPI(k, 72);
                int ink = 0;
                for (int y = 0; y < p.getHeight(); y++)
                    for (int x = 0; x < p.getWidth(); x++) {
                        if ((p.getRGB(x, y) & 0xffffff) == 0xffffff) continue;
                        ink++;
                        assertThat(x).isBetween(46, p.getWidth() - 46);
                        assertThat(y).isBetween(44, p.getHeight() - 44);
                    }
                assertThat(ink).isGreaterThan(500);
            }
            Color c = new Color(new PDFRenderer(d).renderImageWithDPI(0, 72).getRGB(100, 110));
            assertThat(c.getRed()).as("the picture").isGreaterThan(180);
            assertThat(c.getGreen()).isLessThan(60);
        }
    }
}
