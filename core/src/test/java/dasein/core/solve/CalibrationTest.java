package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;
import static org.bytedeco.opencv.global.opencv_core.CV_64F;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dasein.core.NoSolution;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.math.Quat;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.bytedeco.javacpp.indexer.DoubleIndexer;
import org.bytedeco.opencv.global.opencv_calib3d;
import org.bytedeco.opencv.opencv_core.Mat;
import org.bytedeco.opencv.opencv_core.MatVector;
import org.bytedeco.opencv.opencv_core.Point2f;
import org.bytedeco.opencv.opencv_core.Point2fVector;
import org.bytedeco.opencv.opencv_core.Point2fVectorVector;
import org.bytedeco.opencv.opencv_core.Point3f;
import org.bytedeco.opencv.opencv_core.Point3fVector;
import org.bytedeco.opencv.opencv_core.Point3fVectorVector;
import org.bytedeco.opencv.opencv_core.Size;
import org.bytedeco.opencv.opencv_core.TermCriteria;
import org.junit.jupiter.api.Test;

class CalibrationTest {
    private static final Path FOLDER =
            Path.of(System.getenv().getOrDefault("DASEIN_PHOTOGRAPHS", "../var/photographs"));

    /**
     * The chessboard set in Debian's opencv-doc, beside its published intrinsics (left_intrinsics.yml) and OpenCV's
     * calibrateCamera on the same corners.
     */
    @Test
    void photographsOfABoardGiveTheirPublishedLens() {
        assumeTrue(Files.exists(FOLDER.resolve("left01.jpg")), "the photographs are not there");
        List<double[][]> boards = new ArrayList<>();
        int photographs = 0;
        for (int i = 1; i <= 14; i++) {
            Path p = FOLDER.resolve(String.format("left%02d.jpg", i));
            if (!Files.exists(p)) continue;
            photographs++;
            Image im = Stills.read(p, Encoding.SRGB);
            float[] l = im.luminance();
            for (int k = 0; k < l.length; k++) l[k] = 255 * (float) Encoding.SRGB.encode(l[k]);
            double[][] b = Chessboard.find(l, im.width, im.height, 9, 6);
            if (b != null) boards.add(b);
        }
        Calibration.Result ours = Calibration.solve(boards, 9, 640, 480, LensTerms.of(true, true, true, true, true));
        Lens l = ours.lens();
        double[] theirs = openCv(boards);
        System.out.printf(
                "board found in %d of %d photographs, %d used; ours f %.2f centre %.2f, %.2f k1 %.4f rms "
                        + "%.3f px; OpenCV f %.2f centre %.2f, %.2f k1 %.4f rms %.3f; published f 535.92 "
                        + "centre 342.78, 236.07 rms 0.393%n",
                boards.size(),
                photographs,
                ours.used(),
                l.focalPx(),
                l.centreX(),
                l.centreY(),
                l.k1(),
                ours.rmsPx(),
                theirs[0],
                theirs[1],
                theirs[2],
                theirs[3],
                theirs[4]);
        assertThat(boards.size()).isGreaterThanOrEqualTo(11);
        assertThat(l.focalPx()).isCloseTo(535.92, within(0.01 * 536));
        assertThat(l.centreX()).isCloseTo(342.78, within(4.0));
        assertThat(l.centreY()).isCloseTo(236.07, within(4.0));
        assertThat(ours.rmsPx()).isLessThan(0.393);
        if (ours.used() == boards.size()) {
            assertThat(l.focalPx()).isCloseTo(theirs[0], within(0.2));
            assertThat(ours.rmsPx()).isLessThan(theirs[4] * 1.001);
        }
    }

    /** Focal length, centre in our pixels, k1, RMS. */
    private static double[] openCv(List<double[][]> boards) {
        Point3fVectorVector objects = new Point3fVectorVector(boards.size());
        Point2fVectorVector images = new Point2fVectorVector(boards.size());
        for (int k = 0; k < boards.size(); k++) {
            Point3fVector o = new Point3fVector(54);
            Point2fVector m = new Point2fVector(54);
            for (int i = 0; i < 54; i++) {
                o.put(i, new Point3f(i % 9, i / 9, 0));
                m.put(i, new Point2f((float) (boards.get(k)[i][0] - 0.5), (float) (boards.get(k)[i][1] - 0.5)));
            }
            objects.put(k, o);
            images.put(k, m);
        }
        Mat camera = Mat.eye(3, 3, CV_64F).asMat(), bent = new Mat();
        double rms = opencv_calib3d.calibrateCamera(
                objects,
                images,
                new Size(640, 480),
                camera,
                bent,
                new MatVector(),
                new MatVector(),
                opencv_calib3d.CALIB_FIX_ASPECT_RATIO,
                new TermCriteria(3, 100, 1e-10));
        DoubleIndexer c = camera.createIndexer(), b = bent.createIndexer();
        return new double[] {c.get(0, 0), c.get(0, 2) + 0.5, c.get(1, 2) + 0.5, b.get(0, 0), rms};
    }

    @Test
    void aKnownLensIsFoundFromDrawnBoards() {
        Lens truth = new Lens(900, 650, 352, -0.12, 0.03, 0, 0.0008, -0.0005);
        Random r = new Random(3);
        List<double[][]> boards = new ArrayList<>();
        for (int k = 0; k < 12; k++) {
            Rigid c = new Rigid(
                    Quat.fromRotationVector(
                                    0.7 * r.nextDouble() - 0.35, 0.9 * r.nextDouble() - 0.45, 0.4 * r.nextDouble())
                            .matrix(),
                    new double[] {4 + 2 * r.nextDouble() - 1, 2.5 + 2 * r.nextDouble() - 1, -8 - 3 * r.nextDouble()});
            double[][] b = new double[54][];
            for (int i = 0; i < 54; i++) {
                double[] q = c.toCamera(new double[] {i % 9, i / 9, 0, 1}),
                        p = truth.distortToPixel(q[0] / q[2], q[1] / q[2]);
                b[i] = new double[] {p[0] + 0.1 * r.nextGaussian(), p[1] + 0.1 * r.nextGaussian()};
            }
            boards.add(b);
        }
        Calibration.Result s = Calibration.solve(boards, 9, 1280, 720, LensTerms.FIND);
        assertThat(s.lens().focalPx()).isCloseTo(900, within(1.5));
        assertThat(s.lens().centreX()).isCloseTo(650, within(2.0));
        assertThat(s.lens().k1()).isCloseTo(-0.12, within(0.006));
        assertThat(s.rmsPx()).isCloseTo(0.14, within(0.02));
        assertThatThrownBy(() -> Calibration.solve(boards.subList(0, 2), 9, 1280, 720, LensTerms.FIND))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("2 photographs");
    }

    @Test
    void noBoardIsNoBoard() {
        Random r = new Random(1);
        float[] noise = new float[320 * 240];
        for (int i = 0; i < noise.length; i++) noise[i] = 255 * r.nextFloat();
        assertThat(Chessboard.find(noise, 320, 240, 9, 6)).isNull();
    }
}
