package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.file.CameraFile;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** What a solve says of how far it may be trusted, against how far things really slide in many takes of one shot. */
class ReachTest {
    private static final Pattern SAID =
            Pattern.compile("within ([0-9.]+) px(?:; twice as far off as they reach it may slide by ([0-9.]+) px)?");

    @Test
    void thingsSlideAsFarAsIsSaid() {
        double slid = 0, said = 0, slidFar = 0, saidFar = 0;
        int n = 8;
        for (int seed = 1; seed <= n; seed++) {
            KnownShot k = new KnownShot(
                    48, 120, 0.5, 0, seed, new Lens(1100, 640, 360, -0.05, 0), KnownShot.handHeld(0.6), t -> 1, 3, 9);
            SolvedCamera c = CameraSolver.solve(
                    k.tracks, k.width, k.height, new Rate(24, 1), SolveSettings.UNKNOWN, Progress.NONE);
            String all = String.join(" ", c.remarks());
            Matcher m = SAID.matcher(all);
            assertThat(m.find()).as(all).isTrue();
            said += Double.parseDouble(m.group(1)) / n;
            slid += slide(k, c, 6) / n;
            saidFar += (m.group(2) == null ? Double.parseDouble(m.group(1)) : Double.parseDouble(m.group(2))) / n;
            slidFar += slide(k, c, 18) / n;
        }
        System.out.printf(
                "among marks: slid %.2f px, said %.2f; twice as far: slid %.2f px, said %.2f%n",
                slid, said, slidFar, saidFar);
        // What is said are two standard deviations.
        assertThat(slid).isBetween(0.25 * said, 1.1 * said);
        assertThat(slidFar).isBetween(0.2 * saidFar, 1.1 * saidFar);
    }

    /** Marks from 2 to 12 units away; a unit is half a metre. */
    @Test
    void saysItInMetresWhereTheSizeIsKnown() {
        Reach r = new Reach(2, 12, 0.15, 0.7, 0.2);
        assertThat(r.scaled(0.5).inMetres())
                .isEqualTo("What stands 1.0 to 6.0 m before the camera should stick within 0.3 px; at 0.5 m it may "
                        + "slide by 1.4 px.");
        SolvedCamera c = new SolvedCamera(
                        8,
                        6,
                        new Rate(24, 1),
                        "moving",
                        0.1,
                        5,
                        new Lens(9, 4, 3, 0, 0),
                        List.of(new SolvedCamera.Frame(1, Pose.IDENTITY, 9, 0.1, 20)),
                        List.of())
                .with(r);
        assertThat(c.in(new Similarity(3, Quat.IDENTITY, Vec3.ZERO)).reach()).isEqualTo(r.scaled(3));
        assertThat(CameraFile.fromJson(CameraFile.toJson(c)).reach()).isEqualTo(r);
        Reach open = new Reach(2, 12, 0.15, Double.NaN, Double.NaN);
        assertThat(CameraFile.fromJson(CameraFile.toJson(c.with(open))).reach()).isEqualTo(open);
        assertThat(new Reach(2, 12, Double.NaN, 1, 1).inMetres()).isEmpty();
    }

    /**
     * A thing stands where it is right in the first frame, so far before the middle camera: how far the solved camera
     * sees it from there later, at worst.
     */
    private static double slide(KnownShot k, SolvedCamera c, double distance) {
        SolvedCamera s = c.in(KnownShot.align(c, k.poses));
        // Held at the first camera, as what is said is.
        Pose off = k.poses.get(0).times(s.frames().get(0).pose().inverse());
        Pose mid = k.poses.get(k.poses.size() / 2);
        Vec3 at = mid.toWorld(new Vec3(0, 0, -distance));
        double worst = 0;
        for (SolvedCamera.Frame f : s.frames()) {
            Pose truth = k.poses.get(f.frame() - 1), pose = off.times(f.pose());
            double[] t = k.lens.project(truth.toLocal(at)),
                    p = s.lens(f.frame()).project(pose.toLocal(at));
            if (t == null || p == null || t[0] < 0 || t[1] < 0 || t[0] > k.width || t[1] > k.height) continue;
            worst = Math.max(worst, Math.hypot(t[0] - p[0], t[1] - p[1]));
        }
        return worst;
    }
}
