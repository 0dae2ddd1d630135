package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.format.MovieReader;
import dasein.core.image.Encoding;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.interactions.Actions;
import org.openqa.selenium.support.ui.Select;

/** One person takes the demo plate from footage to a finished movie in the browser. */
class WholeWayTest extends BrowserTest {
    /** Two frames only; the bench may be exchanged by an edit that is still on its way. */
    private void typeRangeEnd() {
        // Let the edits before this one come back.
        settled();
        await("the range ends at 2", () -> {
            WebElement to = browser.findElement(By.name("to"));
            to.clear();
            to.sendKeys("2");
            settled();
            return browser.findElement(By.name("to")).getAttribute("value").equals("2");
        });
    }

    @Test
    void fromPlateToMovie() throws Exception {
        openDemo("plate");
        await("the short range shows", () -> browser.findElement(By.cssSelector(".proof .fig"))
                .getText()
                .startsWith("24"));

        stage("tracks");
        type("count", "300");
        await("free to start", () -> browser.findElement(By.id("start")).isEnabled());
        startAndAwait("tracks are there", () -> state("tracks").equals("fresh"));
        stage("camera");
        await("free to start", () -> browser.findElement(By.id("start")).isEnabled());
        startAndAwait("the camera is solved", () -> state("camera").equals("fresh"));
        await("the proof shows", () -> browser.findElement(By.cssSelector(".proof .fig"))
                .getText()
                .contains("px RMS over 24 frames"));
        assertThat(Double.parseDouble(
                        browser.findElement(By.cssSelector(".proof .fig span")).getText()))
                .isLessThan(0.6);
        placed();
        rendered();
        measuredAndWritten();
    }

    private void placed() {
        stage("blocking");
        browser.findElement(By.cssSelector("[data-add=strider]")).click();
        await("the strider is placed", () -> state("blocking").equals("fresh"));
        String before = browser.findElement(By.name("x")).getAttribute("value");
        await("it can be taken hold of on the plan", () -> !browser.findElements(
                        By.cssSelector("#plan [data-performer]"))
                .isEmpty());
        await("dragged on the plan", () -> {
            new Actions(browser)
                    .dragAndDropBy(browser.findElement(By.cssSelector("#plan [data-performer]")), 14, 6)
                    .perform();
            settled();
            return !browser.findElement(By.name("x")).getAttribute("value").equals(before);
        });
        press("undo");
        await(
                "undone",
                () -> browser.findElement(By.name("x")).getAttribute("value").equals(before));
        press("redo");
        await(
                "redone",
                () -> !browser.findElement(By.name("x")).getAttribute("value").equals(before));
    }

    /** The top line may be exchanged between finding a button and pressing it: how everything stands is looked at. */
    private void press(String id) {
        await(id + " is pressed", () -> {
            browser.findElement(By.id(id)).click();
            return true;
        });
    }

    private void rendered() {
        stage("passes");
        new Select(browser.findElement(By.name("size"))).selectByValue("0.25");
        await("quarter size", () -> shown("rev").contains("pass settings"));
        type("maxSamples", "16");
        type("minSamples", "4");
        typeRangeEnd();
        startAndAwait("two frames are rendered", () -> browser.findElement(By.cssSelector(".proof .fig span"))
                .getText()
                .equals("2"));

        stage("comp");
        await("a finished frame is shown", () -> "comp"
                .equals(browser.findElement(By.id("badge")).getText()));
        assertThat((Boolean) js("const g = document.getElementById('picture').getContext('2d'), d = "
                        + "g.getImageData(300, 200, 40, 40).data; return d.some((v, "
                        + "i) => i % 4 < 3 && v > 20)"))
                .isTrue();
        // What is shown is kept, and lies beside what is shown next until nobody compares any more.
        browser.findElement(By.id("keep")).click();
        await("it is kept", () -> browser.findElement(By.cssSelector(".wipe span"))
                .getText()
                .equals("kept: comp as it is now, in every frame"));
        browser.findElement(By.id("keep")).click();
        await("it is gone", () -> !browser.findElement(By.cssSelector(".wipe")).isDisplayed());
    }

    private void measuredAndWritten() throws Exception {
        stage("presence");
        startAndAwait(
                "measured",
                () -> browser.findElements(By.cssSelector(".finding")).size() > 30);
        assertThat(browser.findElement(By.id("verdict")).getText()).isNotEmpty();
        assertThat(browser.findElement(By.cssSelector("[data-finding=untouched]"))
                        .getDomProperty("textContent"))
                .contains("Plate untouched")
                .contains("every pixel of 2 frames is the plate's own");

        stage("output");
        typeRangeEnd();
        startAndAwait("the movie is written", () -> !browser.findElements(By.cssSelector("[data-written]"))
                .isEmpty());
        Client client = new Client(port);
        String link = browser.findElement(By.cssSelector("[data-written]")).getAttribute("href");
        Path movie = folder.resolve("done.mp4");
        Files.write(movie, client.bytes(link.substring(link.indexOf("/shots/"))).body());
        try (MovieReader m = new MovieReader(movie)) {
            assertThat(m.frameCount).isEqualTo(2);
            assertThat(m.width).isEqualTo(320);
            assertThat(m.read(1, Encoding.REC709).get(160, 90, 1)).isPositive();
        }
        assertThat(client.bytes(link.substring(link.indexOf("/shots/")).replaceAll("/written/.*", "/take/camera.glb"))
                        .body())
                .startsWith('g', 'l', 'T', 'F');
    }
}
