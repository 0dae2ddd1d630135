package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.model.Model;
import dasein.core.model.file.ModelReader;
import java.awt.image.BufferedImage;
import java.nio.file.Files;
import java.nio.file.Path;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;

/** The shelf's pictures: every side of a model, whole, and of the right shape. */
class TurntableTest {
    private static final int W = 56, H = 42, VIEWS = 4;

    private static boolean empty(BufferedImage im, int x, int y) {
        int rgb = im.getRGB(x, y) & 0xffffff, ground = im.getRGB(0, 0) & 0xffffff;
        int far = 0;
        for (int c = 0; c < 24; c += 8) far = Math.max(far, Math.abs((rgb >> c & 255) - (ground >> c & 255)));
        return far < 6;
    }

    @Test
    void everySideIsSeenWhole() {
        for (String name : new String[] {"strider", "mule", "crate", "skimmer"}) {
            Model m = ModelReader.read(Path.of("demo/models/" + name + ".glb"));
            BufferedImage im = Turntable.strip(m, VIEWS, W, H);
            assertThat(im.getWidth()).isEqualTo(VIEWS * W);
            assertThat(im.getHeight()).isEqualTo(H);
            for (int k = 0; k < VIEWS; k++) {
                int shown = 0, cut = 0;
                for (int y = 0; y < H; y++)
                    for (int x = 0; x < W; x++) {
                        if (empty(im, k * W + x, y)) continue;
                        shown++;
                        if (x == 0 || y == 0 || x == W - 1 || y == H - 1) cut++;
                    }
                assertThat(shown).as(name + ", side " + k).isGreaterThan(W * H / 40);
                assertThat(cut).as(name + ", side " + k + " reaches the border").isZero();
            }
        }
    }

    /** A mule is longer than wide: from ahead it is seen narrower than from aside. */
    @Test
    void sidesDiffer() {
        BufferedImage im = Turntable.strip(ModelReader.read(Path.of("demo/models/mule.glb")), 2, W, H);
        int differ = 0;
        for (int y = 0; y < H; y++) for (int x = 0; x < W; x++) if (im.getRGB(x, y) != im.getRGB(W + x, y)) differ++;
        assertThat(differ).isGreaterThan(W * H / 50);
    }

    /** Those that come with the demo are of the models that come with it. */
    @Test
    void picturesOfTheDemoAreOfItsModels() throws Exception {
        try (var models = Files.list(Path.of("demo/models"))) {
            for (Path p : models.toList()) {
                String name = p.getFileName().toString().replace(".glb", ".png");
                BufferedImage kept = ImageIO.read(Path.of("demo/pictures", name).toFile());
                int w = Turntable.WIDTH, h = Turntable.HEIGHT;
                assertThat(kept.getWidth()).as(name).isEqualTo(Turntable.VIEWS * w);
                assertThat(kept.getHeight()).as(name).isEqualTo(h);
                BufferedImage now = Turntable.strip(ModelReader.read(p), Turntable.VIEWS, 1, w, h);
                double off = 0, same = 0;
                for (int y = 0; y < h; y++)
                    for (int x = 0; x < w; x++) {
                        off += Math.abs((kept.getRGB(x, y) >> 8 & 255) - (now.getRGB(x, y) >> 8 & 255));
                        same += Math.abs((now.getRGB(w + x, y) >> 8 & 255) - (now.getRGB(x, y) >> 8 & 255));
                    }
                assertThat(off / (w * h)).as(name).isLessThan(2);
                // What was not looked at is the first side again.
                assertThat(same).isZero();
            }
        }
    }
}
