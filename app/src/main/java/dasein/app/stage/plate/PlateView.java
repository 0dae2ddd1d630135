package dasein.app.stage.plate;

import dasein.app.store.Plates;
import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.track.PlaneTracker;

/** A plate's frame for looking at one side of it: a channel, brightness, or what is clipped. */
public final class PlateView {
    private PlateView() {}

    static Image of(Image im, String channel, Encoding e, int by) {
        return switch (channel) {
            case "red" -> grey(Plates.reduced(im, by), 0);
            case "green" -> grey(Plates.reduced(im, by), 1);
            case "blue" -> grey(Plates.reduced(im, by), 2);
            case "light" -> {
                Image r = Plates.reduced(im, by);
                float[] l = r.luminance();
                yield new Image(r.width, r.height, l, l, l);
            }
            // Before it is made smaller: a mean is never clipped.
            case "clipped" -> Plates.reduced(clipped(im, e), by);
            default -> throw new BadInput("there is no view " + channel);
        };
    }

    /**
     * A frame moved so that what a map (from the drawn frame to this one, pixels of the full size) follows stands where
     * it was drawn; black outside.
     */
    static Image held(Image im, double[] h, int by) {
        int w = im.width, hh = im.height;
        Image out = new Image(w, hh, 3);
        Image.rows(hh, y -> {
            double[] at = new double[2];
            for (int x = 0; x < w; x++) {
                at[0] = (x + 0.5) * by;
                at[1] = (y + 0.5) * by;
                double[] q = PlaneTracker.mapped(h, at);
                double u = q[0] / by - 0.5, v = q[1] / by - 0.5;
                int x0 = (int) Math.floor(u), y0 = (int) Math.floor(v);
                if (x0 < 0 || y0 < 0 || x0 + 1 >= w || y0 + 1 >= hh) continue;
                float a = (float) (u - x0), b = (float) (v - y0);
                for (int c = 0; c < 3; c++) {
                    float[] p = im.planes[c];
                    int i = y0 * w + x0;
                    out.planes[c][y * w + x] =
                            (1 - b) * ((1 - a) * p[i] + a * p[i + 1]) + b * ((1 - a) * p[i + w] + a * p[i + w + 1]);
                }
            }
        });
        return out;
    }

    private static Image grey(Image im, int c) {
        return new Image(im.width, im.height, im.planes[c], im.planes[c], im.planes[c]);
    }

    /** Dimmed grey, with magenta where a colour is at its upper end and yellow-green where at its lower. */
    private static Image clipped(Image im, Encoding e) {
        float white = (float) e.decode(254.5 / 255), black = (float) e.decode(0.5 / 255);
        float[] l = im.luminance();
        Image out = new Image(im.width, im.height, 3);
        for (int i = 0; i < l.length; i++) {
            boolean hi = im.planes[0][i] >= white || im.planes[1][i] >= white || im.planes[2][i] >= white,
                    lo = im.planes[0][i] <= black || im.planes[1][i] <= black || im.planes[2][i] <= black;
            out.planes[0][i] = hi ? 0.9f : lo ? 0.7f : 0.4f * l[i];
            out.planes[1][i] = hi ? 0.05f : lo ? 0.8f : 0.4f * l[i];
            out.planes[2][i] = hi ? 0.35f : lo ? 0.1f : 0.4f * l[i];
        }
        return out;
    }
}
