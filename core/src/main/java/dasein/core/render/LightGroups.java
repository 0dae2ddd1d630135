package dasein.core.render;

import dasein.core.light.Lighting;
import dasein.core.render.pass.PassList;
import java.util.ArrayList;
import java.util.List;

/**
 * Which light is kept apart from which while a frame is rendered. Every slot is a radiance of its own: one for each
 * light, and, if asked, one more for what of it comes by way of something else. Together there is one for all.
 */
public final class LightGroups {
    /** How far light is kept apart. */
    public enum Apart {
        TOGETHER,
        /** The map, the sun, every lamp, and what glows among performers. */
        LIGHTS,
        /** The same, and of each what comes straight and what comes by way of something else. */
        INDIRECT
    }

    private final List<String> slots = new ArrayList<>();
    private final int step, map, sun, glow;
    private final int[] lamps;

    /** @param lamps names of the lighting's lamps, as passes are to be called */
    LightGroups(Lighting lighting, List<String> lamps, Apart apart) {
        this.lamps = new int[lighting.lamps().size()];
        if (apart == Apart.TOGETHER) {
            step = map = sun = glow = 0;
            return;
        }
        step = apart == Apart.INDIRECT ? 1 : 0;
        map = slot("map");
        sun = slot("sun");
        for (int i = 0; i < this.lamps.length; i++)
            this.lamps[i] = slot(i < lamps.size() ? lamps.get(i) : "lamp" + (i + 1));
        glow = slot("glow");
    }

    private int slot(String name) {
        int at = slots.indexOf(name);
        if (at >= 0) return at;
        slots.add(name);
        if (step > 0) slots.add(name + PassList.INDIRECT);
        return slots.size() - 1 - step;
    }

    boolean apart() {
        return !slots.isEmpty();
    }

    /** Names of the slots in order; none when all is together. */
    List<String> names() {
        return slots;
    }

    /** Radiances that are kept: at least one. */
    int count() {
        return Math.max(1, slots.size());
    }

    /** Slots from a light's own to that of what comes by way of something else. */
    int step() {
        return step;
    }

    int map() {
        return map;
    }

    int sun() {
        return sun;
    }

    int lamp(int i) {
        return lamps[i];
    }

    /** Of what performers give off themselves. */
    int glow() {
        return glow;
    }
}
