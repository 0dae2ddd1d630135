package dasein.core.solve.file;

import dasein.core.BadInput;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A camera as a table: a line of remarks {@code # width=1280 height=720 rate=24/1 centre=640,360 k1=.. k2=.. k3=..
 * p1=.. p2=..}, a head line, then for each frame the twelve numbers of camera-to-world (row-major 3x4) and the focal
 * length in pixels.
 */
final class CameraCsv {
    private static final String HEAD = "frame,m00,m01,m02,m03,m10,m11,m12,m13,m20,m21,m22,m23,focalPx";
    private static final Pattern SAID = Pattern.compile("(\\w+)=([^\\s]+)");

    private CameraCsv() {}

    static String write(SolvedCamera c) {
        Lens l = c.lens();
        StringBuilder b = new StringBuilder(String.format(
                Locale.ROOT,
                "# width=%d height=%d rate=%s centre=%.6f,%.6f k1=%.9g k2=%.9g k3=%.9g p1=%.9g p2=%.9g%n%s%n",
                c.width(),
                c.height(),
                c.rate(),
                l.centreX(),
                l.centreY(),
                l.k1(),
                l.k2(),
                l.k3(),
                l.p1(),
                l.p2(),
                HEAD));
        for (SolvedCamera.Frame f : c.frames()) {
            b.append(f.frame());
            for (double v : f.pose().matrix()) b.append(String.format(Locale.ROOT, ",%.12g", v));
            b.append(String.format(Locale.ROOT, ",%.9g%n", f.focalPx()));
        }
        return b.toString();
    }

    static SolvedCamera read(String text, String name) {
        int w = 0, h = 0;
        Rate rate = new Rate(24, 1);
        double[] centre = null, bent = new double[5];
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        int line = 0;
        try {
            for (String s : text.split("\\R")) {
                line++;
                if (s.isBlank() || s.startsWith("frame,")) continue;
                if (s.startsWith("#")) {
                    for (Matcher m = SAID.matcher(s); m.find(); ) {
                        String v = m.group(2);
                        switch (m.group(1)) {
                            case "width" -> w = Integer.parseInt(v);
                            case "height" -> h = Integer.parseInt(v);
                            case "rate" -> rate = Rate.parse(v);
                            case "centre" ->
                                centre = new double[] {
                                    Double.parseDouble(v.split(",")[0]), Double.parseDouble(v.split(",")[1])
                                };
                            case "k1", "k2", "k3", "p1", "p2" ->
                                bent[List.of("k1", "k2", "k3", "p1", "p2").indexOf(m.group(1))] = Double.parseDouble(v);
                            default -> {}
                        }
                    }
                    continue;
                }
                String[] p = s.split(",");
                double[] m = new double[12];
                if (p.length != 14) throw new NumberFormatException();
                for (int i = 0; i < 12; i++) m[i] = Double.parseDouble(p[i + 1].trim());
                frames.add(new SolvedCamera.Frame(
                        Integer.parseInt(p[0].trim()), Pose.fromMatrix(m), Double.parseDouble(p[13].trim()), 0, 0));
            }
        } catch (NumberFormatException | ArrayIndexOutOfBoundsException e) {
            throw new BadInput("line " + line + " of " + name + " is not a frame of a camera table");
        }
        if (w <= 0 || h <= 0) throw new BadInput(name + " lacks the plate's width and height in its first line");
        if (frames.isEmpty()) throw new BadInput(name + " holds no frames");
        frames.sort(java.util.Comparator.comparingInt(SolvedCamera.Frame::frame));
        return new SolvedCamera(
                w,
                h,
                rate,
                "moving",
                0,
                0,
                new Lens(
                        frames.get(0).focalPx(),
                        centre == null ? w / 2.0 : centre[0],
                        centre == null ? h / 2.0 : centre[1],
                        bent[0],
                        bent[1],
                        bent[2],
                        bent[3],
                        bent[4]),
                frames,
                List.of());
    }
}
