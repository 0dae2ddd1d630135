package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import tools.jackson.databind.JsonNode;

/**
 * The Set stage by hand: a floor, a wall and a box built from points chosen in the picture, a point and an edge that
 * were never tracked, what each does, and all of it undone.
 */
class SetPageTest extends BrowserTest {
    private void build(String kind, int count) {
        js("document.querySelector('select[name=kind]').value = '" + kind + "'");
        browser.findElement(By.xpath("//button[text()='Build']")).click();
        await(kind + " is built", () -> data().path("pieces").size() == count);
        settled();
    }

    private int chosen() {
        String t = browser.findElement(By.cssSelector("[data-chosen]")).getText();
        return t.startsWith("none") ? 0 : Integer.parseInt(t.split(" ")[0]);
    }

    @Test
    void aFloorAWallAndABoxAreBuiltByHand() throws Exception {
        openDemo("camera");
        startAndAwait("the camera is solved", () -> state("camera").equals("fresh"));
        browser.get(address("/shots/" + shot + "/set"));
        await(
                "the points are there",
                () -> data().path("points").size() > 20
                        && browser.findElement(By.id("plan"))
                                        .findElements(By.tagName("circle"))
                                        .size()
                                > 20);
        settled();

        draw(true, 200, 520, 1000, 700);
        await("points on the ground are chosen", () -> chosen() > 3);
        build("FLOOR", 1);
        draw(false, 640, 60, 640, 60);
        draw(true, 1000, 170, 1270, 330);
        await("points on the wall are chosen", () -> chosen() > 2);
        build("WALL", 2);
        JsonNode wall = data().path("pieces").get(1),
                floor = data().path("pieces").get(0);
        assertThat(floor.path("size").get(1).asDouble()).isZero();
        assertThat(Math.abs(floor.path("at").get(1).asDouble())).isLessThan(0.1);
        assertThat(wall.path("size").get(1).asDouble()).isGreaterThan(0.1);
        draw(false, 640, 60, 640, 60);
        build("BOX", 3);

        // Typed sizes, and what it does in words.
        js("document.querySelector('details[data-piece=\"3\"] summary').click()");
        js("const w = document.querySelector('details[data-piece=\"3\"] input[name=width]'); w.value = "
                + "'0.66'; w.dispatchEvent(new Event('change', {bubbles: true}))");
        await(
                "the box is as wide as was typed",
                () -> data().path("pieces").get(2).path("size").get(0).asDouble() == 0.66);
        settled();
        js("document.querySelector('details[data-piece=\"3\"] input[name=HIDE]').click()");
        await(
                "it no longer hides",
                () -> !data().path("pieces").get(2).path("roles").toString().contains("HIDE"));
        await("the bench says so", () -> !browser.findElement(By.cssSelector("details[data-piece='3'] .say"))
                .getText()
                .contains("hides"));
        settled();

        // A place that was never tracked lies on the ground; an upright edge must agree with it.
        js("document.querySelector('[data-set-tool=pick]').click()");
        draw(false, 500, 600, 500, 600);
        await(
                "the point lies on the ground",
                () -> data().path("picked").size() == 1
                        && data().path("points").toString().contains("2000001"));
        double[] y = {1};
        data().path("points").forEach(p -> {
            if (p.get(0).asInt() == 2000001) y[0] = p.get(2).asDouble();
        });
        assertThat(Math.abs(y[0])).isLessThan(1e-6);
        js("document.querySelector('[data-set-tool=Y]').click()");
        draw(false, 339, 120, 343, 480);
        await(
                "the edge is kept",
                () -> data().path("edges").size() == 1
                        && browser.findElement(By.id("bench")).getText().contains("upright edge 1"));

        for (int i = 0; i < 7; i++) {
            int left = i;
            String before = shown("rev");
            js("document.getElementById('undo').click()");
            await("step " + left + " is undone", () -> !shown("rev").equals(before));
            settled();
        }
        assertThat(data().path("pieces").size()).isZero();
        assertThat(data().path("edges").size()).isZero();
    }
}
