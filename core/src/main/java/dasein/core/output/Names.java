package dasein.core.output;

import java.util.Locale;

/** What written files are called: shot, version, kind and frame. */
public final class Names {
    private Names() {}

    /** Letters, digits, dashes and underscores stay. */
    public static String safe(String name) {
        String s = name.replaceAll("[^\\p{L}\\p{Nd}_-]+", "_");
        return s.isEmpty() ? "shot" : s;
    }

    /** As {@code LW_010_v003_exr.zip}. @param suffix with its point */
    public static String file(String shot, int version, String kind, String suffix) {
        return String.format(Locale.ROOT, "%s_v%03d_%s%s", safe(shot), version, kind, suffix);
    }

    /** As {@code LW_010.0060.exr}. */
    public static String frame(String shot, int frame, String suffix) {
        return String.format(Locale.ROOT, "%s.%04d%s", safe(shot), frame, suffix);
    }
}
