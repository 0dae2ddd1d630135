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

    /** As the pass of all light is shown. */
    static Image ofLight(Passes p, Pass whole, String name) {
        boolean added = whole == PassList.BOUNCE || whole == PassList.REFLECTION;
        return added ? times(p, p.of(name)) : new Image(p.width, p.height, p.of(name));
    }

    /** Whole metres from black to white, so that planes are seen. */
    static Image position(Passes p) {
        float[][] from = p.of(PassList.POSITION), v = new float[3][p.width * p.height];
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < v[c].length; i++)
                v[c][i] = p.alpha[i] > 0 ? (float) (from[c][i] - Math.floor(from[c][i])) : 0;
        return new Image(p.width, p.height, v);
    }

    static Image uv(Passes p) {
        float[][] from = p.of(PassList.UV), v = new float[3][p.width * p.height];
        for (int c = 0; c < 2; c++)
            for (int i = 0; i < v[c].length; i++) v[c][i] = (float) (from[c][i] - Math.floor(from[c][i]));
        return new Image(p.width, p.height, v);
    }

    /** The greatest is white. */
    static Image upTo(Passes p, float[] v) {
        float most = 1e-6f;
        for (float x : v) most = Math.max(most, x);
        float[] out = new float[v.length];
        for (int i = 0; i < v.length; i++) out[i] = v[i] / most;
        return grey(p, out);
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

    static Image depth(Passes p) {
        return distance(p, p.depth);
    }

    /** The nearest is bright, the farthest dark. */
    static Image distance(Passes p, float[] depth) {
        float lo = Float.MAX_VALUE, hi = 0;
        for (int i = 0; i < depth.length; i++) {
            if (depth[i] == Float.POSITIVE_INFINITY || p.alpha[i] <= 0) continue;
            lo = Math.min(lo, depth[i]);
            hi = Math.max(hi, depth[i]);
        }
        float[] v = new float[depth.length];
        for (int i = 0; i < v.length; i++)
            v[i] = p.alpha[i] > 0 ? 0.9f - 0.8f * (depth[i] - lo) / Math.max(hi - lo, 1e-3f) : 0;
        return grey(p, v);
    }

    static Image motion(Passes p) {
        return motion(p, p.motion);
    }

    static Image motion(Passes p, float[][] of) {
        float[][] v = new float[3][p.width * p.height];
        for (int i = 0; i < v[0].length; i++) {
            if (p.alpha[i] <= 0) continue;
            v[0][i] = 0.25f + 0.02f * of[0][i];
            v[1][i] = 0.25f + 0.02f * of[1][i];
            v[2][i] = 0.25f;
        }
        return new Image(p.width, p.height, v);
    }

    static Image grey(Passes p, float[] v) {
        return new Image(p.width, p.height, v, v, v);
    }

    private static Image times(Passes p, float[][] v) {
        float[][] out = new float[3][p.width * p.height];
        for (int c = 0; c < 3; c++) for (int i = 0; i < out[c].length; i++) out[c][i] = Math.max(0, ADDED * v[c][i]);
        return new Image(p.width, p.height, out);
    }
}
