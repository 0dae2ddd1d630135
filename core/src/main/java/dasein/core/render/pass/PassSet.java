package dasein.core.render.pass;

import java.util.List;

/** Passes that are kept only where somebody asks for them, together. */
public enum PassSet {
    /** The beauty by what the surface does with light: they add up to it. */
    MATERIAL(
            "by material",
            PassList.DIFFUSE,
            PassList.SPECULAR,
            PassList.TRANSMISSION,
            PassList.SUBSURFACE,
            PassList.EMISSION),
    /** What is seen there, of the nearest sample. */
    SURFACE("surface", PassList.ALBEDO, PassList.NEAREST, PassList.POSITION, PassList.UV),
    MOTION("motion, both ways", PassList.FORWARD, PassList.BACK),
    CONTACT("contact", PassList.CONTACT),
    FIGURES("samples and noise", PassList.SAMPLES, PassList.NOISE),
    /** In the order of {@link Mattes.Kind}. */
    MATTES(
            "mattes",
            Mattes.pass(Mattes.Kind.PERFORMER),
            Mattes.pass(Mattes.Kind.MATERIAL),
            Mattes.pass(Mattes.Kind.PART)),
    /** Performers by depth. */
    LAYERS("layers by depth", Layers.pass(1), Layers.pass(2), Layers.pass(3), Layers.pass(4)),
    /** What filters need to know; nobody else asks for it. */
    FILTERS("", PassList.SPREAD, PassList.CATCHER, PassList.GROUND, PassList.TINT, PassList.FORWARD, PassList.BACK);

    private final String label;
    private final List<Pass> passes;

    PassSet(String label, Pass... passes) {
        this.label = label;
        this.passes = List.of(passes);
    }

    /** Whether somebody may ask for it. */
    public boolean offered() {
        return !label.isEmpty();
    }

    public String label() {
        return label;
    }

    public List<Pass> passes() {
        return passes;
    }
}
