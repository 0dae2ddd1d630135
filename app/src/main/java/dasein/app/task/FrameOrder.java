package dasein.app.task;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/** In which order the frames of a task are done. */
public enum FrameOrder {
    /** The first, the middle and the last, which show most of what may be wrong; then the rest, one after the other. */
    ENDS_FIRST,
    ONE_AFTER_THE_OTHER;

    /** @param frames rising */
    public List<Integer> of(List<Integer> frames) {
        if (this == ONE_AFTER_THE_OTHER || frames.isEmpty()) return frames;
        Set<Integer> all = new LinkedHashSet<>();
        all.add(frames.get(0));
        all.add(frames.get(frames.size() / 2));
        all.add(frames.get(frames.size() - 1));
        all.addAll(frames);
        return new ArrayList<>(all);
    }
}
