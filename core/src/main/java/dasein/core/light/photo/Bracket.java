package dasein.core.light.photo;

import dasein.core.BadInput;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * Photographs of one view at several exposures.
 *
 * @param photos of one size
 * @param exposures light on the sensor for the same scene, relative: 1 is that of which white (code 1) is radiance 1
 */
public record Bracket(List<Photo> photos, double[] exposures) {
    public static final int MOST = 16;

    public Bracket {
        if (photos.isEmpty()) throw new BadInput("there are no photographs");
        if (photos.size() > MOST) throw new BadInput("more than " + MOST + " photographs of one view are not merged");
        Photo a = photos.get(0);
        for (Photo p : photos)
            if (p.width != a.width || p.height != a.height)
                throw new BadInput(p.name + " is " + p.width + " x " + p.height + ", but " + a.name + " is " + a.width
                        + " x " + a.height);
    }

    /**
     * @param stops over the normal exposure, one a photograph in their order, more is brighter; null: by what the
     *     camera wrote down, the middle one as normal
     * @throws BadInput when exposures are not known, are all the same, or contradict the pictures
     */
    public static Bracket of(List<Photo> photos, double[] stops) {
        double[] e = new double[photos.size()];
        if (stops != null) {
            if (stops.length != photos.size())
                throw new BadInput("there are " + photos.size() + " photographs, but stops for " + stops.length);
            for (int i = 0; i < e.length; i++) e[i] = Math.pow(2, stops[i]);
        } else if (photos.size() == 1) {
            e[0] = 1;
        } else {
            for (int i = 0; i < e.length; i++) {
                e[i] = photos.get(i).exif.exposure();
                if (!(e[i] > 0))
                    throw new BadInput(photos.get(i).name
                            + " does not say how it was exposed (time, f-stop and speed); say the stops of all");
            }
            double[] sorted = e.clone();
            java.util.Arrays.sort(sorted);
            double normal = sorted[sorted.length / 2];
            for (int i = 0; i < e.length; i++) e[i] /= normal;
        }
        Bracket b = new Bracket(List.copyOf(photos), e);
        b.check();
        return b;
    }

    /** More exposure must give a brighter picture. */
    private void check() {
        if (photos.size() < 2) return;
        List<Integer> order = byExposure();
        double least = exposures[order.get(0)], most = exposures[order.get(order.size() - 1)];
        if (most / least < 1.1) throw new BadInput("the photographs are all exposed the same");
        double[] mean = new double[photos.size()];
        for (int k = 0; k < mean.length; k++) {
            float[] g = photos.get(k).grey(Math.max(1, photos.get(k).width / 200)).planes[0];
            for (float v : g) mean[k] += v / g.length;
        }
        for (int i = 1; i < order.size(); i++) {
            int a = order.get(i - 1), b = order.get(i);
            if (exposures[b] / exposures[a] > 1.3 && mean[b] < 0.98 * mean[a])
                throw new BadInput(String.format(
                        Locale.ROOT,
                        "%s should be %.1f stops brighter than %s, but is darker: the exposures are in another order",
                        photos.get(b).name,
                        Math.log(exposures[b] / exposures[a]) / Math.log(2),
                        photos.get(a).name));
        }
    }

    /** Places in the list, rising by exposure. */
    public List<Integer> byExposure() {
        List<Integer> order = new ArrayList<>();
        for (int i = 0; i < exposures.length; i++) order.add(i);
        order.sort((a, b) -> Double.compare(exposures[a], exposures[b]));
        return order;
    }

    public int width() {
        return photos.get(0).width;
    }

    public int height() {
        return photos.get(0).height;
    }

    public Bracket part(int left, int top, int w, int h) {
        return new Bracket(photos.stream().map(p -> p.part(left, top, w, h)).toList(), exposures);
    }

    /** All brought onto the one of middle exposure. */
    public Bracket placed(List<Placing> by) {
        List<Photo> all = new ArrayList<>();
        for (int i = 0; i < photos.size(); i++) all.add(photos.get(i).placed(by.get(i)));
        return new Bracket(all, exposures);
    }
}
