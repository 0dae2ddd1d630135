package dasein.core.presence;

import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Collectors;

/** All findings in one sentence, by where they would be seen. */
public final class Verdict {
    /** What only a large, sharp picture shows. */
    private static final Set<String> FINE = Set.of(
            "grain",
            "grain-size",
            "frozen",
            "compression",
            "softness",
            "fringe",
            "halos",
            "noise",
            "corners",
            "blacks",
            "outline",
            "stick",
            "shadow-edge",
            "clipped",
            "blur");
    /** What is not seen, but wrong all the same. */
    private static final Set<String> PAPERWORK = Set.of("rate", "lens", "size", "frames", "untouched", "solve");

    private Verdict() {}

    /** @param waived keys of those that are meant to be so */
    public static String of(List<Finding> all, Set<String> waived) {
        List<Finding> found = all.stream()
                .filter(f -> f.state() == Finding.State.FOUND && !waived.contains(f.key()))
                .toList();
        long unseen =
                all.stream().filter(f -> f.state() == Finding.State.UNSEEN).count();
        String blind = unseen == 0
                ? ""
                : unseen == 1 ? " One thing could not be looked at." : " " + unseen + " things could not be looked at.";
        List<Finding> coarse = found.stream()
                .filter(f -> !FINE.contains(f.key()) && !PAPERWORK.contains(f.key()))
                .toList();
        List<Finding> fine = found.stream().filter(f -> FINE.contains(f.key())).toList();
        List<Finding> paper =
                found.stream().filter(f -> PAPERWORK.contains(f.key())).toList();
        String said;
        if (!coarse.isEmpty()) said = "It would be seen on any screen: " + names(coarse) + ".";
        else if (!fine.isEmpty())
            said = "It would pass on a phone; on a cinema screen " + names(fine) + " would give it away.";
        else if (!paper.isEmpty())
            said = "Nothing is seen in the picture; before it is delivered look at " + names(paper) + ".";
        else said = "It would pass on a cinema screen, as far as was looked.";
        return said + blind;
    }

    /** How many findings there are, in words. @param none what is said where there are none */
    public static String counted(long bad, String none) {
        return bad == 0 ? none : bad == 1 ? "1 finding" : bad + " findings";
    }

    private static String names(List<Finding> of) {
        List<String> all = of.stream()
                .map(f -> "\u201c" + f.check().toLowerCase(Locale.ROOT) + "\u201d")
                .toList();
        if (all.size() == 1) return all.get(0);
        String some = all.stream().limit(3).collect(Collectors.joining(", "));
        return all.size() > 3
                ? some + " and " + (all.size() - 3) + " more"
                : all.subList(0, all.size() - 1).stream().collect(Collectors.joining(", ")) + " and "
                        + all.get(all.size() - 1);
    }
}
