package dasein.app.stage.passes;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.render.Passes;

/** A pass made visible. */
public final class PassView {
    private PassView() {}

    static Image of(Passes p, String name) {
        int n = p.width * p.height;
        return switch (name) {
            case "beauty" -> new Image(p.width, p.height, p.beauty);
            case "alpha" -> grey(p, p.alpha);
            case "shadow" -> new Image(p.width, p.height, p.shadow);
            case "bounce" -> times(p, p.bounce, 4);
            case "reflection" -> times(p, p.reflection, 4);
            case "ao" -> grey(p, p.ao);
            case "normal" -> {
                float[][] v = new float[3][n];
                for (int c = 0; c < 3; c++)
                    for (int i = 0; i < n; i++) v[c][i] = p.alpha[i] > 0 ? 0.5f + 0.5f * p.normal[c][i] : 0;
                yield new Image(p.width, p.height, v);
            }
            case "depth" -> {
                float lo = Float.MAX_VALUE, hi = 0;
                for (int i = 0; i < n; i++) {
                    if (p.depth[i] == Float.POSITIVE_INFINITY || p.alpha[i] <= 0) continue;
                    lo = Math.min(lo, p.depth[i]);
                    hi = Math.max(hi, p.depth[i]);
                }
                float[] v = new float[n];
                for (int i = 0; i < n; i++)
                    v[i] = p.alpha[i] > 0 ? 0.9f - 0.8f * (p.depth[i] - lo) / Math.max(hi - lo, 1e-3f) : 0;
                yield grey(p, v);
            }
            case "motion" -> {
                float[][] v = new float[3][n];
                for (int i = 0; i < n; i++) {
                    if (p.alpha[i] <= 0) continue;
                    v[0][i] = 0.25f + 0.02f * p.motion[0][i];
                    v[1][i] = 0.25f + 0.02f * p.motion[1][i];
                    v[2][i] = 0.25f;
                }
                yield new Image(p.width, p.height, v);
            }
            default -> throw new BadInput("there is no pass " + name);
        };
    }

    private static Image grey(Passes p, float[] v) {
        return new Image(p.width, p.height, v, v, v);
    }

    private static Image times(Passes p, float[][] v, float k) {
        float[][] out = new float[3][p.width * p.height];
        for (int c = 0; c < 3; c++) for (int i = 0; i < out[c].length; i++) out[c][i] = Math.max(0, k * v[c][i]);
        return new Image(p.width, p.height, out);
    }
}
