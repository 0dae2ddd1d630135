package dasein.shoot;

import dasein.core.format.Exr;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.light.Environment;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Texture;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;

/**
 * What is brought home from the set besides the plate: mirror-ball brackets, the true lat-long, the chart photo, notes.
 */
final class Kit {
    /** Where the ball and the lat-long camera stood: where the performer will be. */
    static final Vec3 PLACE = new Vec3(0.6, 1.2, -6.2);

    /** In the boathouse's shadow. */
    static final Vec3 SHADE = new Vec3(-1.7, 0.7, -10.2);
    /** From the ball to the camera that photographs it; the second view is a quarter round. */
    private static final Vec3 AHEAD = new Vec3(-0.2, 0.05, 2.4), BESIDE = new Vec3(2.4, 0.05, 0.2);

    private static final int FACE = 288;
    private static final int[] STOPS = {-4, -2, 0, 2, 4};
    /** sRGB codes of the classic 24-patch chart, values from memory of the published averages (2005 edition). */
    private static final int[] PATCHES = {
        0x735244, 0xc29682, 0x627a9d, 0x576c43, 0x8580b1, 0x67bdaa, 0xd67e2c, 0x505ba6, 0xc15a63, 0x5e3c6c, 0x9dbc40,
                0xe0a32e,
        0x383d96, 0x469449, 0xaf363c, 0xe7c71f, 0xbb5695, 0x0885a1, 0xf3f3f2, 0xc8c8c8, 0xa0a0a0, 0x7a7a79, 0x555555,
                0x343434
    };

    private Kit() {}

    static void write(Stage stage, Path out) throws Exception {
        Files.createDirectories(out);
        latLong(stage, out.resolve("slipway_latlong.exr"));
        ball(stage, out, PLACE, AHEAD);
        ball(stage, out.resolve("ball_side"), PLACE, BESIDE);
        ball(stage, out.resolve("ball_shade"), SHADE, AHEAD);
        greyBall(stage, out.resolve("grey_ball.jpg"));
        chart(stage, new Vec3(0.6, 0.9, -5.2), out.resolve("chart.jpg"));
        chart(stage, SHADE, out.resolve("chart_shade.jpg"));
        notes(out.resolve("notes.json"));
    }

    /** The same place at other hours, and in the morning with the chart held up before the lat-long camera. */
    static void hours(Path out) throws Exception {
        Files.createDirectories(out);
        for (Sky k : List.of(Sky.NOON, Sky.EVENING))
            latLong(new Stage(k), List.of(), out.resolve(k.name() + "_latlong.exr"), 512);
        // In arm's length towards the water, where the sun reaches it.
        Mesh chart = mesh(chartAt(PLACE.plus(new Vec3(0.05, -0.05, 0.55)), -1), chartSkin());
        latLong(new Stage(), List.of(chart), out.resolve("chart_latlong.exr"), 1024);
    }

    static void latLong(Stage stage, Path file) {
        latLong(stage, List.of(), file, 1024);
    }

    /** Six square views joined into a lat-long map. */
    private static void latLong(Stage stage, List<Mesh> more, Path file, int w) {
        Vec3[] look = {Vec3.Z.times(-1), Vec3.X, Vec3.Z, Vec3.X.times(-1), Vec3.Y, Vec3.Y.times(-1)};
        Image[] face = new Image[6];
        Pose[] pose = new Pose[6];
        Lens lens = new Lens(FACE / 2.0 * 0.96, FACE / 2.0, FACE / 2.0, 0, 0);
        for (int k = 0; k < 6; k++) {
            pose[k] = Pose.lookAt(PLACE, PLACE.plus(look[k]), k < 4 ? Vec3.Y : Vec3.Z);
            face[k] = stage.still(pose[k], lens, FACE, FACE, more, 48);
        }
        int h = w / 2;
        Image im = new Image(w, h, 3);
        Image.rows(h, y -> {
            for (int x = 0; x < w; x++) {
                for (int j = 0; j < 4; j++) {
                    Vec3 d = Environment.fromUv((x + 0.25 + 0.5 * (j & 1)) / w, (y + 0.25 + 0.5 * (j >> 1)) / h);
                    int best = 0;
                    for (int k = 1; k < 6; k++) if (d.dot(look[k]) > d.dot(look[best])) best = k;
                    double[] p = lens.project(pose[best].toLocal(PLACE.plus(d)));
                    for (int c = 0; c < 3; c++) im.planes[c][y * w + x] += 0.25f * face[best].sample(p[0], p[1], c);
                }
            }
        });
        Exr.writeColour(file, im);
    }

    /** Five exposures of the mirror ball. */
    private static void ball(Stage stage, Path out, Vec3 at, Vec3 camera) throws Exception {
        Files.createDirectories(out);
        Material chrome = material("ball", new float[] {0.78f, 0.78f, 0.79f, 1}, 1, 0.02f);
        Image im = photographed(stage, at, camera, chrome);
        for (int ev : STOPS) {
            Image shot = im.copy();
            float k = (float) Math.pow(2, ev);
            for (float[] p : shot.planes) for (int i = 0; i < p.length; i++) p[i] *= k;
            Stills.writeJpeg(
                    out.resolve(String.format(Locale.ROOT, "ball_%+d_stops.jpg", ev)),
                    Stills.toBuffered(Sensor.expose(shot, 50 + ev), Encoding.SRGB),
                    0.93f);
        }
    }

