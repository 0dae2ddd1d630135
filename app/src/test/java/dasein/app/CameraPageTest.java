package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

/**
 * The Camera stage: a solve with its reasons and uncertainty, looked at from outside; the same frame matched by lines;
 * and a camera that goes out and comes in.
 */
class CameraPageTest extends BrowserTest {
    @Test
    void solvedMatchedAndBroughtIn() throws Exception {
        openDemo("camera");
        startAndAwait("the camera is solved", () -> state("camera").equals("fresh"));
        String bench = browser.findElement(By.id("bench")).getText();
        assertThat(bench).contains("The camera moved").contains("would leave").contains("\u00b1");
        await(
                "it is seen from outside",
                () -> browser.findElement(By.id("outside")).isDisplayed()
                        && "visible"
                                .equals(browser.findElement(By.id("outside")).getCssValue("visibility")));
        double focal = data().path("camera").path("frames").get(0).get(13).asDouble();

        // Kept, solved otherwise, and let count again: nothing is solved twice.
        browser.findElement(By.xpath("//button[text()='Keep this solve']")).click();
        await("it is kept", () -> shown("rev").contains("solve kept"));
        settled();
        js("const k = document.querySelector('select[name=k2]'); k.value = 'ALWAYS';"
                + "k.dispatchEvent(new Event('change', {bubbles: true}))");
        await(
                "the settings are new",
                () -> state("camera").equals("stale") || state("camera").equals("missing"));
        startAndAwait(
                "it is solved with them",
                () -> state("camera").equals("fresh")
                        && browser.findElement(By.id("bench")).getText().contains("path differs by"));
        browser.findElement(By.xpath("//button[text()='let it count']")).click();
        await(
                "the kept one counts",
                () -> shown("rev").contains("a kept solve counts")
                        && data().path("camera").path("frames").path(0).path(13).asDouble() == focal);
        assertThat(state("camera")).isEqualTo("fresh");
        outAndIn(focal);
        matchedByLinesAndARectangle();
    }

    private void outAndIn(double focal) throws Exception {
        // Out as USD text, and in again: its points land on the marks.
        Client client = new Client(port);
        byte[] usd = client.bytes("/shots/" + shot + "/take/camera.usda").body();
        assertThat(new String(usd, java.nio.charset.StandardCharsets.UTF_8)).startsWith("#usda 1.0");
        assertThat(client.upload(
                                "/shots/" + shot + "/camera/upload",
                                "file",
                                "back.usda",
                                usd,
                                java.util.Map.of("as", "camera"))
                        .statusCode())
                .isEqualTo(302);
        browser.navigate().refresh();
        await(
                "it is read",
                () -> browser.findElement(By.id("bench")).getText().contains("they land")
                        && browser.findElement(By.id("bench")).getText().contains("brought in"));
        assertThat(Math.abs(data().path("camera").path("frames").get(0).get(13).asDouble() / focal - 1))
                .isLessThan(1e-5);
        browser.findElement(By.xpath("//button[text()='Solve instead']")).click();
        await(
                "it is solved again",
                () -> shown("rev").contains("to be solved") && state("camera").equals("fresh"));
        settled();
    }

    private void matchedByLinesAndARectangle() {
        // The same frame as that of a camera that stood still: lines over its edges give the perspective at once.
        js("document.querySelector('input[name=kind][value=locked]').click()");
        await("lines can be drawn", () -> browser.findElement(By.cssSelector("[data-axis=Z]"))
                .isDisplayed());
        js("document.querySelector('[data-axis=Z]').click()");
        draw(false, 650, 222, 1252, 128);
        await("the first line is kept", () -> data().path("lines").size() == 1);
        draw(false, 815, 388, 1160, 480);
        js("document.querySelector('[data-axis=Y]').click()");
        draw(false, 334, 112, 341, 484);
        await("three lines are kept", () -> data().path("lines").size() == 3);
        js("document.querySelector('[data-axis=X]').click()");
        draw(false, 390, 399, 814, 399);
        draw(false, 420, 640, 700, 642);
        await(
                "the perspective is matched",
                () -> browser.findElement(By.id("bench")).getText().contains("how well it meets")
                        || browser.findElement(By.id("bench")).getText().contains("uncertain"));
        assertThat(data().path("lines").size()).isEqualTo(5);

        // Four corners of something rectangular on the ground do as well; how long it is says the bench.
        js("document.querySelector('[data-axis=rect]').click()");
        for (int[] q : new int[][] {{100, 600}, {740, 570}, {670, 450}, {230, 430}})
            draw(false, q[0], q[1], q[0], q[1]);
        await(
                "the rectangle is kept",
                () -> data().path("match").path("rectangle").path("corners").size() == 8
                        && browser.findElement(By.id("rectWidth")).isDisplayed());
        settled();
        js("const w = document.getElementById('rectWidth'); w.value = '3'; w.dispatchEvent(new "
                + "Event('change', {bubbles: true}))");
        await(
                "its width is taken",
                () -> data().path("match").path("rectangle").path("width").asDouble() == 3);
    }
}
