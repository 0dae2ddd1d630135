package dasein.core.comp.step;

import dasein.core.render.pass.Passes;
import java.util.EnumMap;
import java.util.Map;

/** Which headings have nothing to act on in a frame, and why: so that nobody moves a number that moves nothing. */
public final class Idle {
    private Idle() {}

    public static Map<Group, String> of(Passes p) {
        boolean shadow = false, bounce = false, reflection = false, shows = false;
        for (int i = 0; i < p.alpha.length; i++) {
            shows |= p.alpha[i] > 0;
            for (int c = 0; c < 3; c++) {
                shadow |= p.shadow[c][i] != 1;
                bounce |= p.bounce[c][i] != 0;
                reflection |= p.reflection[c][i] != 0;
            }
        }
        Map<Group, String> out = new EnumMap<>(Group.class);
        if (!shadow) out.put(Group.SHADOW, "No performer's shadow falls on the set in this frame.");
        if (!bounce) out.put(Group.BOUNCE, "Performers give no light to the set in this frame.");
        if (!reflection) out.put(Group.REFLECTION, "Nothing on the set mirrors performers in this frame.");
        if (!shows)
            for (Group g : new Group[] {Group.PERFORMER, Group.FRONT, Group.HAZE, Group.LENS, Group.GRAIN})
                out.put(g, "No performer is seen in this frame.");
        return out;
    }
}
