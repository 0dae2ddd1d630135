package dasein.core.light.chart;

import dasein.core.BadInput;
import dasein.core.format.SafeWrite;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.photo.Photo;
import dasein.core.light.photo.Response;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import tools.jackson.databind.json.JsonMapper;

/**
 * A chart read in a photograph.
 *
 * @param encoding what the photograph's codes were taken for; null when it is light or a table was given
 * @param edition of the chart: the one that fits best
 * @param corners of the field of 6 x 4 cells, pixels, in the chart's own order
 */
public record Chart(double[][] corners, ChartFit.Fit fit, Encoding encoding, Patches edition) {
    /** Codes from here on are cut off. */
    private static final float CUT = 0.985f;
    /** Another curve than sRGB is believed when it leaves so much less. */
    private static final double CLEARLY = 0.8;

    /**
     * @param response of the camera; null: sRGB, unless another common curve fits the chart's own greys clearly better
     * @param corners going round from any of them; null to find it
     */
    public static Chart of(Photo photo, Response response, double[][] corners) {
        if (photo.isLight() || response != null) return of(photo, light(photo, response), corners, null);
        Chart best = null;
        BadInput trouble = null;
        for (Encoding e : new Encoding[] {Encoding.SRGB, Encoding.REC709, Encoding.LINEAR}) {
            // Where it is not found in the one it is not found in the other: they differ too little.
            if (best == null && e == Encoding.REC709) continue;
            try {
                Chart c = of(photo, light(photo, Response.of(e)), best == null ? corners : best.corners, e);
                if (best == null || c.fit.mean() < CLEARLY * best.fit.mean()) best = c;
            } catch (BadInput none) {
                if (trouble == null) trouble = none;
            }
        }
        if (best == null) throw trouble;
        return best;
    }

    private static Chart of(Photo photo, Image light, double[][] corners, Encoding encoding) {
        ChartFinder.Found f = corners == null ? ChartFinder.find(light) : ChartFinder.at(light, corners);
        ChartReading r = ChartReading.of(light, f.corners());
        boolean[] cut = cut(photo, f.corners());
        Chart best = null;
        for (Patches p : Patches.values()) {
            Chart c = new Chart(f.corners(), ChartFit.of(r.light(), cut, p), encoding, p);
            if (best == null || c.fit.mean() < best.fit.mean()) best = c;
        }
        return best;
    }

    private static boolean[] cut(Photo photo, double[][] corners) {
        boolean[] cut = new boolean[Patches.COUNT];
        if (photo.isLight()) return cut;
        Image codes = new Image(photo.width, photo.height, 1);
        for (int i = 0; i < codes.planes[0].length; i++) {
            float most = Math.max(photo.at(0, i), Math.max(photo.at(1, i), photo.at(2, i)));
            codes.planes[0][i] = most >= CUT ? 1 : 0;
        }
        ChartReading r = ChartReading.of(
                new Image(photo.width, photo.height, codes.planes[0], codes.planes[0], codes.planes[0]), corners);
        // A few pixels are noise; more pull the mean down.
        for (int i = 0; i < cut.length; i++) cut[i] = r.light()[i][0] > 0.02;
        return cut;
    }

    private static Image light(Photo p, Response response) {
        Image out = new Image(p.width, p.height, 3);
        Image.rows(p.height, y -> {
            for (int c = 0; c < 3; c++)
                for (int i = y * p.width; i < (y + 1) * p.width; i++)
                    out.planes[c][i] = p.isLight() ? p.at(c, i) : response.light(c, p.at(c, i));
        });
        return out;
    }

    /** By how many degrees the chart is turned in the picture, clockwise, from -180 to 180. */
    public double turnDeg() {
        return Math.toDegrees(Math.atan2(corners[1][1] - corners[0][1], corners[1][0] - corners[0][0]));
    }

    /** {@code {"matrix":[9],"deltaE":{"mean","worst"},"corners":[[x,y],…],"encoding","uneven"}}. */
    public void write(Path out) {
        Map<String, Object> m = new LinkedHashMap<>();
        m.put("matrix", fit.matrix());
        m.put("deltaE", Map.of("mean", fit.mean(), "worst", fit.worst(), "patches", patches()));
        m.put("corners", corners);
        m.put("unevenStops", fit.uneven());
        m.put("edition", edition.name().toLowerCase(Locale.ROOT));
        if (encoding != null) m.put("encoding", encoding.name().toLowerCase(Locale.ROOT));
        SafeWrite.to(out, tmp -> Files.writeString(tmp, new JsonMapper().writeValueAsString(m) + "\n"));
    }

    /** Left-out ones as null. */
    private Double[] patches() {
        Double[] d = new Double[Patches.COUNT];
        for (int i = 0; i < d.length; i++) d[i] = Double.isNaN(fit.deltaE()[i]) ? null : fit.deltaE()[i];
        return d;
    }
}
