package dasein.core.presence.matched;

import dasein.core.NoSolution;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.comp.match.Match;
import dasein.core.comp.match.Matches;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.List;
import java.util.Locale;

/** Whether some of the comp's numbers are what a match would set them to. */
public final class Matched implements Check {
    private final Outcomes outcomes;
    private final String match;
    private final Finding.About about;
    private final List<Param> params;
    /** What {@code unit} is in 1 of the document; or by what part it differs, in percent. */
    private final double scale;

    private final boolean part;

    /** @param scale what the unit is for 1 in the document; 0: by what part numbers differ, in percent */
    public Matched(Outcomes outcomes, String match, Finding.About about, double scale, Param... params) {
        this.outcomes = outcomes;
        this.match = match;
        this.about = about;
        this.params = List.of(params);
        this.scale = scale;
        part = scale == 0;
    }

    @Override
    public Finding.About about() {
        return about;
    }

    @Override
    public Finding finding(Subject s) {
        if (s.taken() == null) return about.unseen("No rendered frame to measure in yet.");
        Match.Outcome o;
        try {
            o = outcomes.of(match, s.taken());
        } catch (NoSolution e) {
            String why = e.getMessage();
            return about.unseen(
                    Character.toUpperCase(why.charAt(0)) + why.substring(1) + (why.endsWith(".") ? "" : "."));
        }
        double figure = 0;
        for (Param p : params)
            figure = Math.max(figure, off(o.recipe(), s.taken().now(), p));
        // What is switched off is as if it were at rest.
        if (!s.taken().now().on(Matches.named(match).group()))
            figure = Math.max(figure, off(o.recipe(), CompRecipe.BLANK, params.get(0)));
        String sides = String.format(Locale.ROOT, "The plate: %s; the comp: %s.", o.plate(), o.was());
        if (figure <= about.limit()) return about.good(figure, sides);
        int f = s.taken().frame();
        return about.found(figure, sides).in(List.of(f), f).mendedBy(Finding.Mend.match(match, f));
    }

    private double off(CompRecipe found, CompRecipe now, Param p) {
        double a = found.get(p), b = now.get(p);
        return part
                ? 100 * Math.abs(a - b) / Math.max(1e-9, Math.max(Math.abs(a), Math.abs(b)))
                : scale * Math.abs(a - b);
    }
}
