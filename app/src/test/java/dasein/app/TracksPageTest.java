package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.interactions.Actions;
import tools.jackson.databind.JsonNode;

/** Marks by hand, corrections, masks and clean-up, with the mouse in the picture. */
class TracksPageTest extends BrowserTest {
    /** From a place in the plate to one on the page, by the way the picture is fitted into its frame. */
    private int[] onPage(double x, double y) {
        WebElement c = browser.findElement(By.id("picture"));
        int w = c.getSize().width, h = c.getSize().height;
        double pw = data().path("plate").path("width").asDouble(),
                ph = data().path("plate").path("height").asDouble(),
                scale = Math.min((w - 16) / pw, (h - 16) / ph);
        return new int[] {
            (int) Math.round((w - pw * scale) / 2 + x * scale - w / 2.0),
            (int) Math.round((h - ph * scale) / 2 + y * scale - h / 2.0)
        };
    }

    private Actions at(double x, double y) {
        int[] p = onPage(x, y);
        return new Actions(browser).moveToElement(browser.findElement(By.id("picture")), p[0], p[1]);
    }

    private double[] handTrack(int frame) {
        for (JsonNode t : json("tracks.json")) {
            int i = 2 + 2 * (frame - t.get(1).asInt());
            if (t.get(0).asInt() >= 1_000_000
                    && i >= 2
                    && i < t.size()
                    && !t.get(i).isNull())
                return new double[] {t.get(i).asDouble(), t.get(i + 1).asDouble()};
        }
        return null;
    }

    /** Well inside the picture all the time. */
    private static boolean well(JsonNode t, double w, double h) {
        for (int i = 2; i < t.size(); i += 2)
            if (t.get(i).isNull()
                    || Math.abs(t.get(i).asDouble() / w - 0.5) > 0.38
                    || Math.abs(t.get(i + 1).asDouble() / h - 0.5) > 0.3) return false;
        return true;
    }

    @Test
    void marksMasksAndCleanUp() throws Exception {
        openDemo("tracks");
        await("the picture is there", () -> (Boolean) js("const d = "
                + "document.getElementById('picture').getContext('2d').getImageData(300, 300, 20, 20).data; "
                + "return d.some((v, i) => i % 4 < 3 && v > 20)"));
        startAndAwait("tracks are there", () -> state("tracks").equals("fresh"));
        // A strong found mark is as good a place as any, and tells what the hand mark must do.
        double w = data().path("plate").path("width").asDouble(),
                h = data().path("plate").path("height").asDouble();
        JsonNode known = null;
        for (JsonNode t : json("tracks.json"))
            if (t.get(1).asInt() == 1
                    && t.size() == 2 + 2 * 24
                    && well(t, w, h)
                    && (known == null || t.get(3).asDouble() > known.get(3).asDouble())) known = t;
        assertThat(known).isNotNull();
        double x = known.get(2).asDouble(), y = known.get(3).asDouble();
        js("document.querySelector('[data-tool=\"put mark\"]').click()");
        at(x, y).click().perform();
        await("the mark is put", () -> data().path("marks").size() == 1);
        double px = data().path("marks").get(0).path("fixes").get(0).path("x").asDouble(),
                py = data().path("marks").get(0).path("fixes").get(0).path("y").asDouble();
        assertThat(Math.hypot(px - x, py - y)).isLessThan(2.5);
        await("its line opens", () -> browser.findElement(By.cssSelector("details.sel [data-follow=end]"))
                .isDisplayed());
        assertThat(browser.findElement(By.id("loupe")).isDisplayed()).isTrue();
        // The panel may be exchanged once more just then: what is pressed is looked up and pressed at once.
        js("document.querySelector('details.sel [data-follow=end]').click()");
        await("it is followed to the end", () -> handTrack(24) != null);
        int end = 2 + 2 * 23;
        assertThat(handTrack(24)[0] - px).isCloseTo(known.get(end).asDouble() - x, within(1.5));
        assertThat(handTrack(24)[1] - py).isCloseTo(known.get(end + 1).asDouble() - y, within(1.5));

        // Moved by hand in the last frame: a second fix, met exactly.
        js("document.querySelector('#picture').focus()");
        browser.switchTo().activeElement().sendKeys(Keys.END);
        await(
                "the last frame shows",
                () -> browser.findElement(By.id("frameno")).getText().equals("24"));
        // The server has the track before the page does: that learns of it with the task's end.
        settled();
        await("the page knows that it is followed", () -> browser.findElements(By.cssSelector("#running button"))
                .isEmpty());
        // The number is there before the mark is drawn in its place.
        settled();
        double[] was = handTrack(24);
        at(was[0], was[1]).clickAndHold().moveByOffset(9, 0).release().perform();
        await(
                "the correction is kept",
                () -> data().path("marks").get(0).path("fixes").size() == 2);
        await("and followed", () -> handTrack(24) != null && Math.abs(handTrack(24)[0] - was[0]) > 3);
        assertThat(handTrack(1)[0]).isEqualTo(Math.rint(px * 100) / 100);
        // With "put mark" in hand a click sets the chosen one, wherever it is; let go of, another is put, and taken
        // back.
        js("document.querySelector('[data-tool=\"put mark\"]').click()");
        settled();
        at(was[0] - 40, was[1]).click().perform();
        await(
                "it is set there",
                () -> Math.abs(data().path("marks")
                                        .get(0)
                                        .path("fixes")
                                        .get(1)
                                        .path("x")
                                        .asDouble()
                                - was[0]
                                + 40)
                        < 3);
        assertThat(data().path("marks").size()).isEqualTo(1);
        settled();
        js("document.querySelector('[data-placing=new]').click()");
        at(was[0], was[1]).click().perform();
        await("another is put", () -> data().path("marks").size() == 2);
        settled();
        for (int left = 2; left > 0; left--) {
            String rev = browser.findElement(By.id("rev")).getText();
            js("document.getElementById('undo').click()");
            await(
                    "taken back",
                    () -> !browser.findElement(By.id("rev")).getText().equals(rev));
            settled();
        }
        js("document.querySelector('details[data-mark] > summary').click()");
        await("the first is chosen", () -> !browser.findElements(By.cssSelector("details.handmark.sel[open]"))
                .isEmpty());
        lockedThenCut();
        listedAndTidied();
        nothingFoundUnderAMask(w, h);
    }

