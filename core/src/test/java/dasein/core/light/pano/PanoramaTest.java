package dasein.core.light.pano;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.ball.Circle;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

class PanoramaTest {
    /** Smooth, and unlike in all directions. */
    private static double[] sky(Vec3 d) {
        return new double[] {1 + 0.5 * d.x(), 1 + 0.5 * d.y(), 1 + 0.4 * d.z() + 0.1 * Math.sin(6 * d.x())};
    }

    private static Image map(int w) {
        Image m = new Image(w, w / 2, 3);
        for (int i = 0; i < w * w / 2; i++) {
            double[] c = sky(Environment.fromUv((i % w + 0.5) / w, (i / w + 0.5) / (w / 2.0)));
            for (int k = 0; k < 3; k++) m.planes[k][i] = (float) c[k];
        }
        return m;
    }

    private static double worst(Image got, Quat turn) {
        double worst = 0;
        for (int i = 0; i < got.width * got.height; i++) {
            double[] c = sky(turn.conjugate()
                    .rotate(Environment.fromUv(
                            (i % got.width + 0.5) / got.width, (i / got.width + 0.5) / (double) got.height)));
            for (int k = 0; k < 3; k++) worst = Math.max(worst, Math.abs(got.planes[k][i] - c[k]));
        }
        return worst;
    }

    @Test
    void cubeFacesBecomeTheMapTheyWereCutFrom() {
        Image m = map(512);
        List<Image> faces = new ArrayList<>();
        for (int k = 0; k < 6; k++) faces.add(CubeFaces.of(m, k, 128));
        assertThat(worst(CubeFaces.latLong(faces, 256), Quat.IDENTITY)).isLessThan(0.02);
        assertThat(CubeFaces.face("set_front.exr")).isZero();
        assertThat(CubeFaces.face("posy.hdr")).isEqualTo(4);
        assertThat(CubeFaces.face("nx.png")).isEqualTo(3);
        assertThat(CubeFaces.face("holiday.png")).isEqualTo(-1);
        assertThatThrownBy(() -> CubeFaces.latLong(faces.subList(0, 5), 256)).hasMessageContaining("six faces");
    }

    @Test
    void fisheyesOfBothSidesJoin() {
        double field = 200, half = Math.toRadians(field) / 2;
        Image[] im = {new Image(300, 280, 3), new Image(300, 280, 3)};
        Circle c = new Circle(152, 141, 135);
        for (int side = 0; side < 2; side++)
            for (int y = 0; y < 280; y++)
                for (int x = 0; x < 300; x++) {
                    double u = (x + 0.5 - c.x()) / c.r(), v = (c.y() - y - 0.5) / c.r(), r = Math.hypot(u, v);
                    if (r > 1) continue;
                    double t = r * half, s = r < 1e-9 ? 0 : Math.sin(t) / r;
                    Vec3 d = new Vec3(s * u, s * v, -Math.cos(t));
                    double[] k = sky(side == 0 ? d : new Vec3(-d.x(), d.y(), -d.z()));
                    for (int j = 0; j < 3; j++) im[side].planes[j][y * 300 + x] = (float) k[j];
                }
        // The round image is found where it is, though it lies beside the middle; a picture without a rim is whole.
        for (Image k : im) {
            Circle f = Fisheyes.found(k);
            assertThat(Math.hypot(f.x() - c.x(), f.y() - c.y())).isLessThan(0.7);
            assertThat(f.r()).isCloseTo(c.r(), within(1.0));
        }
        Image full = new Image(60, 40, 3);
        for (float[] p : full.planes) java.util.Arrays.fill(p, 0.5f);
        assertThat(Fisheyes.found(full)).isEqualTo(Fisheyes.whole(full));
        Image got = Fisheyes.latLong(im[0], c, im[1], c, field, 256);
        assertThat(worst(got, Quat.IDENTITY)).isLessThan(0.02);
        assertThatThrownBy(() -> Fisheyes.latLong(im[0], c, im[1], c, 150, 64)).hasMessageContaining("180");
    }

    @Test
    void tiltedMapsAreLevelledByUprightsAndByTheHorizon() {
        Quat tilt = Quat.axisAngle(new Vec3(1, 0, 0.4).unit(), Math.toRadians(9));
        Image tilted = Turned.by(map(512), tilt);
        assertThat(worst(tilted, tilt)).isLessThan(0.02);
        double[][] lines = new double[3][], places = new double[4][];
        for (int i = 0; i < 3; i++) {
            double a = 0.4 + 1.7 * i;
            double[] low = Environment.toUv(tilt.rotate(new Vec3(Math.sin(a), -0.2, -Math.cos(a)).unit())),
                    high = Environment.toUv(tilt.rotate(new Vec3(Math.sin(a), 0.5, -Math.cos(a)).unit()));
            lines[i] = new double[] {low[0] * 512, low[1] * 256, high[0] * 512, high[1] * 256};
        }
        for (int i = 0; i < 4; i++) {
            double[] p = Environment.toUv(tilt.rotate(new Vec3(Math.sin(1.3 * i), 0, -Math.cos(1.3 * i))));
            places[i] = new double[] {p[0] * 512, p[1] * 256};
        }
        for (Levelling.Result r :
                List.of(Levelling.byVerticals(lines, 512, 256), Levelling.byHorizon(places, 512, 256))) {
            assertThat(r.tiltDeg()).isCloseTo(9, within(0.05));
            assertThat(r.offDeg()).isLessThan(0.05);
            Image up = Turned.by(tilted, r.turn());
            // Upright again; about the vertical it may have turned by what no line tells.
            Vec3 zenith = r.turn().rotate(tilt.rotate(Vec3.Y));
            assertThat(zenith.distance(Vec3.Y)).isLessThan(0.002);
            assertThat(up.planes[1][0]).isCloseTo(1.5f, within(0.02f));
        }
        assertThatThrownBy(() -> Levelling.byVerticals(new double[][] {lines[0]}, 512, 256))
                .hasMessageContaining("two upright");
        assertThatThrownBy(() -> Levelling.byHorizon(new double[][] {places[0], places[0]}, 512, 256))
                .hasMessageContaining("lie apart");
    }

    @Test
    void tripodAndWhatNobodySawAreFilledSoftly() {
        Image m = map(256);
        int down = 127 * 256 + 40;
        for (int c = 0; c < 3; c++) m.planes[c][down] = 0.01f;
        Image p = Levelling.patched(m, 15);
        assertThat(p.planes[1][down]).isBetween(0.45f, 0.75f);
        assertThat(p.planes[1][100 * 256 + 40]).isEqualTo(m.planes[1][100 * 256 + 40]);
        for (int c = 0; c < 3; c++) for (int i = 0; i < 40 * 256; i++) m.planes[c][i] = 0;
        double part = Levelling.filled(m);
        assertThat(part).isCloseTo((1 - Math.cos(Math.PI * 40 / 128)) / 2, within(1e-6));
        assertThat(m.planes[1][0]).isGreaterThan(0.8f);
        assertThatThrownBy(() -> Levelling.filled(new Image(64, 32, 3))).hasMessageContaining("black");
    }
}
