package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.format.Exr;
import dasein.core.image.Image;
import dasein.core.light.ball.BallMap;
import dasein.core.light.ball.BallPhotos;
import dasein.core.light.ball.Circle;
import dasein.core.light.ball.SunMend;
import dasein.core.light.chart.Chart;
import dasein.core.light.photo.Bracket;
import dasein.core.light.photo.Merge;
import dasein.core.light.photo.Photo;
import dasein.core.light.photo.PhotoFolder;
import dasein.core.light.photo.Placing;
import dasein.core.light.photo.Registration;
import dasein.core.light.photo.Response;
import dasein.core.light.photo.ResponseFit;
import java.nio.file.Path;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

@Command(
        name = "light",
        description = "The light on set: from photographs, from the plate, from shadows, from place and time.",
        subcommands = {
            LightSunCommand.class,
            LightLevelCommand.class,
            LightPlateCommand.class,
            LightSkyCommand.class,
            LightPanoCommand.class
        })
public final class LightCommand {
    @Command(description = "A lat-long map from photographs of a mirror ball.")
    int ball(
            @Option(names = "--photos", required = true, description = "folder of one view's exposures") Path photos,
            @Option(names = "--second", description = "folder of another view's, from about a quarter round")
                    Path second,
            @Option(names = "--stops", description = "over normal, one a photograph in the order of their names")
                    String stops,
            @Option(names = "--second-stops", description = "where the second view's are others") String secondStops,
            @Option(names = "--response", description = "response.json of the camera; linear; srgb") String response,
            @Option(names = "--circle", description = "x,y,r in pixels of the first view") String circle,
            @Option(names = "--second-circle", description = "x,y,r in pixels of the second view") String secondCircle,
            @Option(
                            names = "--reflectance",
                            defaultValue = "1",
                            description = "of the ball: one number, or red,green,blue")
                    String reflectance,
            @Option(names = "--field-deg", description = "across the photograph's width") Double field,
            @Option(names = "--ortho", description = "the camera was far away: all rays parallel") boolean ortho,
            @Option(names = "--size", defaultValue = "1024", description = "width of the map") int size,
            @Option(names = "--sun-ratio", description = "of a sun that is cut off: lit over shaded level ground")
                    Double sunRatio,
            @Option(names = "--sun-level", description = "of a sun that is cut off: irradiance on what faces it")
                    Double sunLevel,
            @Option(names = "--sun-flare", description = "of a sun that is cut off: by the glow around it")
                    boolean sunFlare,
            @Option(names = "--out", required = true) Path out) {
        checkSize(size);
        double[] tint = tint(reflectance, "--reflectance");
        Bracket first = bracket(photos, stops);
        BallPhotos.Camera camera = camera(first, field, ortho);
        Response known = response(response);
        BallPhotos a = BallPhotos.of(first, known, circle(circle, "--circle"), camera, Console.progress());
        said("first view", a);
        BallPhotos b = null;
        if (second != null) {
            Bracket other = bracket(second, secondStops != null ? secondStops : stops);
            // It is the same camera: its response was found.
            b = BallPhotos.of(
                    other,
                    a.response(),
                    circle(secondCircle, "--second-circle"),
                    camera(other, field, ortho),
                    Console.progress());
            said("second view", b);
        }
        if (sunFlare) {
            a = a.sunByFlare();
            if (b != null) b = b.sunByFlare();
        }
        List<BallMap.Turned> views = BallMap.joined(a, b);
        if (b != null)
            System.err.printf(
                    "the second view is turned by %.2f degrees and %.2f stops brighter%n",
                    Math.toDegrees(views.get(1).toView().angleTo(dasein.core.math.Quat.IDENTITY)),
                    -Math.log(views.get(1).gain()) / Math.log(2));
        BallMap.Result m = BallMap.of(views, tint, size);
        Image map = m.map();
        if (sunRatio != null || sunLevel != null) {
            SunMend.Mended s = sunLevel != null
                    ? SunMend.byLevel(map, m.clipped(), sunLevel)
                    : SunMend.byRatio(map, m.clipped(), sunRatio);
            map = s.map();
            System.err.printf("the sun gives %.3f to what faces it%n", s.irradiance());
        }
        Exr.writeColour(out, map);
        System.err.printf(
                "%d x %d; %.1f %% of the directions are seen by no view and filled in%n",
                m.map().width, m.map().height, 100 * m.inventedPart());
        for (String s : m.clippedSaid()) System.err.println(s);
        return 0;
    }

    @Command(description = "Exposures of one view merged, and the camera's response.")
    int merge(
            @Option(names = "--photos", required = true, description = "folder") Path photos,
            @Option(names = "--stops", description = "over normal, one a photograph in the order of their names")
                    String stops,
            @Option(names = "--response", description = "response.json, linear or srgb instead of finding it")
                    String response,
            @Option(names = "--out", required = true) Path out,
            @Option(names = "--response-out") Path responseOut) {
        Bracket b = bracket(photos, stops);
        List<Placing> placings = Registration.of(b);
        b = b.placed(placings);
        Response r = response(response);
        if (r == null) r = ResponseFit.of(b);
        Merge.Result m = Merge.of(b, r);
        Exr.writeColour(out, m.light());
        if (responseOut != null) r.write(responseOut);
        int clipped = 0;
        for (boolean c : m.clipped()) if (c) clipped++;
        for (int i = 0; i < placings.size(); i++)
            if (!placings.get(i).none())
                System.err.printf(
                        "%s was shifted by %.1f, %.1f pixels and turned by %.2f degrees%n",
                        b.photos().get(i).name,
                        placings.get(i).dx(),
                        placings.get(i).dy(),
                        Math.toDegrees(placings.get(i).turn()));
        System.err.printf(
                "%d photographs of %d x %d; %.2f %% cut off in all of them; something moved in %.2f %%%n",
                b.photos().size(), b.width(), b.height(), 100.0 * clipped / m.clipped().length, 100 * m.moved());
        return 0;
    }

