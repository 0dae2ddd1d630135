package dasein.app;

import java.util.Arrays;
import java.util.Map;
import java.util.stream.Collectors;

/** What our threads do at this moment: said when something was waited for in vain. */
public final class Threads {
    private static final int DEEP = 14;

    private Threads() {}

    public static String ofOurs() {
        return Thread.getAllStackTraces().entrySet().stream()
                .filter(t -> t.getKey() != Thread.currentThread()
                        && Arrays.stream(t.getValue())
                                .anyMatch(f -> f.getClassName().startsWith("dasein.")))
                .map(Threads::one)
                .collect(Collectors.joining("\n"));
    }

    private static String one(Map.Entry<Thread, StackTraceElement[]> t) {
        return t.getKey().getName() + ", " + t.getKey().getState()
                + Arrays.stream(t.getValue()).limit(DEEP).map(f -> "\n    " + f).collect(Collectors.joining());
    }
}
