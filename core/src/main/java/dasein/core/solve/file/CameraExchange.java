package dasein.core.solve.file;

import dasein.core.BadInput;
import dasein.core.format.SafeWrite;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * Cameras to and from elsewhere: camera.json, binary glTF, OpenUSD text and a table, told apart by the file's ending.
 */
public final class CameraExchange {
    private static final long MAX_BYTES = 200L << 20;
    /** Imported points must land this near their marks, pixels at the median. */
    private static final double LANDS_PX = 3;

    private CameraExchange() {}

    /**
     * How a camera from elsewhere is to be understood.
     *
     * @param zUp its third axis stands upright; @param scale of its unit in metres; @param frameOffset added to its
     *     frame numbers
     * @param turn how the camera itself is turned against ours, one of {@link #TURNS}
     */
    public record Reading(boolean zUp, double scale, int frameOffset, String turn) {
        public static final Reading PLAIN = new Reading(false, 1, 0, "none");
    }

    /** Ways in which programs' cameras differ: what they look along and what is up. */
    public static final Map<String, Quat> TURNS = turns();

    private static Map<String, Quat> turns() {
        Map<String, Quat> m = new java.util.LinkedHashMap<>();
        m.put("none", Quat.IDENTITY);
        for (int k = 1; k < 4; k++) {
            m.put(90 * k + " degrees about X", Quat.axisAngle(Vec3.X, Math.toRadians(90 * k)));
            m.put(90 * k + " degrees about Y", Quat.axisAngle(Vec3.Y, Math.toRadians(90 * k)));
            m.put(90 * k + " degrees about Z", Quat.axisAngle(Vec3.Z, Math.toRadians(90 * k)));
        }
        return m;
    }

    public static SolvedCamera read(Path path, Reading how) {
        String n = path.getFileName().toString().toLowerCase(Locale.ROOT);
        try {
            if (Files.size(path) > MAX_BYTES)
                throw new BadInput(path.getFileName() + " is too large for a camera file");
            byte[] b = Files.readAllBytes(path);
            SolvedCamera c = n.endsWith(".glb")
                    ? CameraGltf.read(b, n)
                    : n.endsWith(".usda")
                            ? CameraUsd.read(text(b), n)
                            : n.endsWith(".csv")
                                    ? CameraCsv.read(text(b), n)
                                    : n.endsWith(".json") ? CameraFile.fromJson(text(b)) : null;
            if (c == null) throw new BadInput(path.getFileName() + " must end in .json, .glb, .usda or .csv");
            return understood(c, how);
        } catch (IOException e) {
            throw new BadInput("the camera file " + path + " cannot be read", e);
        }
    }

    private static String text(byte[] b) {
        return new String(b, StandardCharsets.UTF_8);
    }

    public static void write(Path path, SolvedCamera c) {
        String n = path.getFileName().toString().toLowerCase(Locale.ROOT);
        byte[] b = n.endsWith(".glb")
                ? CameraGltf.of(c)
                : n.endsWith(".usda")
                        ? CameraUsd.write(c).getBytes(StandardCharsets.UTF_8)
                        : n.endsWith(".csv")
                                ? CameraCsv.write(c).getBytes(StandardCharsets.UTF_8)
                                : n.endsWith(".json") ? CameraFile.toJson(c).getBytes(StandardCharsets.UTF_8) : null;
        if (b == null) throw new BadInput(path.getFileName() + " must end in .json, .glb, .usda or .csv");
        SafeWrite.to(path, tmp -> Files.write(tmp, b));
    }

    public static String usd(SolvedCamera c) {
        return CameraUsd.write(c);
    }

    public static String csv(SolvedCamera c) {
        return CameraCsv.write(c);
    }

    static SolvedCamera understood(SolvedCamera c, Reading how) {
        Quat turn = TURNS.get(how.turn);
        if (turn == null) throw new BadInput("there is no turn \"" + how.turn + "\"");
        if (!(how.scale > 0)) throw new BadInput("the unit of a camera file must be above zero");
        List<SolvedCamera.Frame> frames = c.frames().stream()
                .map(f -> new SolvedCamera.Frame(
                        f.frame() + how.frameOffset,
                        new Pose(
                                f.pose().rotation().times(turn).unit(), f.pose().position()),
                        f.focalPx(),
                        f.rmsPx(),
                        f.tracks(),
                        f.off(),
                        f.offDeg()))
                .toList();
        return c.withFrames(frames)
                .in(new Similarity(
                        how.scale, how.zUp ? Quat.axisAngle(Vec3.X, -Math.PI / 2) : Quat.IDENTITY, Vec3.ZERO));
    }

    /**
     * Whether imported points land on their marks, the numbers of both being the same.
     *
     * @param px at the median mark; NaN when no point has a mark
     * @param fix a reading under which they land when they do not as it is; null when none helps or none is needed
     */
    public record Landing(double px, int marks, Reading fix) {
        public boolean lands() {
            return px < LANDS_PX;
        }

        public String sentence() {
            if (marks == 0)
                return "None of its points has the number of a mark, so whether it fits cannot " + "be checked.";
            String at = String.format(
                    Locale.ROOT, "%d of its points have marks; they land %.1f px from them at the median.", marks, px);
            if (lands()) return at;
            if (fix == null) return at + " It does not fit this plate.";
            return at + " It looks " + (fix.turn.equals("none") ? "" : "turned by " + fix.turn)
                    + (!fix.turn.equals("none") && fix.frameOffset != 0 ? " and " : "")
                    + (fix.frameOffset != 0 ? "shifted by " + fix.frameOffset + " frames" : "") + ": read so, it fits.";
        }
    }

    /** @param original as read plainly; @param how the reading in force */
    public static Landing check(SolvedCamera original, Reading how, List<Track> tracks) {
        double[] now = landing(understood(original, how), tracks);
        if (now[1] == 0 || now[0] < LANDS_PX) return new Landing(now[0], (int) now[1], null);
        for (String turn : TURNS.keySet()) {
            for (int shift : new int[] {0, 1, -1, 2, -2, 1000, -1000, 1 - original.first()}) {
                Reading r = new Reading(how.zUp, how.scale, shift, turn);
                if (landing(understood(original, r), tracks)[0] < LANDS_PX) return new Landing(now[0], (int) now[1], r);
            }
        }
        return new Landing(now[0], (int) now[1], null);
    }

    /** Median distance and number of points with marks. */
    private static double[] landing(SolvedCamera c, List<Track> tracks) {
        Map<Integer, Track> by = new HashMap<>();
        for (Track t : tracks) by.put(t.id(), t);
        List<Double> off = new ArrayList<>();
        int marks = 0;
        for (SolvedCamera.Point p : c.points()) {
            Track t = by.get(p.id());
            if (t == null) continue;
            marks++;
            for (int i = 0; i < t.length(); i += Math.max(1, t.length() / 5)) {
                int f = t.frames()[i];
                if (f < c.first() || f > c.last()) continue;
                double[] q = c.lens(f).project(c.frame(f).pose().toLocal(p.position()));
                off.add(q == null ? 1e5 : Math.hypot(q[0] - t.x()[i], q[1] - t.y()[i]));
            }
        }
        if (off.isEmpty()) return new double[] {Double.NaN, 0};
        off.sort(null);
        return new double[] {off.get(off.size() / 2), marks};
    }
}