    @Command(
            description = "The matrix from a photograph's light to scene-linear Rec. 709, by the 24-patch chart in it.")
    int chart(
            @Option(names = "--photo", required = true) Path photo,
            @Option(names = "--corners", description = "x,y,x,y,x,y,x,y: the chart's corners, going round")
                    String corners,
            @Option(names = "--response", description = "response.json, linear or srgb; else by the chart's greys")
                    String response,
            @Option(names = "--out", required = true, description = "chart.json") Path out) {
        Chart c = Chart.of(Photo.read(photo), response(response), corners(corners));
        c.write(out);
        System.err.printf(
                "24 patches (%s): mean %.2f, worst %.2f (CIEDE2000); lit unevenly by %.2f stops%s%n",
                c.edition().said,
                c.fit().mean(),
                c.fit().worst(),
                c.fit().uneven(),
                c.encoding() == null ? "" : "; read as " + c.encoding().label);
        if (Math.abs(c.turnDeg()) > 100) System.err.println("the chart stands upside down; it was read so");
        return 0;
    }

    private static double[][] corners(String s) {
        if (s == null) return null;
        double[] v = Console.numbers(
                s.replaceAll("[\\[\\];\\s]+", ",").replaceAll("^,|,$", "").replaceAll(",+", ","), "--corners");
        if (v.length != 8) throw new BadInput("--corners must be eight numbers, x,y of four corners, not " + s);
        return new double[][] {{v[0], v[1]}, {v[2], v[3]}, {v[4], v[5]}, {v[6], v[7]}};
    }

    private static Bracket bracket(Path folder, String stops) {
        List<Photo> photos =
                PhotoFolder.of(folder).parallelStream().map(Photo::read).toList();
        return Bracket.of(photos, stops == null ? null : Console.numbers(stops, "--stops"));
    }

    private static BallPhotos.Camera camera(Bracket b, Double field, boolean ortho) {
        if (ortho && field != null) throw new BadInput("--ortho and --field-deg exclude each other");
        if (field != null) {
            if (!(field > 0 && field < 175)) throw new BadInput("--field-deg must lie between 0 and 175");
            return new BallPhotos.Camera(Math.toRadians(field));
        }
        double noted = ortho ? 0 : b.photos().get(0).exif.field();
        if (!ortho)
            System.err.println(
                    noted > 0
                            ? "field of view as the camera wrote down: " + Math.round(Math.toDegrees(noted))
                                    + " degrees"
                            : "nobody said the field of view; the camera is taken to have stood far away");
        return new BallPhotos.Camera(noted);
    }

    private static Response response(String of) {
        if (of == null) return null;
        return switch (of) {
            case "linear" -> Response.LINEAR;
            case "srgb" -> Response.SRGB;
            default -> Response.read(Path.of(of));
        };
    }

    static Circle circle(String s, String option) {
        if (s == null) return null;
        double[] v = Console.numbers(s, option);
        if (v.length != 3 || !(v[2] > 4)) throw new BadInput(option + " must be x,y,r in pixels, not " + s);
        return new Circle(v[0], v[1], v[2]);
    }

    static double[] tint(String s, String option) {
        double[] v = Console.numbers(s, option);
        if (v.length == 1) v = new double[] {v[0], v[0], v[0]};
        for (double r : v)
            if (v.length != 3 || !(r > 0 && r <= 1))
                throw new BadInput(option + " must be one number above 0 and up to 1, or three, not " + s);
        return v;
    }

    static void checkSize(int size) {
        if (size < 16 || size > 8192 || size % 2 != 0)
            throw new BadInput("--size must be an even number from 16 to 8192, not " + size);
    }

    /** Mean light about a place in a picture. */
    static double[] mean(Image im, double x, double y, double radius, String what) {
        if (!(x >= 0 && y >= 0 && x <= im.width && y <= im.height))
            throw new BadInput(what + " lies outside the picture");
        double[] out = new double[3];
        int n = (int) Math.max(1, Math.min(50, 2 * radius));
        for (int k = 0; k < n * n; k++)
            for (int c = 0; c < 3; c++)
                out[c] +=
                        im.sample(x + radius * (2 * (k % n + 0.5) / n - 1), y + radius * (2 * (k / n + 0.5) / n - 1), c)
                                / (n * n);
        return out;
    }

    private static void said(String view, BallPhotos p) {
        System.err.printf(
                "%s: ball at %.1f, %.1f with radius %.1f px, %.1f degrees across%n",
                view,
                p.circle().x(),
                p.circle().y(),
                p.circle().r(),
                Math.toDegrees(2 * p.view().halfAngle()));
    }
}
