package dasein.core.render;

/** Running sums of all samples of a frame, one plane for each quantity. */
final class Film {
    static final int BEAUTY = 0,
            ALPHA = 3,
            BLOCKED = 4,
            CATCHER = 7,
            BOUNCE = 8,
            REFLECTION = 11,
            OPEN = 14,
            OPEN_COUNT = 15,
            DEPTH = 16,
            NORMAL = 17,
            MOTION = 20,
            ALBEDO = 22,
            ODD_BEAUTY = 25,
            ODD_BLOCKED = 28,
            CATCHER_DEPTH = 29,
            ODD_EXTRA = 30,
            LIGHT = 31,
            PLANES = 34;

    final int width;
    final int height;
    final float[][] sum;
    final int[] count;
    final int[] id;

    Film(int width, int height) {
        this.width = width;
        this.height = height;
        sum = new float[PLANES][width * height];
        count = new int[width * height];
        id = new int[width * height];
    }

    /** Whether performers take light from a catcher here, or give it some. */
    boolean catches(int p) {
        for (int c = 0; c < 3; c++)
            if (sum[BLOCKED + c][p] > 0 || sum[BOUNCE + c][p] != 0 || sum[REFLECTION + c][p] != 0) return true;
        return false;
    }

    /** Of the sums of a quantity that has three colours. */
    float luminance(int plane, int p) {
        return luminance(sum[plane][p], sum[plane + 1][p], sum[plane + 2][p]);
    }

    static float luminance(float r, float g, float b) {
        return 0.2126f * r + 0.7152f * g + 0.0722f * b;
    }
}
