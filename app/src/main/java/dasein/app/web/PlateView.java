package dasein.app.web;

import dasein.app.store.Plates;
import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;

/** A plate's frame for looking at one side of it: a channel, brightness, or what is clipped. */
final class PlateView {
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

    private static Image grey(Image im, int c) { return new Image(im.width, im.height, im.planes[c], im.planes[c], im.planes[c]); }

    /** Dimmed grey, with magenta where a colour is at its upper end and yellow-green where at its lower. */
    private static Image clipped(Image im, Encoding e) {
        float white = (float) e.decode(254.5 / 255), black = (float) e.decode(0.5 / 255);
        float[] l = im.luminance();
        Image out = new Image(im.width, im.height, 3);
        for (int i = 0; i < l.length; i++) {
            boolean hi = im.planes[0][i] >= white || im.planes[1][i] >= white || im.planes[2][i] >= white, lo = im.planes[0][i] <= black || im.planes[1][i] <= black || im.planes[2][i] <= black;
            out.planes[0][i] = hi ? 0.9f : lo ? 0.7f : 0.4f * l[i];
            out.planes[1][i] = hi ? 0.05f : lo ? 0.8f : 0.4f * l[i];
            out.planes[2][i] = hi ? 0.35f : lo ? 0.1f : 0.4f * l[i];
        }
        return out;
    }
}
