package dasein.core.plate;

import dasein.core.image.Image;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * Frames that were read lately, of all plates that are open: one bound in bytes for all of them, so that many open
 * plates hold no more than one does.
 */
final class FrameCache {
    /** Part of the heap that frames may take. */
    private static final double SHARE = 0.2;

    static final FrameCache ALL =
            new FrameCache((long) (SHARE * Runtime.getRuntime().maxMemory()));

    private record Key(Object plate, int frame) {}

    private final long most;
    private final Map<Key, Image> frames = new LinkedHashMap<>(64, 0.75f, true);
    private long bytes;

    FrameCache(long most) {
        this.most = most;
    }

    synchronized Image get(Object plate, int frame) {
        return frames.get(new Key(plate, frame));
    }

    synchronized void put(Object plate, int frame, Image im) {
        Image old = frames.put(new Key(plate, frame), im);
        bytes += size(im) - (old == null ? 0 : size(old));
        var oldest = frames.entrySet().iterator();
        // The newest stays whatever its size: somebody is about to use it.
        while (bytes > most && frames.size() > 1) {
            bytes -= size(oldest.next().getValue());
            oldest.remove();
        }
    }

    /** A plate was closed. */
    synchronized void drop(Object plate) {
        frames.entrySet().removeIf(e -> {
            if (e.getKey().plate != plate) return false;
            bytes -= size(e.getValue());
            return true;
        });
    }

    synchronized long bytes() {
        return bytes;
    }

    private static long size(Image im) {
        return 4L * im.width * im.height * im.channels();
    }
}
