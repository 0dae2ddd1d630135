package dasein.core.plate;

import dasein.core.BadInput;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Time address of a frame after SMPTE ST 12-1: hours, minutes, seconds and frames, counted at the whole rate.
 * Drop-frame (written with a semicolon) leaves out the numbers 0 and 1 (at 60: 0 to 3) of every minute but each tenth,
 * so that 29.97 and 59.94 keep step with the clock; no picture is dropped.
 *
 * @param frames counted from 00:00:00:00
 * @param nominal frames counted to a second: 24, 25, 30, 60
 */
public record Timecode(long frames, int nominal, boolean drop) {
    private static final Pattern FORM = Pattern.compile("(\\d{2}):(\\d{2}):(\\d{2})([:;.])(\\d{2,3})");

    public Timecode {
        if (drop && nominal != 30 && nominal != 60)
            throw new BadInput("drop-frame timecode exists at 29.97 and 59.94 frames a second only");
        long day = perDay(nominal, drop);
        frames = Math.floorMod(frames, day);
    }

    /** @throws BadInput when it is not a timecode, or names a frame that is left out or not reached at this rate */
    public static Timecode parse(String text, Rate rate) {
        Matcher m = FORM.matcher(text.trim());
        if (!m.matches())
            throw new BadInput("\"" + text
                    + "\" is not a timecode; write hours:minutes:seconds:frames, with a semicolon "
                    + "before the frames for drop-frame");
        int nominal = (int) Math.round(rate.perSecond()),
                h = Integer.parseInt(m.group(1)),
                min = Integer.parseInt(m.group(2)),
                s = Integer.parseInt(m.group(3)),
                f = Integer.parseInt(m.group(5));
        boolean drop = !m.group(4).equals(":");
        if (h > 23 || min > 59 || s > 59 || f >= nominal)
            throw new BadInput(text + " does not exist at " + nominal + " frames a second");
        int left = drop ? nominal / 15 : 0;
        if (drop && s == 0 && f < left && min % 10 != 0)
            throw new BadInput(text + " does not exist: drop-frame leaves it out");
        long minutes = 60L * h + min, count = (minutes * 60 + s) * nominal + f - left * (minutes - minutes / 10);
        return new Timecode(count, nominal, drop);
    }

    public Timecode plus(long n) {
        return new Timecode(frames + n, nominal, drop);
    }

    private static long perDay(int nominal, boolean drop) {
        return 24L * 6 * perTenMinutes(nominal, drop);
    }

    private static long perTenMinutes(int nominal, boolean drop) {
        return 600L * nominal - (drop ? 9L * nominal / 15 : 0);
    }

    @Override
    public String toString() {
        long n = frames;
        if (drop) {
            int left = nominal / 15;
            long ten = n / perTenMinutes(nominal, true),
                    rest = n % perTenMinutes(nominal, true),
                    minute = 60L * nominal - left;
            // The first of ten minutes is whole; each of the others lacks the frames left out.
            n += 9L * left * ten + (rest < 60L * nominal ? 0 : left * (1 + (rest - 60L * nominal) / minute));
        }
        return String.format(
                Locale.ROOT,
                "%02d:%02d:%02d%s%02d",
                n / nominal / 3600,
                n / nominal / 60 % 60,
                n / nominal % 60,
                drop ? ";" : ":",
                n % nominal);
    }
}