    private void lockedThenCut() {
        // In a locked group nothing happens to it; freed, a span chosen among the curves is cut out of it.
        js("document.querySelector('[data-group-add]').click()");
        await("it is grouped", () -> data().path("groups").size() == 1);
        await("the group's line is there", () -> !browser.findElements(By.cssSelector(".group input[name=locked]"))
                .isEmpty());
        browser.findElement(By.cssSelector(".group input[name=locked]")).click();
        await("it is locked", () -> data().path("groups").get(0).path("locked").asBoolean());
        // The answer to the lock must have come before the next press, as it has for a hand.
        settled();
        js("document.querySelector('[data-delete-tracks]').click()");
        await("it says why not", () -> shown("say").contains("locked group"));
        assertThat(data().path("marks").size()).isEqualTo(1);
        browser.findElement(By.cssSelector(".group input[name=locked]")).click();
        await("it is free", () -> !data().path("groups").get(0).path("locked").asBoolean());
        // The mark stays chosen while the bench is exchanged.
        await("it is still chosen", () -> !browser.findElements(By.cssSelector("details.handmark.sel[open]"))
                .isEmpty());
        // Its frames lie under those of the ribbon.
        WebElement graph = browser.findElement(By.id("graph")), ribbon = browser.findElement(By.id("ribbon"));
        double frameWide = (ribbon.getSize().width - 60) / 24.0,
                first = ribbon.getLocation().x + 8 - graph.getLocation().x,
                middle = graph.getSize().width / 2.0;
        new Actions(browser)
                .moveToElement(graph, (int) (first + 9.5 * frameWide - middle), 0)
                .clickAndHold()
                .moveByOffset((int) (4 * frameWide), 0)
                .release()
                .perform();
        await("a span is chosen", () -> browser.findElement(By.xpath("//button[text()='cut span']"))
                .isEnabled());
        browser.findElement(By.xpath("//button[text()='cut span']")).click();
        await("it is cut out", () -> handTrack(12) == null);
        assertThat(handTrack(9)).isNotNull();
        assertThat(handTrack(15)).isNotNull();
    }

    private void listedAndTidied() {
        // The list: filtered to those by hand there is one line.
        js("document.getElementById('list').open = true");
        await(
                "the list is filled",
                () -> browser.findElements(By.cssSelector("#list tbody tr")).size() > 20);
        js("const s = document.getElementById('filter'); s.value = 'by hand'; s.dispatchEvent(new "
                + "Event('change', {bubbles: true}))");
        await(
                "only that by hand is left",
                () -> browser.findElements(By.cssSelector("#list tbody tr")).size() == 1);

        // Clean-up: one action, one step back.
        if (!browser.findElements(By.xpath("//button[text()='Tidy up']")).isEmpty()) {
            int before = data().path("deleted").size();
            browser.findElement(By.xpath("//button[text()='Tidy up']")).click();
            await("it says what it did", () -> shown("rev").contains("tidied"));
            browser.findElement(By.id("undo")).click();
            await(
                    "one undo brings all back",
                    () -> data().path("deleted").size() == before
                            && !shown("rev").contains("tidied"));
        }
    }

    private void nothingFoundUnderAMask(double w, double h) {
        // A mask: no mark is found under it any more.
        js("document.querySelector('[data-tool=\"mask\"]').click()");
        for (double[] p : new double[][] {{0.3, 0.55}, {0.7, 0.55}, {0.7, 0.9}, {0.3, 0.9}})
            at(p[0] * w, p[1] * h).click().perform();
        new Actions(browser).sendKeys(Keys.ENTER).perform();
        await("the mask is kept", () -> data().path("masks").size() == 1);
        startAndAwait("tracked anew", () -> state("tracks").equals("fresh"));
        List<String> under = new ArrayList<>();
        for (JsonNode t : json("tracks.json")) {
            if (t.get(0).asInt() >= 1_000_000) continue;
            for (int i = 2; i < t.size(); i += 2)
                if (!t.get(i).isNull()
                        && Math.abs(t.get(i).asDouble() / w - 0.5) < 0.18
                        && Math.abs(t.get(i + 1).asDouble() / h - 0.725) < 0.15)
                    under.add(t.get(0).asString());
        }
        assertThat(under).isEmpty();
    }
}
