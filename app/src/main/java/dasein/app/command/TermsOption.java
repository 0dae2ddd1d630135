package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.solve.LensTerms;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** What a command is told of the terms of a lens. */
final class TermsOption {
    static final String WHAT =
            "what is asked of the lens's k1, k2, k3, tangential and centre, each find, always or never, "
                    + "for example k2=always,centre=never; those not named are found";

    private static final List<String> TERMS = List.of("k1", "k2", "k3", "tangential", "centre"),
            ASKED = List.of("find", "always", "never");

    private TermsOption() {}

    /** @param given by name; null for none */
    static LensTerms of(Map<String, String> given) {
        Map<String, String> all = given == null ? Map.of() : given;
        for (String t : all.keySet())
            if (!TERMS.contains(t)) throw new BadInput("--terms knows no " + t + ", only " + String.join(", ", TERMS));
        LensTerms.Ask[] a =
                TERMS.stream().map(t -> ask(t, all.getOrDefault(t, "find"))).toArray(LensTerms.Ask[]::new);
        return new LensTerms(a[0], a[1], a[2], a[3], a[4]);
    }

    private static LensTerms.Ask ask(String term, String asked) {
        if (!ASKED.contains(asked))
            throw new BadInput("--terms: " + term + " is " + String.join(", ", ASKED) + ", not " + asked);
        return LensTerms.Ask.valueOf(asked.toUpperCase(Locale.ROOT));
    }
}
