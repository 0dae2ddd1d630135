package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.app.store.Media;
import dasein.core.light.Clues;
import dasein.core.light.LightRecipe;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.interactions.Actions;

/**
 * The light by hand: a look into the map, the map dragged over the plate, the sun on the plan, things put on the
 * ground.
 */
class LightPageTest extends BrowserTest {
    @BeforeAll
    void withAMap() throws Exception {
        openKnown("light");
        Media map;
        try (InputStream in = Files.newInputStream(Path.of("demo/kit/noon_latlong.exr"))) {
            map = media.environment(in, "noon.exr");
        }
        shots.change(shot, "map", k -> k.with(k.light().withEnvironment(map.hash())));
        browser.get(address("/shots/" + shot + "/light"));
        settled();
        await(
                "the map is there",
                () -> !browser.findElements(By.cssSelector("[data-look]")).isEmpty()
                        && data().path("suns").size() == 1);
    }

    private LightRecipe light() {
        return shots.head(shot).shot().light();
    }

    private void press(String what) {
        js("document.querySelector(\"" + what + "\").click()");
    }

    /** A click at a part of an element's width and height. */
    private void click(By what, double u, double v) {
        WebElement e = browser.findElement(what);
        new Actions(browser)
                .moveToElement(e, (int) ((u - 0.5) * e.getSize().width), (int) ((v - 0.5) * e.getSize().height))
                .click()
                .perform();
    }

    private void drag(By what, int dx, int dy) {
        new Actions(browser)
                .moveToElement(browser.findElement(what))
                .clickAndHold()
                .moveByOffset(dx / 2, dy / 2)
                .moveByOffset(dx - dx / 2, dy - dy / 2)
                .release()
                .perform();
    }

    @Test
    void aThingSeenInMapAndPlateTurnsTheMap() {
        press("[data-look]");
        await("the map is looked into", () -> browser.findElement(By.cssSelector(".maplook canvas"))
                .isDisplayed());
        click(By.cssSelector(".maplook canvas"), 0.75, 0.5);
        await("the plate is shown for the second click", () -> !browser.findElement(By.cssSelector(".maplook"))
                .isDisplayed());
        click(By.id("picture"), 0.4, 0.3);
        await("the pair is there", () -> light().clues().pairs().size() == 1);
        Clues.Pair p = light().clues().pairs().get(0);
        // A quarter of the width right of the middle, in a field of 80 degrees.
        assertThat(p.azimuthDeg())
                .isCloseTo(Math.toDegrees(Math.atan(0.5 * Math.tan(Math.toRadians(40)))), within(1.0));
        assertThat(p.elevationDeg()).isCloseTo(0, within(1.0));
        settled();
        await("it can be turned by it", () -> !browser.findElements(By.id("turn-to-pairs"))
                .isEmpty());
        press("#turn-to-pairs");
        await("it is turned", () -> light().turnDeg() != 0);
        assertThat(shown("say")).isEmpty();
    }

    @Test
    void theMapIsDraggedOverThePlateAndTheSunOverThePlan() {
        settled();
        double before = light().turnDeg();
        press("[data-clue-tool=turn]");
        await(
                "it is said what to do",
                () -> browser.findElement(By.id("badge")).getText().contains("drag the map"));
        drag(By.id("picture"), 80, 0);
        await("the map is turned to the right", () -> light().turnDeg() > before + 1);
        settled();
        press("[data-clue-tool=turn]");
        String source = light().sun().source();
        assertThat(source).isEqualTo("map");
        drag(By.cssSelector("svg [data-sun]"), 12, 20);
        await("the sun is one's own", () -> light().sun().source().equals("own"));
        assertThat(light().sun().level()).isPositive();
    }

    /** A mark's point is taken hold of in the picture and moved; it stays the same mark. */
    @Test
    void whatIsMarkedCanBeMoved() {
        settled();
        press("[data-clue-tool=lit]");
        click(By.id("picture"), 0.5, 0.75);
        await("the ground is marked", () -> light().clues().patches().size() == 1);
        settled();
        press("[data-clue-tool=lit]");
        Clues.Patch was = light().clues().patches().get(0);
        await("the hand shows it", () -> {
            new Actions(browser)
                    .moveToElement(
                            browser.findElement(By.id("picture")),
                            3,
                            browser.findElement(By.id("picture")).getSize().height / 4)
                    .perform();
            return browser.findElement(By.id("picture")).getCssValue("cursor").equals("move");
        });
        int down = browser.findElement(By.id("picture")).getSize().height / 4;
        new Actions(browser)
                .moveToElement(browser.findElement(By.id("picture")), 0, down)
                .clickAndHold()
                .moveByOffset(40, -10)
                .release()
                .perform();
        await("it is moved", () -> light().clues().patches().get(0).x() > was.x() + 10);
        assertThat(light().clues().patches()).hasSize(1);
        assertThat(light().clues().patches().get(0).id()).isEqualTo(was.id());
    }

    /** While a slider is held the picture follows at once; then the draft takes over. */
    @Test
    void thePictureFollowsWhileTheLightIsTurned() {
        settled();
        double before = light().turnDeg();
        js("const f = document.getElementById('turnDeg'); f.value = Number(f.value) > 0 ? -40 : 40;"
                + "f.dispatchEvent(new Event('input', {bubbles: true}))");
        await(
                "the picture turns along",
                () -> browser.findElement(By.id("badge")).getText().contains("as it turns"));
        assertThat(light().turnDeg()).as("nothing is kept yet").isEqualTo(before);
        js("document.getElementById('turnDeg').dispatchEvent(new Event('change', {bubbles: true}))");
        await("it is kept", () -> Math.abs(light().turnDeg()) == 40);
        await(
                "the plate or a draft is shown",
                () -> !browser.findElement(By.id("badge")).getText().contains("as it turns"));
    }

    @Test
    void whatIsPutOnTheGroundIsThere() {
        settled();
        for (String hand : new String[] {"greyball", "mirrorball", "flag", "leaves"}) {
            int was = light().clues().stands().size() + light().blockers().size();
            await(hand, () -> !browser.findElements(By.cssSelector("[data-hand=" + hand + "]"))
                    .isEmpty());
            press("[data-hand=" + hand + "]");
            click(By.id("picture"), 0.5, 0.8);
            await(
                    hand + " is put",
                    () -> light().clues().stands().size() + light().blockers().size() == was + 1);
            settled();
        }
        assertThat(light().clues().stands()).extracting(Clues.Stand::mirror).containsExactly(false, true);
        assertThat(light().blockers()).hasSize(2);
        press("[data-alone=sun]");
        await(
                "the sun is looked at alone",
                () -> browser.findElement(By.id("badge")).getText().contains("one light alone"));
        press("[data-alone=sun]");
    }
}
