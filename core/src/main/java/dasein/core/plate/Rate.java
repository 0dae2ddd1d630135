package dasein.core.plate;

import dasein.core.BadInput;

/** Frames a second as a fraction; 24000/1001 is not 23.98. */
public record Rate(int num, int den) {
    public Rate {
        if (num <= 0 || den <= 0) throw new BadInput("a frame rate must be above zero");
    }

    /** "24", "24/1", "24000/1001"; "23.976" and "29.97" are read as the fractions they stand for. */
    public static Rate parse(String s) {
        try {
            String t = s.trim();
            int slash = t.indexOf('/');
            if (slash >= 0)
                return new Rate(
                        Integer.parseInt(t.substring(0, slash).trim()),
                        Integer.parseInt(t.substring(slash + 1).trim()));
            double v = Double.parseDouble(t);
            if (Math.abs(v - Math.rint(v)) < 1e-6) return new Rate((int) Math.rint(v), 1);
            int whole = (int) Math.ceil(v);
            if (Math.abs(v - whole * 1000.0 / 1001) < 0.006) return new Rate(whole * 1000, 1001);
            return new Rate((int) Math.round(v * 1000), 1000);
        } catch (NumberFormatException e) {
            throw new BadInput("\"" + s + "\" is not a frame rate; write for example 24, 25/1 or 24000/1001");
        }
    }

    public double perSecond() {
        return (double) num / den;
    }

    /** For people: "24", "23.976". */
    public String words() {
        double r = perSecond();
        return Math.abs(r - Math.rint(r)) < 1e-6
                ? Long.toString(Math.round(r))
                : String.format(java.util.Locale.ROOT, "%.3f", r);
    }

    @Override
    public String toString() {
        return num + "/" + den;
    }
}
