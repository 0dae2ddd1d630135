package dasein.app.web;

import dasein.core.BadInput;
import java.util.Map;
import java.util.Set;

/** Fields of a posted form; a field that was not sent keeps its present value. */
record Form(Map<String, String> fields) {
    private static final Set<String> UNKNOWN =
            Set.of("sensorWidthMm", "focalMm", "fStop", "focusMetres", "shutterDeg", "cameraHeightMetres");

    boolean has(String name) {
        return fields.containsKey(name);
    }

    String text(String name, String now) {
        String v = fields.get(name);
        if (v == null) return now;
        if (v.length() > 4000) throw new BadInput("that text is too long");
        return v.trim();
    }

    double number(String name, String label, double now, double least, double most) {
        String v = fields.get(name);
        if (v == null) return now;
        // An emptied field of which nothing need be known says: unknown.
        if (v.isBlank()) return least <= 0 && most >= 0 && UNKNOWN.contains(name) ? 0 : now;
        double d;
        try {
            d = Double.parseDouble(v.trim().replace(',', '.'));
        } catch (NumberFormatException e) {
            throw new BadInput(label + " must be a number, not \"" + v.trim() + "\"");
        }
        if (!(d >= least && d <= most))
            throw new BadInput(label + " must lie between " + plain(least) + " and " + plain(most));
        return d;
    }

    int whole(String name, String label, int now, int least, int most) {
        return (int) Math.round(number(name, label, now, least, most));
    }

    /** A tick box comes with a hidden twin of the same name plus "_", so that an empty one is seen too. */
    boolean tick(String name, boolean now) {
        return fields.containsKey(name + "_") ? fields.containsKey(name) : now;
    }

    String choice(String name, String now, String... allowed) {
        String v = fields.get(name);
        if (v == null) return now;
        for (String a : allowed) if (a.equals(v)) return v;
        throw new BadInput("there is no choice \"" + v + "\"");
    }

    private static String plain(double d) {
        return d == Math.rint(d) ? Long.toString((long) d) : Double.toString(d);
    }
}
