package dasein.core.model.file;

import dasein.core.BadInput;
import dasein.core.math.Vec3;
import dasein.core.model.Motion;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.StringTokenizer;

/** Biovision hierarchy files (BVH). */
public final class BvhReader {
    private static final long MAX_BYTES = 256 << 20;
    private static final int MOST_JOINTS = 1000, MOST_FRAMES = 200_000;

    private final String name;
    private final StringTokenizer in;
    private final List<Motion.Joint> joints = new ArrayList<>();
    private int channels;

    private BvhReader(String name, String text) {
        this.name = name;
        in = new StringTokenizer(text);
    }

    /** @throws BadInput when it is not BVH or damaged */
    public static Motion read(Path path) {
        String name = path.getFileName().toString();
        try {
            if (Files.size(path) > MAX_BYTES) throw new BadInput(name + " is too large for a motion file");
            return new BvhReader(name, Files.readString(path, StandardCharsets.ISO_8859_1)).motion();
        } catch (IOException e) {
            throw new BadInput(name + " cannot be read", e);
        } catch (NumberFormatException | java.util.NoSuchElementException e) {
            throw new BadInput(name + " is a damaged motion file", e);
        }
    }

    private void expect(String word) {
        String got = in.nextToken();
        if (!got.equalsIgnoreCase(word))
            throw new BadInput(name + " is not a BVH motion file: \"" + word + "\" was expected, not \""
                    + (got.length() > 40 ? got.substring(0, 40) : got) + "\"");
    }

    private double number() {
        double v = Double.parseDouble(in.nextToken());
        if (!(Math.abs(v) < 1e9)) throw new NumberFormatException();
        return v;
    }

    private Vec3 offset() {
        expect("OFFSET");
        return new Vec3(number(), number(), number());
    }

    private Motion motion() {
        expect("HIERARCHY");
        expect("ROOT");
        joint(-1, 0);
        expect("MOTION");
        expect("Frames:");
        int n = Integer.parseInt(in.nextToken());
        if (n < 1 || n > MOST_FRAMES || (long) n * channels > 100_000_000)
            throw new BadInput(name + " has " + n + " frames, which cannot be held");
        expect("Frame");
        expect("Time:");
        double seconds = number();
        if (!(seconds > 1e-4 && seconds < 100)) throw new BadInput(name + " has frames of " + seconds + " seconds");
        float[][] frames = new float[n][channels];
        for (float[] f : frames) for (int k = 0; k < channels; k++) f[k] = (float) number();
        int dot = name.lastIndexOf('.');
        return new Motion(dot > 0 ? name.substring(0, dot) : name, List.copyOf(joints), seconds, frames);
    }

    private void joint(int parent, int deep) {
        if (joints.size() >= MOST_JOINTS || deep > 200) throw new BadInput(name + " has too many joints");
        int me = joints.size();
        String called = in.nextToken();
        joints.add(null);
        expect("{");
        Vec3 offset = offset(), end = null;
        expect("CHANNELS");
        int n = Integer.parseInt(in.nextToken()), first = channels;
        if (n < 0 || n > 6) throw new BadInput(name + " is a damaged motion file: a joint has " + n + " channels");
        int[] kinds = new int[n];
        for (int k = 0; k < n; k++) {
            String c = in.nextToken().toLowerCase(java.util.Locale.ROOT);
            int axis = c.charAt(0) - 'x';
            if (axis < 0 || axis > 2 || !(c.endsWith("position") || c.endsWith("rotation")))
                throw new BadInput(name + " has a channel \"" + c + "\" that is not known");
            kinds[k] = axis + (c.endsWith("rotation") ? 3 : 0);
        }
        channels += n;
        while (true) {
            String t = in.nextToken();
            if (t.equals("}")) break;
            if (t.equalsIgnoreCase("JOINT")) joint(me, deep + 1);
            else if (t.equalsIgnoreCase("End")) {
                in.nextToken();
                expect("{");
                end = offset();
                expect("}");
            } else
                throw new BadInput(
                        name + " is a damaged motion file at \"" + (t.length() > 40 ? t.substring(0, 40) : t) + "\"");
        }
        joints.set(me, new Motion.Joint(called, parent, offset, end, first, kinds));
    }
}
