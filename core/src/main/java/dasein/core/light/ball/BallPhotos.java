package dasein.core.light.ball;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.light.photo.Bracket;
import dasein.core.light.photo.Flare;
import dasein.core.light.photo.Merge;
import dasein.core.light.photo.Photo;
import dasein.core.light.photo.Placing;
import dasein.core.light.photo.Registration;
import dasein.core.light.photo.Response;
import dasein.core.light.photo.ResponseFit;
import dasein.core.math.Vec3;
import java.util.List;

/**
 * One view of a ball, ready to be read: its photographs merged about the ball.
 *
 * @param view of the whole photograph
 * @param light of the part about the ball, whose top left corner lies at {@code left}, {@code top}
 * @param clipped pixels of that part that are cut off in every photograph
 */
public record BallPhotos(
        BallView view,
        Circle circle,
        Image light,
        boolean[] clipped,
        int left,
        int top,
        Response response,
        List<Placing> placings,
        double moved) {

    /** Longest side at which the ball is looked for; its outline is found to tenths of these pixels. */
    private static final int LOOKED_AT = 1500;

    /** Angular radius of the sun, radians (0.533 degrees across; mean of the Astronomical Almanac, from memory). */
    private static final double SUN = Math.toRadians(0.533 / 2);

    /** How a photograph was taken: the field across its width, radians; 0 for parallel rays. */
    public record Camera(double fieldRadians) {}

    /**
     * @param response of the camera; null to find it from these photographs
     * @param circle of the ball, in the photograph of middle exposure; null to find it
     */
    public static BallPhotos of(Bracket all, Response response, Circle circle, Camera camera, Progress progress) {
        progress.at(0.05, "finding the ball");
        if (circle == null) {
            int by = Math.max(1, (Math.max(all.width(), all.height()) + LOOKED_AT - 1) / LOOKED_AT);
            Circle c = BallFinder.find(rough(all, by));
            circle = new Circle(c.x() * by, c.y() * by, c.r() * by);
        }
        // A hand may be off by a little at the rim.
        if (!new Circle(circle.x(), circle.y(), 0.97 * circle.r()).within(all.width(), all.height()))
            throw new BadInput("the ball is cut off by the picture's edge: all of it must be seen");
        int margin = (int) Math.ceil(0.12 * circle.r()) + 6;
        int left = clamp((int) (circle.x() - circle.r()) - margin, all.width() - 1),
                top = clamp((int) (circle.y() - circle.r()) - margin, all.height() - 1),
                right = clamp((int) Math.ceil(circle.x() + circle.r()) + margin, all.width()),
                low = clamp((int) Math.ceil(circle.y() + circle.r()) + margin, all.height());
        Bracket about = all.part(left, top, right - left, low - top);
        progress.at(0.3, "laying the photographs on each other");
        List<Placing> placings = about.photos().size() > 1 ? Registration.of(about) : List.of(Placing.NONE);
        about = about.placed(placings);
        progress.at(0.5, "finding the camera's response");
        if (response == null) response = about.photos().size() > 1 ? ResponseFit.of(about) : Response.SRGB;
        progress.at(0.7, "merging the exposures");
        Circle there = new Circle(circle.x() - left, circle.y() - top, 1.03 * circle.r() + 3);
        Merge.Result m = Merge.of(about, response, there::row);
        BallView view = camera.fieldRadians > 0
                ? BallView.perspective(all.width(), all.height(), camera.fieldRadians, circle)
                : BallView.orthographic(all.width(), all.height(), circle);
        return new BallPhotos(view, circle, m.light(), m.clipped(), left, top, response, placings, m.moved());
    }

    /**
     * With its largest cut-off spot mended as a sun by the glow about it.
     *
     * @throws BadInput as {@link Flare#of}
     */
    public BallPhotos sunByFlare() {
        Flare.Mended m = Flare.of(light, clipped, SUN / view.pixelAngle(1));
        return new BallPhotos(view, circle, m.light(), clipped, left, top, response, placings, moved);
    }

    private static int clamp(int v, int most) {
        return Math.max(0, Math.min(most, v));
    }

    /**
     * Light enough to find an outline in: from the best exposed of the photographs at each place, by the sRGB curve.
     */
    private static Image rough(Bracket b, int by) {
        int w = b.width() / by, h = b.height() / by;
        Image out = new Image(w, h, 3);
        List<Photo> photos = b.photos();
        Image.rows(h, y -> {
            for (int x = 0; x < w; x++) {
                int middle = (y * by + by / 2) * b.width() + x * by + by / 2, best = 0;
                float least = Float.MAX_VALUE;
                for (int j = 0; j < photos.size(); j++) {
                    float off = Math.abs(photos.get(j).at(1, middle) - 0.5f);
                    if (off < least) {
                        least = off;
                        best = j;
                    }
                }
                Photo p = photos.get(best);
                for (int c = 0; c < 3; c++) {
                    // A block's diagonal tells enough of an outline.
                    double sum = 0;
                    for (int k = 0; k < by; k++) sum += rough(p, c, (y * by + k) * b.width() + x * by + k);
                    out.planes[c][y * w + x] = (float) (sum / by / b.exposures()[best]);
                }
            }
        });
        return out;
    }

    private static float rough(Photo p, int c, int i) {
        return p.isLight() ? p.at(c, i) : Response.SRGB.light(c, p.at(c, i));
    }

    /** The least cosine between normal and view at which a pixel lies wholly on the ball. */
    double leastCos() {
        double rim = Math.max(0.5, 1 - 1.5 / circle.r());
        return Math.sqrt(1 - rim * rim);
    }

    /** Light from a direction. @param at as of {@link BallView#pixel}; false where it is not seen */
    boolean sample(Vec3 direction, double[] at, float[] out) {
        return view.pixel(direction, at) && at[2] >= leastCos() && sampleAt(at, out);
    }

    /** Light at a place of the ball within its rim. @param at as of {@link BallView#pixel}; false beside the part */
    boolean sampleAt(double[] at, float[] out) {
        double x = at[0] - left, y = at[1] - top;
        if (x < 0 || y < 0 || x > light.width || y > light.height) return false;
        double fx = Math.min(Math.max(x - 0.5, 0), light.width - 1.001),
                fy = Math.min(Math.max(y - 0.5, 0), light.height - 1.001);
        int x0 = (int) fx, y0 = (int) fy, i = y0 * light.width + x0, w = light.width;
        float a = (float) (fx - x0), b = (float) (fy - y0);
        for (int c = 0; c < 3; c++) {
            float[] p = light.planes[c];
            out[c] = (p[i] * (1 - a) + p[i + 1] * a) * (1 - b) + (p[i + w] * (1 - a) + p[i + w + 1] * a) * b;
        }
        return true;
    }

    boolean clippedAt(double[] at) {
        int x = Math.max(0, Math.min(light.width - 1, (int) (at[0] - left))),
                y = Math.max(0, Math.min(light.height - 1, (int) (at[1] - top)));
        return clipped[y * light.width + x];
    }
}
