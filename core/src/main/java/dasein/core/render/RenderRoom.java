package dasein.core.render;

import dasein.core.BadInput;
import dasein.core.Progress;

/**
 * Memory for frames that are about to be rendered. It is asked for before anything is built; frames that do not fit
 * beside each other are rendered one after the other, and one that can never fit is refused with a sentence.
 */
public final class RenderRoom implements AutoCloseable {
    /** Frames may take this part of the heap together; the rest is for scenes, pictures and the server. */
    private static final double ALL = 0.55;

    /** Of a triangle: its corners and normals at both ends of the shutter, and its share of the tree. */
    private static final long TRIANGLE = 260;

    private static final long LOOK_MILLIS = 250;
    private static final Object LOCK = new Object();
    private static long taken;
    private static int waiting;

    private final long bytes;
    private boolean open = true;

    private RenderRoom(long bytes) {
        this.bytes = bytes;
    }

    /** Bytes that a frame takes while it is rendered and its noise is filtered. */
    static long bytes(long width, long height, Keep keep, int lights, long triangles) {
        int slots = keep.lights() == LightGroups.Apart.TOGETHER ? 0 : lights,
                straight = Film.OF_PLANES + Film.OF_BEAUTY,
                perLight = keep.lights() == LightGroups.Apart.INDIRECT ? straight + Film.OF_BLOCKED : straight;
        int sets = keep.sets().stream()
                .flatMap(s -> s.passes().stream())
                .mapToInt(p -> p.channels().size())
                .sum();
        // The film, the passes, and of those that are filtered a copy before and one after a step of the filter.
        int planes = Film.PLANES + 24 + 10 + slots * perLight + 2 * sets + 2 * (3 + Math.max(3, 3 * slots * 2));
        return 4 * width * height * planes + TRIANGLE * triangles;
    }

    /**
     * Waits until there is room.
     *
     * @param width, height pixels; @param lights that are kept apart; @param triangles of all that is posed
     * @throws BadInput when there can never be, with what to do
     */
    public static RenderRoom take(long width, long height, Keep keep, int lights, long triangles, Progress progress) {
        long need = bytes(width, height, keep, lights, triangles),
                most = (long) (ALL * Runtime.getRuntime().maxMemory());
        if (need > most) throw new BadInput(refusal(width, height, keep, need, most, TRIANGLE * triangles));
        while (!taken(need, most)) progress.at(0, "waits for memory");
        return new RenderRoom(need);
    }

    /** @return whether it could be had, at once or soon; who asks again tells of it meanwhile, without the lock */
    private static boolean taken(long need, long most) {
        synchronized (LOCK) {
            if (fits(need, most)) return true;
            waiting++;
            try {
                LOCK.wait(LOOK_MILLIS);
                return fits(need, most);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new IllegalStateException("stopped while waiting for memory", e);
            } finally {
                waiting--;
            }
        }
    }

    private static boolean fits(long need, long most) {
        if (taken > 0 && taken + need > most) return false;
        taken += need;
        return true;
    }

    /** Whether somebody waits for room: who has some must not stand still until that one is done. */
    public static boolean wanted() {
        synchronized (LOCK) {
            return waiting > 0;
        }
    }

    private static String refusal(long width, long height, Keep keep, long need, long most, long ofTriangles) {
        String reduce = ofTriangles > need / 2
                ? "leave performers out or bring simpler models"
                : keep.lights() != LightGroups.Apart.TOGETHER || !keep.sets().isEmpty()
                        ? "keep lights together, keep fewer passes, or render at a smaller size"
                        : "render at a smaller size";
        return String.format(
                "a frame of %d x %d pixels takes %.1f GB of memory, and this program has %.1f GB for it: %s, or start "
                        + "with more memory (DASEIN_MEMORY)",
                width, height, need / 1e9, most / 1e9, reduce);
    }

    @Override
    public void close() {
        if (!open) return;
        open = false;
        synchronized (LOCK) {
            taken -= bytes;
            LOCK.notifyAll();
        }
    }
}
