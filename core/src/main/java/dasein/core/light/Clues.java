package dasein.core.light;

import dasein.core.light.sun.ShadowLine;
import java.util.ArrayList;
import java.util.List;

/**
 * What was marked in the plate to find its light by. It is only offered: nothing is lit by it until sun or level are
 * set from it.
 *
 * @param albedo reflectance of the marked ground; 0 when nobody said
 */
public record Clues(List<Shadow> shadows, List<Patch> patches, double albedo) {
    public static final Clues NONE = new Clues(List.of(), List.of(), 0);

    /** A real shadow by three clicks, pixels of one frame. */
    public record Shadow(
            int id, int frame, double footX, double footY, double topX, double topY, double tipX, double tipY) {
        public String name() {
            return "shadow " + id;
        }

        ShadowLine line() {
            return new ShadowLine(
                    name(), frame, new double[] {footX, footY}, new double[] {topX, topY}, new double[] {tipX, tipY});
        }
    }

    /** A piece of level ground, in the sun or in shadow. */
    public record Patch(int id, int frame, double x, double y, boolean lit) {}

    public Clues {
        shadows = shadows == null ? List.of() : List.copyOf(shadows);
        patches = patches == null ? List.of() : List.copyOf(patches);
    }

    public List<ShadowLine> lines() {
        return shadows.stream().map(Shadow::line).toList();
    }

    /** A number that none of them has. */
    public int free() {
        int n = 1;
        for (Shadow s : shadows) n = Math.max(n, s.id + 1);
        for (Patch p : patches) n = Math.max(n, p.id + 1);
        return n;
    }

    public Clues with(Shadow s) {
        List<Shadow> all = new ArrayList<>(shadows);
        all.add(s);
        return new Clues(all, patches, albedo);
    }

    public Clues with(Patch p) {
        List<Patch> all = new ArrayList<>(patches);
        all.add(p);
        return new Clues(shadows, all, albedo);
    }

    public Clues without(int id) {
        return new Clues(
                shadows.stream().filter(s -> s.id != id).toList(),
                patches.stream().filter(p -> p.id != id).toList(),
                albedo);
    }

    public Clues withAlbedo(double a) {
        return new Clues(shadows, patches, a);
    }
}