    /** A dull ball of 18 %, at the normal exposure. */
    private static void greyBall(Stage stage, Path file) {
        Image im = photographed(stage, PLACE, AHEAD, material("grey", new float[] {0.18f, 0.18f, 0.18f, 1}, 0, 1));
        Stills.writeJpeg(file, Stills.toBuffered(Sensor.expose(im, 70), Encoding.SRGB), 0.93f);
    }

    private static Image photographed(Stage stage, Vec3 at, Vec3 camera, Material skin) {
        Shape s = new Shape();
        int n = 48;
        double[] ys = new double[n + 1], rs = new double[n + 1];
        for (int i = 0; i <= n; i++) {
            double a = Math.PI * (i / (double) n - 0.5);
            ys[i] = 0.1 * Math.sin(a);
            rs[i] = i == 0 || i == n ? 0 : 0.1 * Math.cos(a);
        }
        s.put(at.x(), at.y(), at.z(), 0).lathe(ys, rs, 96, 1, 0);
        // Normals of a sphere, exactly.
        for (int i = 0; i < s.vertices; i++) {
            Vec3 d = new Vec3(s.position[3 * i], s.position[3 * i + 1], s.position[3 * i + 2])
                    .minus(at)
                    .unit();
            s.normal[3 * i] = (float) d.x();
            s.normal[3 * i + 1] = (float) d.y();
            s.normal[3 * i + 2] = (float) d.z();
        }
        return stage.still(
                Pose.lookAt(at.plus(camera), at, Vec3.Y),
                new Lens(5200, 280, 280, 0, 0),
                560,
                560,
                List.of(mesh(s, skin)),
                24);
    }

    private static Material material(String name, float[] colour, float metallic, float roughness) {
        return new Material(name, colour, null, metallic, roughness, null, null, 1, new float[3], null, 0, false, true);
    }

    private static Material chartSkin() {
        int cell = 40, w = 6 * cell, h = 4 * cell;
        int[] argb = new int[w * h];
        for (int y = 0; y < h; y++) {
            for (int x = 0; x < w; x++) {
                int u = x % cell, v = y % cell;
                boolean gap = u < 4 || v < 4 || u >= cell - 4 || v >= cell - 4;
                argb[y * w + x] = 0xff000000 | (gap ? 0x101010 : PATCHES[y / cell * 6 + x / cell]);
            }
        }
        return new Material(
                "chart",
                new float[] {1, 1, 1, 1},
                new Texture(w, h, argb, true, true),
                0,
                0.9f,
                null,
                null,
                1,
                new float[3],
                null,
                0,
                false,
                true);
    }

    /** @param side 1 faces +Z, -1 faces -Z */
    private static Shape chartAt(Vec3 c, int side) {
        Shape s = new Shape();
        s.quad(
                c.plus(new Vec3(-0.21 * side, -0.14, 0)),
                c.plus(new Vec3(0.21 * side, -0.14, 0)),
                c.plus(new Vec3(0.21 * side, 0.14, 0)),
                c.plus(new Vec3(-0.21 * side, 0.14, 0)),
                1,
                1);
        return s;
    }

    private static void chart(Stage stage, Vec3 c, Path file) {
        Image im = stage.still(
                Pose.lookAt(c.plus(new Vec3(-0.1, 0.1, 1.1)), c, Vec3.Y),
                new Lens(1100, 360, 240, 0, 0),
                720,
                480,
                List.of(mesh(chartAt(c, 1), chartSkin())),
                16);
        Stills.writeJpeg(file, Stills.toBuffered(Sensor.expose(im, 60), Encoding.REC709), 0.93f);
    }

    private static Mesh mesh(Shape s, Material m) {
        return new Mesh(
                s.positions(),
                s.positions(),
                s.normals(),
                s.normals(),
                s.uvs(),
                s.indices(),
                new int[s.corners / 3],
                new Material[] {m},
                1,
                Mesh.Role.PERFORMER);
    }

    private static void notes(Path file) throws Exception {
        StringBuilder b =
                new StringBuilder("{\"sensorWidthMm\": 24.9, \"lensMm\": 28, \"shutterDeg\": 180, \"rate\": \"24/1\", "
                        + "\"cameraHeightMetres\": 1.62,\n \"ball\": {\"diameterMetres\": 0.2, \"fieldDeg\": 6.17, "
                        + "\"reflectance\": 0.78},\n \"taped\": [");
        String sep = "";
        for (String[] t : Slipway.TAPED) {
            // A tape is read to half a centimetre.
            double d = Math.rint(Slipway.POINTS.get(t[0]).distance(Slipway.POINTS.get(t[1])) * 200) / 200;
            b.append(sep)
                    .append(String.format(
                            Locale.ROOT, "%n  {\"from\": \"%s\", \"to\": \"%s\", \"metres\": %.3f}", t[0], t[1], d));
            sep = ",";
        }
        Files.writeString(file, b + "]}\n");
    }
}
