package dasein.app.scene;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.ServerTest;
import dasein.core.shot.Turntable;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

class ShelfPicturesTest extends ServerTest {
    private static final long LONG = 60_000;

    @Autowired
    private ShelfPictures pictures;

    /** Its first side is there without anybody having asked; all of them once somebody has. */
    @Test
    void aModelIsSeenAsSoonAsItHasCome() throws Exception {
        String hash = model("keg");
        Path front = media.result("shelf", hash + "-front.png");
        for (int i = 0; i < 600 && !Files.exists(front); i++) Thread.sleep(50);
        BufferedImage first = ImageIO.read(front.toFile());
        assertThat(first.getWidth()).isEqualTo(Turntable.VIEWS * Turntable.WIDTH);
        ShelfPictures.Picture p = pictures.ofModel(hash, LONG);
        for (int i = 0; i < 600 && !p.all(); i++) {
            Thread.sleep(50);
            p = pictures.ofModel(hash, LONG);
        }
        assertThat(p.all()).isTrue();
        byte[] sent = client.bytes("/shelf/" + hash + ".png").body();
        BufferedImage all = ImageIO.read(new ByteArrayInputStream(sent));
        int x = Turntable.WIDTH / 2, y = Turntable.HEIGHT / 2, away = 3 * Turntable.WIDTH;
        assertThat(all.getRGB(x, y)).isEqualTo(first.getRGB(x, y));
        assertThat(first.getRGB(x + away, y)).isEqualTo(first.getRGB(x, y));
    }

    @Test
    void aPictureThatComesAlongIsTaken() throws Exception {
        Path given = Path.of("demo/pictures/plank.png");
        String hash = "0".repeat(64);
        pictures.give(hash, given);
        ShelfPictures.Picture p = pictures.ofModel(hash, 0);
        assertThat(p.all()).isTrue();
        assertThat(p.file()).hasSameBinaryContentAs(given);
    }
}
