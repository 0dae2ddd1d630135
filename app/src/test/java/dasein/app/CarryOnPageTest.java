package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.store.Media;
import dasein.app.store.ModelShelf;
import dasein.core.cast.Performer;
import dasein.core.model.file.ModelFile;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

/** From footage to a stand-in in its light by one press; where somebody must decide, a sentence and a button. */
class CarryOnPageTest extends BrowserTest {
    private void footage(String name, int last) throws Exception {
        Media plate;
        try (InputStream in = Files.newInputStream(Path.of("demo/" + name + ".mp4"))) {
            plate = media.plate(in, name + ".mp4");
        }
        try (InputStream in = Files.newInputStream(Path.of("demo/models/crate.glb"))) {
            shelf.bring(List.of(new ModelShelf.Sent("crate.glb", in)), ModelFile.Reading.GUESS);
        }
        shot = shots.create(
                "Low Water",
                "Carried " + name,
                ShotJson.read("{\"plate\": {\"file\": \"" + plate.hash() + "\", \"last\": " + last + "}}"));
        browser.get(address("/shots/" + shot + "/plate"));
        await("it can be carried on", () -> browser.findElement(By.id("carry-on"))
                .isEnabled());
        browser.findElement(By.id("carry-on")).click();
    }

    @Test
    void onePressLeavesOrdinaryRevisionsAndAPerformerThatStands() throws Exception {
        footage("LW_040", 24);
        await("it is carried on", () -> shown("bench").contains("stands in"));
        assertThat(browser.findElements(By.id("carry-on"))).isEmpty();
        for (String s : new String[] {"tracks", "camera", "blocking", "light"})
            assertThat(state(s)).as(s).isEqualTo("fresh");
        Shot now = shots.head(shot).shot();
        assertThat(now.performers()).hasSize(1);
        Performer p = now.performers().get(0);
        assertThat(p.heightMetres()).isEqualTo(1.8);
        assertThat(now.light().environment()).isNotEmpty();
        // It stands where the catcher catches its shadow, and in the picture.
        assertThat(Math.abs(p.x() - now.set().catcher().x())).isLessThan(0.5);
        browser.get(address("/shots/" + shot + "/blocking"));
        await("the picture shows it", () -> data().path("performers").size() == 1);
        // Each step can be undone by itself.
        await("undo can be pressed", () -> browser.findElement(By.id("undo")).isEnabled());
        js("document.getElementById('undo').click()");
        await(
                "the performer is gone",
                () -> shots.head(shot).shot().performers().isEmpty());
        assertThat(shots.head(shot).shot().light().environment()).isNotEmpty();
    }

    /** LW_050 is from a tripod: nobody but a person can say what its lines are. */
    @Test
    void itStopsWhereSomebodyMustDecide() throws Exception {
        footage("LW_050", 8);
        await("it says why it stops", () -> shown("bench").contains("stands still"));
        assertThat(shots.head(shot).shot().performers()).isEmpty();
        browser.get(address("/shots/" + shot + "/camera"));
        startAndAwait("the camera's own sentence", () -> !browser.findElements(
                        By.xpath("//button[normalize-space()='Take it as standing']"))
                .isEmpty());
        browser.findElement(By.xpath("//button[normalize-space()='Take it as standing']"))
                .click();
        await("it is taken so", () -> shots.head(shot).shot().camera().locked());
    }
}
