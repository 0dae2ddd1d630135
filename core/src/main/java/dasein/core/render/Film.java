package dasein.core.render;

import dasein.core.render.pass.Mattes;
import dasein.core.render.pass.PassSet;
import java.util.Arrays;

/** Running sums of all samples of a frame, one plane for each quantity. */
final class Film {
    static final int BEAUTY = 0,
            /** Samples whose light was found. */
            SHADED = 3,
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
            EARLIER_SHADED = 33,
            /** Samples that were only asked whether a performer is there, and those in which one is. */
            LOOKED = 34,
            MET = 35,
            /** Of the shaded ones, those that were taken because a performer had been met. */
            BESIDES = 36,
            PLANES = 37;
    /** Of every light that is kept apart; shadow's two of its straight light alone. */
    static final int OF_BEAUTY = 0, OF_BOUNCE = 3, OF_REFLECTION = 6, OF_BLOCKED = 9, OF_LIGHT = 12, OF_PLANES = 15;
    /** Of the beauty by what the surface does, three colours each in the order of the passes. */
    static final int LOBES = 15;
    /** Of the nearest sample: its depth, its place, its texture's place. */
    static final int NEAREST = 0, PLACE = 1, UV = 4, OF_NEAREST = 6;

    final int width;
    final int height;
    final float[][] sum;
    final int[] count;
    /** Samples at which the luminances were noted that stand in the EARLIER planes. */
    final int[] earlier;

    final int[] id;
    /** By slot of {@link LightGroups}, then as above; empty when all is together. */
    final float[][][] light;
    /** Null where they are not kept. */
    final float[][] lobes, nearest, ways;

    final float[] contact;

    final Mattes.Counts[] mattes;
    final DepthLayers layers;

    Film(int width, int height, LightGroups groups, Keep keep) {
        this.width = width;
        this.height = height;
        sum = new float[PLANES][width * height];
        count = new int[width * height];
        earlier = new int[width * height];
        id = new int[width * height];
        int n = width * height;
        light = new float[groups.names().size()][][];
        for (int g = 0; g < light.length; g++) {
            boolean straight = g % (groups.step() + 1) == 0;
            light[g] = new float[straight ? OF_PLANES : OF_BLOCKED][n];
        }
        lobes = keep.sets().contains(PassSet.MATERIAL) ? new float[LOBES][n] : null;
        nearest = keep.sets().contains(PassSet.SURFACE) ? new float[OF_NEAREST][n] : null;
        if (nearest != null) Arrays.fill(nearest[NEAREST], Float.POSITIVE_INFINITY);
        ways = keep.ways() ? new float[4][n] : null;
        contact = keep.sets().contains(PassSet.CONTACT) ? new float[n] : null;
        mattes = new Mattes.Counts[keep.sets().contains(PassSet.MATTES) ? Mattes.Kind.values().length : 0];
        layers = keep.sets().contains(PassSet.LAYERS) ? new DepthLayers(n) : null;
        for (int k = 0; k < mattes.length; k++) mattes[k] = new Mattes.Counts(n);
    }

    /**
     * Adds radiance by slot, three colours each, to a quantity: to that of all light, and to that of each.
     *
     * @param of where it stands among a light's own planes
     */
    void add(int plane, int of, int p, float[] bySlot, float r, float g, float b) {
        float x = 0, y = 0, z = 0;
        for (int k = 0; k < bySlot.length; k += 3) {
            x += bySlot[k];
            y += bySlot[k + 1];
            z += bySlot[k + 2];
            if (light.length == 0) continue;
            float[][] own = light[k / 3];
            own[of][p] += r * bySlot[k];
            own[of + 1][p] += g * bySlot[k + 1];
            own[of + 2][p] += b * bySlot[k + 2];
        }
        sum[plane][p] += r * x;
        sum[plane + 1][p] += g * y;
        sum[plane + 2][p] += b * z;
    }

    /** Adds light of one slot. */
    void add(int plane, int of, int p, int slot, float r, float g, float b) {
        sum[plane][p] += r;
        sum[plane + 1][p] += g;
        sum[plane + 2][p] += b;
        if (light.length == 0) return;
        float[][] own = light[slot];
        own[of][p] += r;
        own[of + 1][p] += g;
        own[of + 2][p] += b;
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
        sum[EARLIER_SHADED][p] = sum[SHADED][p];
        sum[EARLIER_BLOCKED][p] = luminance(BLOCKED, p);
        sum[EARLIER_ADDED][p] = luminance(BOUNCE, p) + luminance(REFLECTION, p);
    }

    /** Lets what is on the catcher of a pixel count as without noise, so that its neighbours tell it. */
    void settled(int p) {
        if (count[p] == 0) return;
        float k = (float) earlier[p] / count[p];
        sum[EARLIER_BLOCKED][p] = k * luminance(BLOCKED, p);
        sum[EARLIER_ADDED][p] = k * (luminance(BOUNCE, p) + luminance(REFLECTION, p));
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

    /** Part of a pixel that performers cover: by all samples that tell of it. */
    float alpha(int p) {
        float n = count[p] + sum[LOOKED][p];
        return n == 0 ? 0 : sum[SHADED][p] == 0 ? 0 : (sum[SHADED][p] - sum[BESIDES][p] + sum[MET][p]) / n;
    }

    /** What a sum over shaded samples is to be multiplied by: their mean, as far as the pixel is covered. */
    float part(int p) {
        float n = sum[SHADED][p];
        // Light that is added is there without anything that covers.
        return n > 0 ? alpha(p) / n : count[p] == 0 ? 0 : 1f / count[p];
    }

    /** Estimated error of the beauty's luminance as {@link #error}; that of coverage is no part of it. */
    float beautyError(int p) {
        float n = sum[SHADED][p], was = sum[EARLIER_SHADED][p], now = luminance(BEAUTY, p);
        if (!(was > 0) || was == n) return error(now, EARLIER_BEAUTY, p);
        return alpha(p) * (now / n - sum[EARLIER_BEAUTY][p] / was) * (float) Math.sqrt(was / (n - was));
    }

    /** Of the sums of a quantity that has three colours. */
    float luminance(int plane, int p) {
        return luminance(sum[plane][p], sum[plane + 1][p], sum[plane + 2][p]);
    }

    static float luminance(float r, float g, float b) {
        return 0.2126f * r + 0.7152f * g + 0.0722f * b;
    }
}
