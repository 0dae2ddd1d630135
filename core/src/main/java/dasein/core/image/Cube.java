package dasein.core.image;

import dasein.core.BadInput;
import java.io.BufferedReader;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * A table of colours from a {@code .cube} file: one curve a channel (1D) or a lattice (3D, red running fastest), with
 * linear and tetrahedral interpolation between its entries. Values outside its domain are held at its ends.
 */
public final class Cube {
    private static final int LARGEST_1D = 65_536, LARGEST_3D = 129;

    private final int size;
    private final boolean lattice;
    private final float[] min;
    private final float[] max;
    /** Three values an entry. */
    private final float[] table;

    private Cube(int size, boolean lattice, float[] min, float[] max, float[] table) {
        this.size = size;
        this.lattice = lattice;
        this.min = min;
        this.max = max;
        this.table = table;
    }

    /** @throws BadInput naming the line that is wrong */
    public static Cube read(Path path) {
        String name = path.getFileName().toString();
        float[] min = {0, 0, 0}, max = {1, 1, 1}, table = null;
        int size = 0, line = 0, n = 0;
        boolean lattice = false;
        try (BufferedReader r = Files.newBufferedReader(path)) {
            for (String s = r.readLine(); s != null; s = r.readLine()) {
                line++;
                String t = s.trim();
                if (t.isEmpty() || t.startsWith("#") || t.startsWith("TITLE")) continue;
                String[] w = t.split("\\s+");
                switch (w[0]) {
                    case "LUT_1D_SIZE", "LUT_3D_SIZE" -> {
                        if (table != null) throw new BadInput(name + " holds two tables; one is what can be read");
                        lattice = w[0].contains("3D");
                        size = Integer.parseInt(w[1]);
                        if (size < 2 || size > (lattice ? LARGEST_3D : LARGEST_1D))
                            throw new BadInput(name + " has a table of size " + size + "; from 2 to "
                                    + (lattice ? LARGEST_3D : LARGEST_1D) + " can be read");
                        table = new float[3 * (lattice ? size * size * size : size)];
                    }
                    case "DOMAIN_MIN" -> min = three(w, 1);
                    case "DOMAIN_MAX" -> max = three(w, 1);
                    default -> {
                        if (table == null)
                            throw new BadInput("line " + line + " of " + name + " comes before the table's size");
                        if (n == table.length) throw new BadInput(name + " has more entries than it says");
                        float[] v = three(w, 0);
                        for (float x : v) table[n++] = x;
                    }
                }
            }
        } catch (NumberFormatException | ArrayIndexOutOfBoundsException e) {
            throw new BadInput("line " + line + " of " + name + " is not part of a colour table");
        } catch (IOException e) {
            throw new BadInput(name + " cannot be read as a colour table", e);
        }
        if (table == null || n < table.length)
            throw new BadInput(name
                    + (table == null
                            ? " holds no colour table"
                            : " is cut short: " + n / 3 + " of " + table.length / 3 + " entries are there"));
        for (int c = 0; c < 3; c++)
            if (!(max[c] > min[c])) throw new BadInput(name + " has a domain that ends before it begins");
        return new Cube(size, lattice, min, max, table);
    }

    private static float[] three(String[] w, int from) {
        float[] v = {Float.parseFloat(w[from]), Float.parseFloat(w[from + 1]), Float.parseFloat(w[from + 2])};
        if (w.length != from + 3) throw new NumberFormatException();
        for (float x : v) if (!Float.isFinite(x)) throw new NumberFormatException();
        return v;
    }

    /** Sends every colour of a picture through the table, in place. */
    public void apply(Image im) {
        float[] r = im.planes[0], g = im.planes[1], b = im.planes[2];
        Image.bands(im.height, (from, to) -> {
            float[] out = new float[3];
            for (int i = from * im.width, e = to * im.width; i < e; i++) {
                at(r[i], g[i], b[i], out);
                r[i] = out[0];
                g[i] = out[1];
                b[i] = out[2];
            }
        });
    }

    /** @param out three values, written */
    public void at(float r, float g, float b, float[] out) {
        float x = place(r, 0), y = place(g, 1), z = place(b, 2);
        int i = Math.min((int) x, size - 2), j = Math.min((int) y, size - 2), k = Math.min((int) z, size - 2);
        float u = x - i, v = y - j, w = z - k;
        if (!lattice) {
            out[0] = table[3 * i] + u * (table[3 * i + 3] - table[3 * i]);
            out[1] = table[3 * j + 1] + v * (table[3 * j + 4] - table[3 * j + 1]);
            out[2] = table[3 * k + 2] + w * (table[3 * k + 5] - table[3 * k + 2]);
            return;
        }
        int p = 3 * ((k * size + j) * size + i),
                dx = 3,
                dy = 3 * size,
                dz = 3 * size * size,
                q = p + dx + dy + dz,
                a,
                c;
        float s, m, t;
        // From corner to opposite corner along three edges, the longest first: one of six tetrahedra.
        if (u >= v) {
            if (v >= w) {
                a = p + dx;
                c = a + dy;
                s = u;
                m = v;
                t = w;
            } else if (u >= w) {
                a = p + dx;
                c = a + dz;
                s = u;
                m = w;
                t = v;
            } else {
                a = p + dz;
                c = a + dx;
                s = w;
                m = u;
                t = v;
            }
        } else {
            if (w >= v) {
                a = p + dz;
                c = a + dy;
                s = w;
                m = v;
                t = u;
            } else if (w >= u) {
                a = p + dy;
                c = a + dz;
                s = v;
                m = w;
                t = u;
            } else {
                a = p + dy;
                c = a + dx;
                s = v;
                m = u;
                t = w;
            }
        }
        for (int h = 0; h < 3; h++)
            out[h] = (1 - s) * table[p + h] + (s - m) * table[a + h] + (m - t) * table[c + h] + t * table[q + h];
    }

    private float place(float v, int c) {
        return Math.max(0, Math.min(size - 1, (v - min[c]) / (max[c] - min[c]) * (size - 1)));
    }
}
