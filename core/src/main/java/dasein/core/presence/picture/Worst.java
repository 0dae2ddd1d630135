package dasein.core.presence.picture;

import dasein.core.presence.Finding;
import java.util.ArrayList;
import java.util.List;

/** Of what is measured frame by frame the worst, and the frames in which it is beyond its limit. */
final class Worst {
    private final double limit;
    private final List<Integer> beyond = new ArrayList<>();
    double figure;
    int frame, frames;
    Finding.Place place;

    Worst(double limit) {
        this.limit = limit;
    }

    /** @param place in pixels of the plate, or null */
    void add(int f, double v, Finding.Place at) {
        frames++;
        if (v > limit) beyond.add(f);
        if (frames > 1 && v <= figure) return;
        figure = v;
        frame = f;
        place = at;
    }

    boolean found() {
        return !beyond.isEmpty();
    }

    List<Integer> beyond() {
        return List.copyOf(beyond);
    }

    Finding on(Finding f) {
        return f.in(beyond(), frame).at(place);
    }
}
