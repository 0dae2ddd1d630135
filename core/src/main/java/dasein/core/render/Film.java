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

    static float luminance(float r, float g, float b) {
        return 0.2126f * r + 0.7152f * g + 0.0722f * b;
    }
}
