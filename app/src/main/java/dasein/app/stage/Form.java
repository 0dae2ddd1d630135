package dasein.app.stage;

import dasein.core.BadInput;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Fields of a posted form; a field that was not sent keeps its present value. */
public record Form(Map<String, String> fields) {
    private static final Set<String> UNKNOWN =
            Set.of("sensorWidthMm", "focalMm", "fStop", "focusMetres", "shutterDeg", "cameraHeightMetres");

    public boolean has(String name) {
        return fields.containsKey(name);
    }

    public String text(String name, String now) {
        String v = fields.get(name);
        if (v == null) return now;
        if (v.length() > 20_000) throw new BadField(name, "that text is too long");
        return v.trim();
    }

    /** A name that a person gives: what is empty keeps the present one. */
    public String name(String name, String now) {
        String v = text(name, now).replaceAll("\\p{Cntrl}", "");
        return v.isEmpty() ? now : v.substring(0, Math.min(60, v.length()));
    }

    public double number(String name, String label, double now, double least, double most) {
        String v = fields.get(name);
        if (v == null) return now;
        // An emptied field of which nothing need be known says: unknown.
        if (v.isBlank()) return least <= 0 && most >= 0 && UNKNOWN.contains(name) ? 0 : now;
        double d;
        try {
            d = Double.parseDouble(v.trim().replace(',', '.'));
        } catch (NumberFormatException e) {
            throw new BadField(name, label + " must be a number, not \"" + v.trim() + "\"");
        }
        if (!(d >= least && d <= most))
            throw new BadField(name, label + " must lie between " + plain(least) + " and " + plain(most));
        return d;
    }

    public int whole(String name, String label, int now, int least, int most) {
        return (int) Math.round(number(name, label, now, least, most));
    }

    /** The frame that is looked at. */
    public int frame() {
        return whole("frame", "the frame", 1, 0, 10_000_000);
    }

    /** The place in a list of that many. @throws BadInput when it is no longer there */
    public int index(int size) {
        int i = whole("index", "which", -1, -1, Integer.MAX_VALUE);
        if (i < 0 || i >= size) throw new BadInput("that is no longer there");
        return i;
    }

    /** Numbers of tracks, marks or points, with commas between. */
    public List<Integer> ids(String name) {
        List<Integer> out = new ArrayList<>();
        for (String id : text(name, "").split(",")) if (!id.isBlank()) out.add(id(id));
        return out;
    }

    /** The number of a track, mark or mask. */
    public int id() {
        return id(text("id", ""));
    }

    public static int id(String s) {
        try {
            return Integer.parseInt(s.trim());
        } catch (NumberFormatException e) {
            throw new BadInput("\"" + s.trim() + "\" is not a number of a track, mark or mask");
        }
    }

    /** A tick box comes with a hidden twin of the same name plus "_", so that an empty one is seen too. */
    public boolean tick(String name, boolean now) {
        return fields.containsKey(name + "_") ? fields.containsKey(name) : now;
    }

    public String choice(String name, String now, String... allowed) {
        String v = fields.get(name);
        if (v == null) return now;
        for (String a : allowed) if (a.equals(v)) return v;
        throw new BadInput("there is no choice \"" + v + "\"");
    }

    private static String plain(double d) {
        return d == Math.rint(d) ? Long.toString((long) d) : Double.toString(d);
    }
}
