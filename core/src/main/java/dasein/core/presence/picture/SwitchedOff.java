package dasein.core.presence.picture;

import dasein.core.comp.step.Group;
import dasein.core.comp.step.Shadow;
import dasein.core.image.Image;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;

/** Whether something that was rendered is left out of the comp: shadow, given light, what is mirrored. */
public final class SwitchedOff implements Check {
    private static final double LIMIT = 2;
    private static final int RUN = 500;
    private static final Finding.About ABOUT = new Finding.About(
            "left-out",
            "What is left out",
            "comp",
            "% of the plate's light",
            LIMIT,
            "two parts in a hundred of the light are seen on even ground (common practice)");

    private final Map<String, Worst> out = new LinkedHashMap<>();
    private int frames;

    @Override
    public void look(Frame f, Subject s) {
        frames++;
        Passes p = f.passes();
        if (!f.recipe().on(Group.SHADOW) || f.recipe().get(Shadow.DENSITY) < 0.05)
            add("the shadow", f, i -> 1 - p.shadow[1][i]);
        if (!f.recipe().on(Group.BOUNCE))
            add("light that performers give to the ground", f, i -> p.bounce[1][i] / level(f, i));
        if (!f.recipe().on(Group.REFLECTION))
            add("what the ground mirrors of performers", f, i -> p.reflection[1][i] / level(f, i));
    }

    private static double level(Frame f, int i) {
        Image im = f.plate();
        return Math.max(0.01, im.planes[1][i]);
    }

    private interface Part {
        double at(int i);
    }

    /** By the most that is missing anywhere over an area of some size. */
    private void add(String what, Frame f, Part part) {
        double[] most = new double[f.passes().alpha.length];
        int n = 0;
        for (int i = 0; i < most.length; i++) if (f.passes().alpha[i] < 0.5f) most[n++] = Math.abs(part.at(i));
        most = java.util.Arrays.copyOf(most, n);
        java.util.Arrays.sort(most);
        double v = n > RUN ? 100 * most[n - RUN] : 0;
        out.computeIfAbsent(what, w -> new Worst(LIMIT)).add(f.frame(), v, null);
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (frames == 0) return ABOUT.unseen("No rendered frame to look at yet.");
        for (Map.Entry<String, Worst> e : out.entrySet()) {
            Worst w = e.getValue();
            if (w.found())
                return w.on(ABOUT.found(
                        w.figure,
                        String.format(
                                Locale.ROOT,
                                "The comp leaves out %s, up to %.0f %% of the plate's light.",
                                e.getKey(),
                                w.figure)));
        }
        return ABOUT.good(0, "All that was rendered is in the comp.");
    }
}
