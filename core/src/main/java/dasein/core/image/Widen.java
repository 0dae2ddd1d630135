package dasein.core.image;

/**
 * Another width for a picture whose pixels are not square: Lanczos with three lobes, made broader when the picture
 * shrinks.
 */
public final class Widen {
    private static final int LOBES = 3;

    private final int from, to;
    private final int[] first;
    private final float[][] weights;

    public Widen(int from, int to) {
        this.from = from;
        this.to = to;
        first = new int[to];
        weights = new float[to][];
        double scale = (double) from / to, broad = Math.max(1, scale), reach = LOBES * broad;
        for (int x = 0; x < to; x++) {
            double centre = (x + 0.5) * scale - 0.5;
            int a = (int) Math.ceil(centre - reach), b = (int) Math.floor(centre + reach);
            float[] k = new float[b - a + 1];
            double sum = 0;
            for (int i = a; i <= b; i++) sum += lanczos((i - centre) / broad);
            for (int i = a; i <= b; i++) k[i - a] = (float) (lanczos((i - centre) / broad) / sum);
            first[x] = a;
            weights[x] = k;
        }
    }

    private static double lanczos(double t) {
        if (Math.abs(t) < 1e-9) return 1;
        if (Math.abs(t) >= LOBES) return 0;
        double p = Math.PI * t;
        return LOBES * Math.sin(p) * Math.sin(p / LOBES) / (p * p);
    }

    public float[] apply(float[] src, int height) {
        float[] out = new float[to * height];
        Image.rows(height, y -> {
            for (int x = 0; x < to; x++) {
                float[] k = weights[x];
                float s = 0;
                int a = first[x], row = y * from;
                if (a >= 0 && a + k.length <= from) for (int i = 0; i < k.length; i++) s += k[i] * src[row + a + i];
                else for (int i = 0; i < k.length; i++) s += k[i] * src[row + Math.min(Math.max(a + i, 0), from - 1)];
                out[y * to + x] = s;
            }
        });
        return out;
    }

    public Image apply(Image im) {
        float[][] planes = new float[im.channels()][];
        for (int c = 0; c < planes.length; c++) planes[c] = apply(im.planes[c], im.height);
        return new Image(to, im.height, planes);
    }
}
