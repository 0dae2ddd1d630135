package dasein.core.solve.file;

import dasein.core.BadInput;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A camera as OpenUSD text ({@code .usda}; usdGeom Camera and Points schemas): time codes are frames, focal length and
 * aperture in millimetres (common practice for the schema's tenths of a unit), distortion as custom data. Matrices
 * there stand for row vectors, so they are written transposed. Reading takes a transform matrix, or translation with
 * rotateXYZ, of the first camera; what lies above it is taken to be at rest.
 */
final class CameraUsd {
    private static final double APERTURE_MM = 36;
    private static final String NUMBER = "[-+]?(?:\\d+\\.?\\d*|\\.\\d+)(?:[eE][-+]?\\d+)?";

    private CameraUsd() {}

    static String write(SolvedCamera c) {
        Lens l = c.lens();
        double mm = APERTURE_MM / c.width();
        StringBuilder b = new StringBuilder(String.format(
                Locale.ROOT,
                "#usda 1.0%n(%n    defaultPrim = \"shot\"%n    startTimeCode = %d%n    endTimeCode = %d%n   "
                        + " timeCodesPerSecond = %.9g%n    framesPerSecond = %.9g%n    metersPerUnit = 1%n  "
                        + "  upAxis = \"Y\"%n)%n%n",
                c.first(),
                c.last(),
                c.rate().perSecond(),
                c.rate().perSecond()));
        b.append(String.format(
                Locale.ROOT,
                "def Xform \"shot\"%n{%n    def Camera \"camera\" (%n        customData = {%n            "
                        + "int width = %d%n            int height = %d%n            double k1 = %.9g%n      "
                        + "      double k2 = %.9g%n            double k3 = %.9g%n            double p1 = "
                        + "%.9g%n            double p2 = %.9g%n            string distortion = \"distorted "
                        + "= undistorted (1 + k1 r2 + k2 r4 + k3 r6) and tangential p1, p2, in units of the "
                        + "focal length\"%n        }%n    )%n    {%n",
                c.width(),
                c.height(),
                l.k1(),
                l.k2(),
                l.k3(),
                l.p1(),
                l.p2()));
        b.append(String.format(
                Locale.ROOT,
                "        float2 clippingRange = (0.05, 100000)%n        float horizontalAperture = %.9g%n   "
                        + "     float verticalAperture = %.9g%n        float horizontalApertureOffset = "
                        + "%.9g%n        float verticalApertureOffset = %.9g%n",
                APERTURE_MM,
                APERTURE_MM * c.height() / c.width(),
                (l.centreX() - c.width() / 2.0) * -mm,
                (l.centreY() - c.height() / 2.0) * mm));
        b.append("        float focalLength.timeSamples = {\n");
        for (SolvedCamera.Frame f : c.frames())
            b.append(String.format(Locale.ROOT, "            %d: %.9g,%n", f.frame(), f.focalPx() * mm));
        b.append("        }\n        matrix4d xformOp:transform.timeSamples = {\n");
        for (SolvedCamera.Frame f : c.frames()) {
            double[] m = f.pose().matrix();
            b.append(String.format(
                    Locale.ROOT,
                    "            %d: ( (%.12g, %.12g, %.12g, 0), (%.12g, %.12g, %.12g, 0), (%.12g, %.12g, "
                            + "%.12g, 0), (%.12g, %.12g, %.12g, 1) ),%n",
                    f.frame(),
                    m[0],
                    m[4],
                    m[8],
                    m[1],
                    m[5],
                    m[9],
                    m[2],
                    m[6],
                    m[10],
                    m[3],
                    m[7],
                    m[11]));
        }
        b.append("        }\n        uniform token[] xformOpOrder = [\"xformOp:transform\"]\n    }\n");
        if (!c.points().isEmpty()) points(b, c);
        return b.append("}\n").toString();
    }

    private static void points(StringBuilder b, SolvedCamera c) {
        b.append("\n    def Points \"points\"\n    {\n        int64[] ids = [");
        b.append(String.join(
                        ", ",
                        c.points().stream().map(p -> Integer.toString(p.id())).toList()))
                .append("]\n        point3f[] points = [");
        b.append(String.join(
                ", ",
                c.points().stream()
                        .map(p -> String.format(
                                Locale.ROOT,
                                "(%.9g, %.9g, %.9g)",
                                p.position().x(),
                                p.position().y(),
                                p.position().z()))
                        .toList()));
        b.append("]\n        float[] widths = [0.02] (\n            interpolation = \"constant\"\n       "
                + " )\n    }\n");
    }

    static SolvedCamera read(String text, String name) {
        if (!text.startsWith("#usda")) throw new BadInput(name + " is not USD text; write it as .usda");
        int at = text.indexOf("def Camera");
        if (at < 0) throw new BadInput(name + " holds no camera");
        String camera = body(text, at);
        double aperture = number(camera, "horizontalAperture", 20.955),
                rate = number(text, "timeCodesPerSecond", number(text, "framesPerSecond", 24));
        int
                w =
                        (int) number(
                                camera
                                        + text.substring(
                                                at,
                                                text.indexOf('{', at) + 2000 < text.length()
                                                        ? text.indexOf('{', at) + 2000
                                                        : text.length()),
                                "int width",
                                0),
                h = (int) number(text.substring(at), "int height", 0);
        if (w <= 0 || h <= 0) {
            double v = number(camera, "verticalAperture", aperture * 9 / 16);
            w = 1920;
            h = (int) Math.round(1920 * v / aperture);
        }
        double px = w / aperture;
        TreeMap<Integer, double[]> focal = samples(camera, "focalLength", 1),
                matrix = samples(camera, "xformOp:transform", 16),
                move = samples(camera, "xformOp:translate", 3),
                turn = samples(camera, "xformOp:rotateXYZ", 3);
        if (focal.isEmpty()) focal.put(0, new double[] {50});
        TreeMap<Integer, double[]> moves = matrix.isEmpty() ? move.isEmpty() ? turn : move : matrix;
        if (moves.isEmpty())
            throw new BadInput(
                    name + " has a camera that stands nowhere: neither a transform nor a translation was found");
        TreeMap<Integer, double[]> all = new TreeMap<>(moves);
        if (turn.size() > 1) all.putAll(turn);
        if (all.size() == 1 && focal.size() > 1)
            focal.keySet().forEach(k -> all.putIfAbsent(k, all.firstEntry().getValue()));
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int f : all.keySet()) {
            Pose p = matrix.isEmpty()
                    ? new Pose(euler(near(turn, f)), move.isEmpty() ? Vec3.ZERO : Vec3.of(near(move, f)))
                    : pose(near(matrix, f));
            frames.add(new SolvedCamera.Frame(f, p, near(focal, f)[0] * px, 0, 0));
        }
        String said = text.substring(at);
        Lens l = new Lens(
                frames.get(0).focalPx(),
                w / 2.0 - number(camera, "horizontalApertureOffset", 0) * px,
                h / 2.0 + number(camera, "verticalApertureOffset", 0) * px,
                number(said, "double k1", 0),
                number(said, "double k2", 0),
                number(said, "double k3", 0),
                number(said, "double p1", 0),
                number(said, "double p2", 0));
        return new SolvedCamera(w, h, rateOf(rate), "moving", 0, 0, l, frames, points(text));
    }

    private static Rate rateOf(double r) {
        return Rate.parse(String.format(Locale.ROOT, "%.4f", r));
    }

    private static Pose pose(double[] m) {
        return Pose.fromMatrix(orthonormal(m));
    }

    /** Scale, as some writers put on cameras, does not turn them. */
    private static double[] orthonormal(double[] m) {
        double[] o = new double[12];
        for (int axis = 0; axis < 3; axis++) {
            double n = Math.sqrt(
                    m[4 * axis] * m[4 * axis] + m[4 * axis + 1] * m[4 * axis + 1] + m[4 * axis + 2] * m[4 * axis + 2]);
            if (!(n > 1e-12)) throw new BadInput("a transform of the camera is flat");
            for (int k = 0; k < 3; k++) o[4 * k + axis] = m[4 * axis + k] / n;
        }
        for (int k = 0; k < 3; k++) o[4 * k + 3] = m[12 + k];
        return o;
    }

    private static Quat euler(double[] deg) {
        if (deg == null) return Quat.IDENTITY;
        return Quat.axisAngle(Vec3.Z, Math.toRadians(deg[2]))
                .times(Quat.axisAngle(Vec3.Y, Math.toRadians(deg[1])))
                .times(Quat.axisAngle(Vec3.X, Math.toRadians(deg[0])));
    }

    private static double[] near(TreeMap<Integer, double[]> s, int f) {
        if (s.isEmpty()) return null;
        Map.Entry<Integer, double[]> e = s.floorEntry(f);
        return e == null ? s.firstEntry().getValue() : e.getValue();
    }

    /** From the brace that follows a place to the one that closes it. */
    private static String body(String text, int at) {
        int from = text.indexOf('{', skipNotes(text, at)), depth = 0;
        for (int i = Math.max(from, 0); from >= 0 && i < text.length(); i++) {
            if (text.charAt(i) == '{') depth++;
            if (text.charAt(i) == '}' && --depth == 0) return text.substring(from, i);
        }
        throw new BadInput("the USD text ends within its camera");
    }

    /** Past the round brackets with a prim's notes, if there are any. */
    private static int skipNotes(String text, int at) {
        int open = text.indexOf('(', at), brace = text.indexOf('{', at), depth = 0;
        if (open < 0 || brace < 0 || brace < open) return at;
        for (int i = open; i < text.length(); i++) {
            if (text.charAt(i) == '(') depth++;
            if (text.charAt(i) == ')' && --depth == 0) return i;
        }
        return at;
    }

    private static double number(String text, String key, double otherwise) {
        Matcher m = Pattern.compile(Pattern.quote(key) + "\\s*=\\s*(" + NUMBER + ")")
                .matcher(text);
        return m.find() ? Double.parseDouble(m.group(1)) : otherwise;
    }

    /** Values of an attribute by time code; one that does not change stands at 0. */
    private static TreeMap<Integer, double[]> samples(String text, String key, int size) {
        TreeMap<Integer, double[]> out = new TreeMap<>();
        Pattern numbers = Pattern.compile(NUMBER);
        int at = text.indexOf(key + ".timeSamples");
        if (at >= 0) {
            int from = text.indexOf('{', at), to = text.indexOf('}', at);
            if (from < 0 || to < from) throw new BadInput("the USD text ends within " + key);
            Matcher m = numbers.matcher(text.substring(from, to));
            List<Double> all = new ArrayList<>();
            while (m.find()) all.add(Double.parseDouble(m.group()));
            if (all.size() % (size + 1) != 0)
                throw new BadInput(
                        key + " does not hold " + size + (size == 1 ? " number" : " numbers") + " for each time");
            for (int i = 0; i < all.size(); i += size + 1) {
                double[] v = new double[size];
                for (int k = 0; k < size; k++) v[k] = all.get(i + 1 + k);
                out.put((int) Math.round(all.get(i)), v);
            }
            return out;
        }
        Matcher m = Pattern.compile(Pattern.quote(key) + "\\s*=\\s*([^\\n]+)").matcher(text);
        if (!m.find()) return out;
        Matcher n = numbers.matcher(m.group(1));
        double[] v = new double[size];
        int k = 0;
        while (k < size && n.find()) v[k++] = Double.parseDouble(n.group());
        if (k == size) out.put(0, v);
        return out;
    }

    private static List<SolvedCamera.Point> points(String text) {
        int at = text.indexOf("def Points");
        if (at < 0) return List.of();
        String b = body(text, at);
        List<Double> p = list(b, "point3f[] points"), ids = list(b, "int64[] ids");
        List<SolvedCamera.Point> out = new ArrayList<>();
        for (int i = 0; i + 2 < p.size(); i += 3)
            out.add(new SolvedCamera.Point(
                    i / 3 < ids.size() ? ids.get(i / 3).intValue() : i / 3 + 1,
                    new Vec3(p.get(i), p.get(i + 1), p.get(i + 2)),
                    0));
        return out;
    }

    private static List<Double> list(String text, String key) {
        List<Double> out = new ArrayList<>();
        int at = text.indexOf(key),
                from = at < 0 ? -1 : text.indexOf('[', at + key.length()),
                to = from < 0 ? -1 : text.indexOf(']', from);
        if (to < 0) return out;
        Matcher m = Pattern.compile(NUMBER).matcher(text.substring(from, to));
        while (m.find()) out.add(Double.parseDouble(m.group()));
        return out;
    }
}
