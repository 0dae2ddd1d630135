package dasein.core.comp.step;

import dasein.core.comp.Param;

/** Steps that are one thing to people: a heading, which can be switched off as a whole. In the order of the recipe. */
public enum Group {
    REPAIR("repair", "Plate repair"),
    SHADOW("shadow", "Shadow"),
    BOUNCE("bounce", "Given light"),
    REFLECTION("reflection", "Reflection"),
    PERFORMER("performer", "Performers"),
    FRONT("front", "What stands in front"),
    HAZE("haze", "Haze"),
    LENS("lens", "Lens"),
    GRAIN("grain", "Grain"),
    CODEC("codec", "Compression"),
    MOVE("move", "Reframing and shake"),
    GRADE("grade", "Grade, over all");
    private final String key, label;
    private final Param on;

    Group(String key, String label) {
        this.key = key;
        this.label = label;
        on = new Param(key + "On", label + " on", 1, new Param.Range(0, 1), new Param.Range(0, 1), 1, 1);
    }

    /** In addresses. */
    public String key() {
        return key;
    }

    public String label() {
        return label;
    }

    /** 1 where it is done, 0 where it is left out. */
    public Param on() {
        return on;
    }
}
