package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.format.Exr;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.ball.Circle;
import dasein.core.light.pano.CubeFaces;
import dasein.core.light.pano.Fisheyes;
import dasein.core.light.pano.Levelling;
import dasein.core.light.pano.Turned;
import dasein.core.light.photo.PhotoFolder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

@Command(name = "pano", description = "A level map from a panorama: lat-long, six cube faces or two fisheyes.")
final class LightPanoCommand implements Callable<Integer> {
    @Option(names = "--in", required = true, description = "a lat-long picture, or a folder of cube faces")
    Path in;

    @Option(names = "--back", description = "the second fisheye picture; --in is then the first")
    Path back;

    @Option(names = "--field-deg", defaultValue = "190", description = "of the fisheyes, from rim to rim")
    double field;

    @Option(names = "--circle", description = "x,y,r of the fisheyes' round image; else it is found")
    String circle;

    @Option(names = "--verticals", description = "x,y,x,y;..: upright lines in the map, pixels")
    String verticals;

    @Option(names = "--horizon", description = "x,y;x,y;..: places of the horizon in the map, pixels")
    String horizon;

    @Option(names = "--tripod-deg", description = "what lies so near to straight down is filled in")
    Double tripod;

    @Option(names = "--size", description = "width of the map; a lat-long picture's own without")
    Integer size;

    @Option(names = "--out", required = true)
    Path out;

    @Override
    public Integer call() {
        if (size != null) LightCommand.checkSize(size);
        Image map = laid();
        double black = Levelling.filled(map);
        if (black > 0)
            System.err.printf("%.1f %% of the sphere was seen by no picture and is filled in%n", 100 * black);
        if (verticals != null || horizon != null) {
            Levelling.Result r = verticals != null
                    ? Levelling.byVerticals(groups(verticals, 4, "--verticals"), map.width, map.height)
                    : Levelling.byHorizon(groups(horizon, 2, "--horizon"), map.width, map.height);
            map = Turned.by(map, r.turn());
            System.err.printf(
                    "it was tilted by %.2f degrees; what was drawn misses by %.2f%n", r.tiltDeg(), r.offDeg());
        }
        if (tripod != null) map = Levelling.patched(map, tripod);
        Exr.writeColour(out, map);
        return 0;
    }

    private Image laid() {
        if (back != null) {
            Image a = read(in), b = read(back);
            return Fisheyes.latLong(a, round(a), b, round(b), field, size == null ? 2048 : size);
        }
        if (Files.isDirectory(in)) {
            Image[] faces = new Image[6];
            for (Path p : PhotoFolder.of(in)) {
                int k = CubeFaces.face(p.getFileName().toString());
                if (k >= 0) faces[k] = read(p);
            }
            List<Image> all = new ArrayList<>();
            for (Image f : faces) if (f != null) all.add(f);
            if (all.size() != 6)
                throw new BadInput("the folder " + in
                        + " does not hold the six faces front, right, back, left, up and down by their names");
            return CubeFaces.latLong(all, size == null ? Math.min(8192, 4 * all.get(0).width) : size);
        }
        Image m = read(in);
        if (Math.abs(m.width - 2 * m.height) > 2)
            throw new BadInput(in.getFileName() + " is " + m.width + " x " + m.height
                    + "; a lat-long picture is twice as wide as high");
        return size == null || size == m.width ? m : m.resize(size, size / 2);
    }

    private static Image read(Path p) {
        return Stills.read(p, Encoding.SRGB);
    }

    private Circle round(Image im) {
        return circle == null ? Fisheyes.found(im) : LightCommand.circle(circle, "--circle");
    }

    private static double[][] groups(String s, int n, String option) {
        return Arrays.stream(s.split(";"))
                .map(g -> {
                    double[] v = Console.numbers(g, option);
                    if (v.length != n)
                        throw new BadInput(option + " must be groups of " + n + " numbers with ; between");
                    return v;
                })
                .toArray(double[][]::new);
    }
}
