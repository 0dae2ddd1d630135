package dasein.core.light.photo;

import dasein.core.BadInput;
import dasein.core.format.JsonFile;
import dasein.core.format.SafeWrite;
import dasein.core.image.Encoding;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * What a camera's codes mean: relative light by 8-bit code, one table a colour. White (255) of the green table is 1.
 *
 * @param table three times 256, none falling
 */
public record Response(float[][] table) {
    public static final int CODES = 256;

    public Response {
        if (table.length != 3) throw new BadInput("a camera's response has three tables, for red, green and blue");
        for (float[] t : table) {
            if (t.length != CODES) throw new BadInput("each table of a camera's response has " + CODES + " entries");
            for (int z = 0; z < CODES; z++)
                if (!(t[z] >= 0 && t[z] < 1e6) || z > 0 && t[z] < t[z - 1])
                    throw new BadInput("the entries of a camera's response must not fall or be below zero");
            if (!(t[CODES - 1] > 0)) throw new BadInput("a camera's response is zero throughout");
        }
    }

    public static final Response LINEAR = of(Encoding.LINEAR), SRGB = of(Encoding.SRGB);

    /** By an encoding's curve. */
    public static Response of(Encoding e) {
        float[] t = new float[CODES];
        for (int z = 0; z < CODES; z++) t[z] = (float) e.decode(z / 255.0);
        return new Response(new float[][] {t, t.clone(), t.clone()});
    }

    /** Light of a code from 0 to 1, straight between the entries. */
    public float light(int c, float code) {
        float x = Math.max(0, Math.min(CODES - 1, code * (CODES - 1)));
        int z = Math.min((int) x, CODES - 2);
        return table[c][z] + (x - z) * (table[c][z + 1] - table[c][z]);
    }

    /** By how much light rises from one 8-bit code to the next, there. */
    public float step(int c, float code) {
        int z = Math.max(1, Math.min(CODES - 2, (int) (code * (CODES - 1) + 0.5f)));
        return (table[c][z + 1] - table[c][z - 1]) / 2;
    }

    /** @throws BadInput when the file is no response */
    public static Response read(Path path) {
        JsonNode all = JsonFile.read(path, 1 << 20, "camera's response").path("table");
        if (all.size() != 3) throw new BadInput(path.getFileName() + " has no \"table\" of three lists");
        float[][] t = new float[3][CODES];
        for (int c = 0; c < 3; c++) {
            if (all.get(c).size() != CODES)
                throw new BadInput(
                        "each list of \"table\" in " + path.getFileName() + " must have " + CODES + " numbers");
            for (int z = 0; z < CODES; z++) t[c][z] = (float) all.get(c).get(z).asDouble(Double.NaN);
        }
        return new Response(t);
    }

    public void write(Path path) {
        double[][] t = new double[3][CODES];
        for (int c = 0; c < 3; c++)
            for (int z = 0; z < CODES; z++) t[c][z] = Double.parseDouble(Float.toString(table[c][z]));
        SafeWrite.to(
                path,
                tmp -> Files.writeString(
                        tmp, new JsonMapper().writeValueAsString(java.util.Map.of("table", t)) + "\n"));
    }

    /** Made never to fall by pooling neighbours that do (Ayer and others 1955). */
    static void rising(double[] t) {
        double[] value = new double[t.length], weight = new double[t.length];
        int n = 0;
        for (double v : t) {
            value[n] = v;
            weight[n++] = 1;
            while (n > 1 && value[n - 2] > value[n - 1]) {
                double w = weight[n - 2] + weight[n - 1];
                value[n - 2] = (value[n - 2] * weight[n - 2] + value[n - 1] * weight[n - 1]) / w;
                weight[n - 2] = w;
                n--;
            }
        }
        int at = 0;
        for (int k = 0; k < n; k++) {
            Arrays.fill(t, at, at + (int) weight[k], value[k]);
            at += (int) weight[k];
        }
    }
}
