package dasein.core.light.pano;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Sun;
import dasein.core.math.Vec3;

/**
 * A look into a lat-long map as through a lens without distortion, held level.
 *
 * @param azimuthDeg of its middle, 0 along -Z and 90 along +X; @param elevationDeg -90 to 90; @param fieldDeg across
 *     its width
 */
public record MapView(double azimuthDeg, double elevationDeg, double fieldDeg) {
    public MapView {
        if (!(Math.abs(azimuthDeg) <= 3600 && Math.abs(elevationDeg) <= 90 && fieldDeg >= 2 && fieldDeg <= 150))
            throw new BadInput("a look into a map needs a field between 2 and 150 degrees");
    }

    /** Each pixel from the map's four nearest texels, which wrap round; scene-linear as the map is. */
    public Image of(Image map, int width, int height) {
        Vec3[] axes = axes();
        double half = Math.tan(Math.toRadians(fieldDeg) / 2);
        Image out = new Image(width, height, 3);
        int w = map.width;
        Image.rows(height, y -> {
            double v = (1 - 2 * (y + 0.5) / height) * half * height / width;
            for (int x = 0; x < width; x++) {
                double u = (2 * (x + 0.5) / width - 1) * half;
                double[] uv = Environment.toUv(
                        axes[0].plus(axes[1].times(u)).plus(axes[2].times(v)).unit());
                double px = uv[0] * w, py = uv[1] * map.height;
                // Half a texel from the seam both of its sides count.
                double over = px < 0.5 ? 0.5 - px : px > w - 0.5 ? px - (w - 0.5) : 0;
                for (int c = 0; c < 3; c++) {
                    float a = map.sample(px, py, c);
                    out.planes[c][y * width + x] =
                            over == 0 ? a : (float) ((1 - over) * a + over * map.sample(w - px, py, c));
                }
            }
        });
        return out;
    }

    /** Ahead, right, up. */
    private Vec3[] axes() {
        double a = Math.toRadians(azimuthDeg), e = Math.toRadians(elevationDeg);
        Vec3 ahead = Sun.direction(e, a), right = new Vec3(Math.cos(a), 0, Math.sin(a));
        return new Vec3[] {ahead, right, right.cross(ahead)};
    }
}
