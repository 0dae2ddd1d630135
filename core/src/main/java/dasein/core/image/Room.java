package dasein.core.image;

import dasein.core.BadInput;

/**
 * Memory for pictures that are about to be read. It is asked for before any pixel is taken, so that a small file of a
 * huge picture is refused with a sentence instead of ending in want of memory for everybody. What is read at the same
 * time shares one budget, a part of the heap; who comes late waits for the others.
 */
public final class Room implements AutoCloseable {
    /** One picture may take this part of the heap while it is read, all together this one. */
    private static final double ONE = 0.42, ALL = 0.5;

    private static final long LONGEST_WAIT_MILLIS = 60_000;

    private static final Object LOCK = new Object();
    private static long taken;

    private final long bytes;
    private boolean open = true;

    private Room(long bytes) {
        this.bytes = bytes;
    }

    /** Bytes that one picture may take while it is read. */
    public static long most() {
        return (long) (ONE * Runtime.getRuntime().maxMemory());
    }

    /**
     * @param name of the file, for the sentence
     * @param bytesAPixel all that is held of one pixel while it is read: codes, and floats
     * @throws BadInput when it can never fit, or others take too long
     */
    public static Room take(String name, long width, long height, int bytesAPixel) {
        long need = need(name, width, height, bytesAPixel), end = System.currentTimeMillis() + LONGEST_WAIT_MILLIS;
        synchronized (LOCK) {
            while (taken > 0 && taken + need > ALL * Runtime.getRuntime().maxMemory()) {
                long left = end - System.currentTimeMillis();
                if (left <= 0)
                    throw new BadInput("other pictures take all the memory now; bring in " + name + " again");
                try {
                    LOCK.wait(left);
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                    throw new IllegalStateException("stopped while waiting for memory", e);
                }
            }
            taken += need;
        }
        return new Room(need);
    }

    /** Only asks whether it could fit. @throws BadInput when it can never */
    public static void ask(String name, long width, long height, int bytesAPixel) {
        need(name, width, height, bytesAPixel);
    }

    private static long need(String name, long width, long height, int bytesAPixel) {
        if (width < 1 || height < 1) throw new BadInput(name + " says it is " + width + " x " + height + " pixels");
        long need = Math.multiplyExact(Math.multiplyExact(width, height), (long) bytesAPixel);
        if (need > most())
            throw new BadInput(name + " is " + width + " x " + height + " pixels, for which " + (need >> 20)
                    + " MB of memory would be needed; " + (most() >> 20) + " MB can be had here for one picture. "
                    + "Make it smaller, or start with more memory");
        return need;
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
