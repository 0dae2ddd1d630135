package dasein.core.presence;

import dasein.core.BadInput;
import java.util.Collections;
import java.util.Map;
import java.util.TreeMap;

/** What of the findings somebody means to be so. @param waived the word of reason, by the check's key */
public record PresenceRecipe(Map<String, String> waived) {
    public static final PresenceRecipe BLANK = new PresenceRecipe(Map.of());
    private static final int LONGEST = 200;

    public PresenceRecipe {
        waived = waived == null ? Map.of() : Collections.unmodifiableMap(new TreeMap<>(waived));
    }

    /** @throws BadInput without a reason */
    public PresenceRecipe waive(String key, String reason) {
        String said = reason.strip();
        if (said.isEmpty()) throw new BadInput("say in a word why that is meant to be so");
        if (said.length() > LONGEST) throw new BadInput("a reason may have " + LONGEST + " letters at most");
        Map<String, String> all = new TreeMap<>(waived);
        all.put(key, said);
        return new PresenceRecipe(all);
    }

    public PresenceRecipe unwaive(String key) {
        Map<String, String> all = new TreeMap<>(waived);
        all.remove(key);
        return new PresenceRecipe(all);
    }
}
