package dasein.core.render.pass;

import dasein.core.image.Image;

/** Passes made visible. */
final class PassPictures {
    /** Light that is added is faint. */
    private static final float ADDED = 4;

    private PassPictures() {}

    static Image beauty(Passes p) {
        return new Image(p.width, p.height, p.beauty);
    }

    static Image alpha(Passes p) {
        return grey(p, p.alpha);
    }

    static Image shadow(Passes p) {
        return new Image(p.width, p.height, p.shadow);
    }

    static Image bounce(Passes p) {
        return times(p, p.bounce);
    }

    static Image reflection(Passes p) {
        return times(p, p.reflection);
    }

    static Image ao(Passes p) {
        return grey(p, p.ao);
    }

    static Image normal(Passes p) {
        float[][] v = new float[3][p.width * p.height];
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < v[c].length; i++) v[c][i] = p.alpha[i] > 0 ? 0.5f + 0.5f * p.normal[c][i] : 0;
        return new Image(p.width, p.height, v);
    }

    /** The nearest is bright, the farthest dark. */
    static Image depth(Passes p) {
        float lo = Float.MAX_VALUE, hi = 0;
        for (int i = 0; i < p.depth.length; i++) {
            if (p.depth[i] == Float.POSITIVE_INFINITY || p.alpha[i] <= 0) continue;
            lo = Math.min(lo, p.depth[i]);
            hi = Math.max(hi, p.depth[i]);
        }
        float[] v = new float[p.depth.length];
        for (int i = 0; i < v.length; i++)
            v[i] = p.alpha[i] > 0 ? 0.9f - 0.8f * (p.depth[i] - lo) / Math.max(hi - lo, 1e-3f) : 0;
        return grey(p, v);
    }

    static Image motion(Passes p) {
        float[][] v = new float[3][p.width * p.height];
        for (int i = 0; i < v[0].length; i++) {
            if (p.alpha[i] <= 0) continue;
            v[0][i] = 0.25f + 0.02f * p.motion[0][i];
            v[1][i] = 0.25f + 0.02f * p.motion[1][i];
            v[2][i] = 0.25f;
        }
        return new Image(p.width, p.height, v);
    }

    private static Image grey(Passes p, float[] v) {
        return new Image(p.width, p.height, v, v, v);
    }

    private static Image times(Passes p, float[][] v) {
        float[][] out = new float[3][p.width * p.height];
        for (int c = 0; c < 3; c++) for (int i = 0; i < out[c].length; i++) out[c][i] = Math.max(0, ADDED * v[c][i]);
        return new Image(p.width, p.height, out);
    }
}
