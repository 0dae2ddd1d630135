package dasein.core.format;

import dasein.core.BadInput;
import java.io.ByteArrayInputStream;
import java.util.Locale;
import javax.xml.XMLConstants;
import javax.xml.parsers.DocumentBuilderFactory;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.NodeList;

/**
 * The ASC's colour decision list (ASC CDL 1.2): slope, offset and power of each colour, and saturation. Reads
 * {@code .cdl}, {@code .cc} and {@code .ccc} (the first correction in it), writes {@code .cc}.
 */
public record DecisionList(double[] slope, double[] offset, double[] power, double saturation) {
    private static final int MOST_BYTES = 1 << 20;

    /** @throws BadInput with a sentence when it is no list, or one with numbers that cannot be */
    public static DecisionList read(byte[] xml, String name) {
        if (xml.length > MOST_BYTES) throw new BadInput(name + " is too large to be a colour decision list");
        Document d;
        try {
            DocumentBuilderFactory f = DocumentBuilderFactory.newInstance();
            // Nothing outside the file is read for it.
            f.setFeature(XMLConstants.FEATURE_SECURE_PROCESSING, true);
            f.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
            f.setNamespaceAware(true);
            var builder = f.newDocumentBuilder();
            builder.setErrorHandler(null);
            d = builder.parse(new ByteArrayInputStream(xml));
        } catch (Exception e) {
            throw new BadInput(name + " is not a colour decision list", e);
        }
        NodeList sop = d.getElementsByTagNameNS("*", "SOPNode"), sat = d.getElementsByTagNameNS("*", "SatNode");
        if (sop.getLength() == 0 && sat.getLength() == 0)
            throw new BadInput(name + " holds no slope, offset, power or saturation");
        Element s = sop.getLength() == 0 ? null : (Element) sop.item(0);
        double[] slope = three(s, "Slope", 1, name),
                offset = three(s, "Offset", 0, name),
                power = three(s, "Power", 1, name);
        double saturation = 1;
        if (sat.getLength() > 0)
            saturation = numbers((Element) sat.item(0), "Saturation", 1, new double[] {1}, name)[0];
        for (int c = 0; c < 3; c++) {
            if (!(slope[c] >= 0)) throw new BadInput(name + " has a negative slope");
            if (!(power[c] > 0)) throw new BadInput(name + " has a power that is not above zero");
        }
        if (!(saturation >= 0)) throw new BadInput(name + " has a negative saturation");
        return new DecisionList(slope, offset, power, saturation);
    }

    private static double[] three(Element in, String tag, double rest, String name) {
        return numbers(in, tag, 3, new double[] {rest, rest, rest}, name);
    }

    private static double[] numbers(Element in, String tag, int count, double[] rest, String name) {
        NodeList l = in == null ? null : in.getElementsByTagNameNS("*", tag);
        if (l == null || l.getLength() == 0) return rest;
        String[] words = l.item(0).getTextContent().trim().split("\\s+");
        if (words.length != count)
            throw new BadInput(name + " has " + words.length + " numbers for " + tag + " instead of " + count);
        double[] out = new double[count];
        for (int i = 0; i < count; i++) {
            try {
                out[i] = Double.parseDouble(words[i]);
            } catch (NumberFormatException e) {
                throw new BadInput(name + " has something that is no number for " + tag, e);
            }
            if (!Double.isFinite(out[i])) throw new BadInput(name + " has something that is no number for " + tag);
        }
        return out;
    }

    /** As a {@code .cc} file. @param id what it is called: letters, digits and underscores */
    public String written(String id) {
        return String.format(
                Locale.ROOT,
                """
                <?xml version="1.0" encoding="UTF-8"?>
                <ColorCorrection id="%s" xmlns="urn:ASC:CDL:v1.2">
                  <SOPNode>
                    <Slope>%s</Slope>
                    <Offset>%s</Offset>
                    <Power>%s</Power>
                  </SOPNode>
                  <SatNode>
                    <Saturation>%s</Saturation>
                  </SatNode>
                </ColorCorrection>
                """,
                id.replaceAll("[^A-Za-z0-9_.-]", "_"),
                words(slope),
                words(offset),
                words(power),
                word(saturation));
    }

    private static String words(double[] v) {
        return word(v[0]) + " " + word(v[1]) + " " + word(v[2]);
    }

    private static String word(double v) {
        return String.format(Locale.ROOT, "%.6f", v);
    }
}
