package dasein.core.light.chart;

import dasein.core.image.Encoding;
import dasein.core.image.Primaries;
import org.ejml.simple.SimpleMatrix;

/**
 * The colours of the classic 24-patch chart, row by row, six a row, dark skin first, black last; by edition, as the
 * pigments changed. All values from memory of what was published.
 */
public enum Patches {
    /** CIE Lab under D50, 2 degrees, of charts made before November 2014. */
    BEFORE_2014("a chart from before November 2014", new double[][] {
        {37.986, 13.555, 14.059}, {65.711, 18.130, 17.810}, {49.927, -4.880, -21.925},
        {43.139, -13.095, 21.905}, {55.112, 8.844, -25.399}, {70.719, -33.397, -0.199},
        {62.661, 36.067, 57.096}, {40.020, 10.410, -45.964}, {51.124, 48.239, 16.248},
        {30.325, 22.976, -21.587}, {72.532, -23.709, 57.255}, {71.941, 19.363, 67.857},
        {28.778, 14.179, -50.297}, {55.261, -38.342, 31.370}, {42.101, 53.378, 28.190},
        {81.733, 4.039, 79.819}, {51.935, 49.986, -14.574}, {51.038, -28.631, -28.638},
        {96.539, -0.425, 1.186}, {81.257, -0.638, -0.335}, {66.766, -0.734, -0.504},
        {50.867, -0.153, -0.270}, {35.656, -0.421, -1.231}, {20.461, -0.079, -0.973}
    }),
    /** CIE Lab under D50, 2 degrees, of charts made since. */
    SINCE_2014("a chart since November 2014", new double[][] {
        {37.54, 14.37, 14.92}, {64.66, 19.27, 17.50}, {49.32, -3.82, -22.54},
        {43.46, -12.74, 22.72}, {54.94, 9.61, -24.79}, {70.48, -32.26, -0.37},
        {62.73, 35.83, 56.50}, {39.43, 10.75, -45.17}, {50.57, 48.64, 16.67},
        {30.10, 22.54, -20.87}, {71.77, -24.13, 58.19}, {71.51, 18.24, 67.37},
        {28.37, 15.42, -49.80}, {54.38, -39.72, 32.27}, {42.43, 51.05, 28.62},
        {81.80, 2.67, 80.41}, {50.63, 51.28, -14.12}, {49.57, -29.71, -28.32},
        {95.19, -1.03, 2.93}, {81.29, -0.57, 0.44}, {66.89, -0.75, -0.06},
        {50.76, -0.13, 0.14}, {35.63, -0.46, -0.48}, {20.64, 0.07, -0.46}
    }),
    /** Codes in sRGB of averages over many charts, 2005. */
    AVERAGES("averages of 2005", new int[] {
        0x735244, 0xc29682, 0x627a9d, 0x576c43, 0x8580b1, 0x67bdaa,
        0xd67e2c, 0x505ba6, 0xc15a63, 0x5e3c6c, 0x9dbc40, 0xe0a32e,
        0x383d96, 0x469449, 0xaf363c, 0xe7c71f, 0xbb5695, 0x0885a1,
        0xf3f3f2, 0xc8c8c8, 0xa0a0a0, 0x7a7a79, 0x555555, 0x343434
    });
    public static final int ROWS = 4, COLUMNS = 6, COUNT = ROWS * COLUMNS;

    /** In words. */
    public final String said;

    private final double[][] linear = new double[COUNT][3];
    private final double[][] lab = new double[COUNT][];

    Patches(String said, double[][] labD50) {
        this.said = said;
        SimpleMatrix toD65 = Primaries.adaptation(Lab.D50, Lab.D65);
        for (int i = 0; i < COUNT; i++) {
            SimpleMatrix v = toD65.mult(new SimpleMatrix(3, 1, true, Lab.xyz(labD50[i], Lab.D50)));
            System.arraycopy(Primaries.rec709(v.get(0), v.get(1), v.get(2)), 0, linear[i], 0, 3);
            lab[i] = Lab.of709(linear[i][0], linear[i][1], linear[i][2]);
        }
    }

    Patches(String said, int[] srgb) {
        this.said = said;
        for (int i = 0; i < COUNT; i++) {
            for (int c = 0; c < 3; c++) linear[i][c] = Encoding.SRGB.decode((srgb[i] >> 16 - 8 * c & 255) / 255.0);
            lab[i] = Lab.of709(linear[i][0], linear[i][1], linear[i][2]);
        }
    }

    /** Scene-linear Rec. 709 of a patch; a perfect white is 1 in all three. */
    public double[] linear(int patch) {
        return linear[patch].clone();
    }

    /** L*a*b* of a patch under D65, as {@link Lab#of709}. */
    double[] lab(int patch) {
        return lab[patch];
    }
}
