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
            CATCHER_DEPTH = 25,
            LIGHT = 26,
            MOTION_COUNT = 32,
            EARLIER_BEAUTY = 29,
            EARLIER_BLOCKED = 30,
            EARLIER_ADDED = 31,
            PLANES = 33;

    final int width;
    final int height;
    final float[][] sum;
    final int[] count;
    /** Samples at which the luminances were noted that stand in the EARLIER planes. */
    final int[] earlier;

    final int[] id;

    Film(int width, int height) {
        this.width = width;
        this.height = height;
        sum = new float[PLANES][width * height];
        count = new int[width * height];
        earlier = new int[width * height];
        id = new int[width * height];
    }

    /** Whether performers take light from a catcher here, or give it some. */
    boolean catches(int p) {
        for (int c = 0; c < 3; c++)
            if (sum[BLOCKED + c][p] > 0 || sum[BOUNCE + c][p] != 0 || sum[REFLECTION + c][p] != 0) return true;
        return false;
    }

    /**
     * Notes how bright a pixel is by now, against which later samples tell the noise. (Halves of a stratified sequence
     * are stratified themselves; odd and even samples are not, and make the noise a third too large.)
     */
    void note(int p) {
        earlier[p] = count[p];
        sum[EARLIER_BEAUTY][p] = luminance(BEAUTY, p);
        sum[EARLIER_BLOCKED][p] = luminance(BLOCKED, p);
        sum[EARLIER_ADDED][p] = luminance(BOUNCE, p) + luminance(REFLECTION, p);
    }

    /**
     * Estimated error of a pixel's mean, one standard deviation with either sign: from how far it moved since it was
     * noted.
     *
     * @param now luminance of the sum; @param plane of what was noted
     */
    float error(float now, int plane, int p) {
        int n = count[p], was = earlier[p];
        if (was == 0 || was == n) return 0;
        return (now / n - sum[plane][p] / was) * (float) Math.sqrt((double) was / (n - was));
    }

    /** Of the sums of a quantity that has three colours. */
    float luminance(int plane, int p) {
        return luminance(sum[plane][p], sum[plane + 1][p], sum[plane + 2][p]);
    }

    static float luminance(float r, float g, float b) {
        return 0.2126f * r + 0.7152f * g + 0.0722f * b;
    }
}
