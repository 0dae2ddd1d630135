package dasein.app.command;

import dasein.core.format.Exr;
import dasein.core.light.Sun;
import dasein.core.light.sky.SkyModel;
import dasein.core.light.sky.SunDisc;
import dasein.core.math.Vec3;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

@Command(name = "sky", description = "A clear or overcast sky to begin with (Preetham and others 1999).")
final class LightSkyCommand implements Callable<Integer> {
    @Option(names = "--azimuth-deg", description = "of the sun: 0 along -Z, 90 along +X")
    double azimuth;

    @Option(names = "--elevation-deg", defaultValue = "40")
    double elevation;

    @Option(names = "--turbidity", defaultValue = "3", description = "2 very clear to 10 haze")
    double turbidity;

    @Option(names = "--overcast", defaultValue = "0", description = "0 clear to 1 closed")
    double overcast;

    @Option(names = "--ground", defaultValue = "0.3,0.28,0.25", description = "its reflectance, red,green,blue")
    String ground;

    @Option(names = "--sun-ratio", defaultValue = "0", description = "lit over shaded level ground; 0: no sun in it")
    double ratio;

    @Option(names = "--size", defaultValue = "1024")
    int size;

    @Option(names = "--out", required = true)
    Path out;

    @Override
    public Integer call() {
        LightCommand.checkSize(size);
        Vec3 s = Sun.direction(Math.toRadians(elevation), Math.toRadians(azimuth));
        Exr.writeColour(
                out,
                SunDisc.sky(
                        new SkyModel(s, turbidity, overcast), s, LightCommand.tint(ground, "--ground"), ratio, size));
        return 0;
    }
}
