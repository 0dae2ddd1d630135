package dasein.app.stage.comp;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.app.ServerTest;
import dasein.app.stage.passes.PassesWork;
import dasein.core.Progress;
import dasein.core.comp.Window;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.shot.Shot;
import java.io.ByteArrayInputStream;
import java.net.http.HttpResponse;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** While a slider is held the picture is what the number would make of it, and nothing is kept. */
class TryingTest extends ServerTest {
    @Autowired
    PassesWork work;

    @Test
    void aNumberIsTriedWithoutBeingKept() throws Exception {
        Shot s = plated();
        solve(s, "moving");
        s = edit(s, "blocking", "add", "model", model("crate"), "x", "0.2", "z", "-4")
                .shot();
        s = edit(s, "passes", "settings", "minSamples", "4", "maxSamples", "4").shot();
        work.render(s, 2, Progress.NONE);
        long id = make(s), head = shots.head(id).revision().id();
        String picture = "/shots/" + id + "/comp/2/tried.jpg?number=gain&value=";
        HttpResponse<byte[]> bright = client.bytes(picture + 3), rest = client.bytes(picture + 1);
        assertThat(bright.statusCode()).isEqualTo(200);
        // As much brighter, in code values over the frame, as it comes out when it is kept.
        Encoding shown = desk.plates().facts(s).colour().shown();
        Image kept = desk.comps().frame(edit(s, "comp", "edit", "gain", "3").shot(), 2);
        double by = light(kept, shown) - light(desk.comps().frame(s, 2), shown);
        assertThat(by).isGreaterThan(0.3);
        assertThat(light(bright) - light(rest)).isCloseTo(by, within(0.2 * by));
        assertThat(shots.head(id).revision().id()).isEqualTo(head);
        // A part alone is that part, where the answer says.
        HttpResponse<byte[]> part = client.bytes(picture + 3 + "&look=0.25,0.25,0.75,0.75,1");
        var seen = ImageIO.read(new ByteArrayInputStream(part.body()));
        assertThat(seen.getWidth()).isEqualTo(kept.width / 2);
        assertThat(seen.getHeight()).isEqualTo(kept.height / 2);
        assertThat(part.headers().firstValue("X-Part")).hasValue("0.25,0.25,0.75,0.75");
        Image there = new Window(kept.width / 4, kept.height / 4, kept.width / 2, kept.height / 2).of(kept);
        assertThat(light(part)).isCloseTo(light(there, shown), within(1.0));
        assertThat(client.bytes(picture + 3 + "&look=0,0,1").statusCode()).isEqualTo(422);
        // Beyond what is accepted the nearest that is.
        assertThat(client.bytes(picture + 1e9).body())
                .isEqualTo(client.bytes(picture + 20).body());
        assertThat(client.bytes(picture + "NaN").statusCode()).isEqualTo(422);
        assertThat(client.bytes("/shots/" + id + "/comp/2/tried.jpg?number=none&value=1")
                        .statusCode())
                .isEqualTo(404);
        assertThat(client.bytes("/shots/" + id + "/comp/3/tried.jpg?number=gain&value=1")
                        .statusCode())
                .isEqualTo(404);
    }

    private static double light(HttpResponse<byte[]> jpeg) throws Exception {
        var im = ImageIO.read(new ByteArrayInputStream(jpeg.body()));
        double sum = 0;
        for (int y = 0; y < im.getHeight(); y++)
            for (int x = 0; x < im.getWidth(); x++) sum += im.getRGB(x, y) >> 8 & 255;
        return sum / im.getWidth() / im.getHeight();
    }

    private static double light(Image im, Encoding shown) {
        double sum = 0;
        for (float v : im.planes[1]) sum += shown.encode8(v);
        return sum / im.planes[1].length;
    }
}
