package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.interactions.Actions;
import org.openqa.selenium.support.ui.Select;

/** Somebody with a link looks, pins a note, and the owner says what became of it. */
class ReviewPageTest extends BrowserTest {
    private String shown() {
        return browser.findElement(By.id("frame")).getText();
    }

    private long light(String box) {
        return (long) js("const c = document.getElementById('view'), g = c.getContext('2d'),"
                + "d = g.getImageData(" + box
                + ").data; let s = 0; for (let i = 0; i < d.length; i += 4) s += d[i + 1];"
                + "return Math.round(s / (d.length / 4))");
    }

    @Test
    void aNoteIsPinnedByALinkAndAnswered() throws Exception {
        openKnown("camera");
        browser.get(address("/shots/" + shot + "/review#5"));
        await("the frame is shown", () -> shown().equals("5") && light("400, 300, 60, 60") > 0);
        browser.findElement(By.cssSelector("#give input")).sendKeys("the client");
        browser.findElement(By.cssSelector("#give button")).click();
        await("a link", () -> browser.findElement(By.id("given")).isDisplayed());
        String link = browser.findElement(By.id("given")).getText();
        assertThat(link).contains("/look/");

        browser.get(link + "#7");
        await("the frame is shown", () -> shown().equals("7") && light("400, 300, 60, 60") > 0);
        assertThat(browser.findElements(By.id("give"))).isEmpty();
        WebElement view = browser.findElement(By.id("view"));
        new Actions(browser).moveToElement(view, 60, 40).click().perform();
        await(
                "the place is meant",
                () -> browser.findElement(By.id("where")).getText().contains("frame 7"));
        browser.findElement(By.name("author")).sendKeys("Ada");
        browser.findElement(By.name("text")).sendKeys("The bollard <b>floats</b>");
        browser.findElement(By.cssSelector("#say button")).click();
        await("it is noted", () -> !browser.findElements(By.cssSelector("#notes li"))
                .isEmpty());
        assertThat(browser.findElement(By.cssSelector("#notes .said")).getText())
                .isEqualTo("The bollard <b>floats</b>");
        assertThat(browser.findElements(By.cssSelector("#notes select"))).isEmpty();

        // It plays, in a loop.
        browser.findElement(By.id("play")).click();
        await("it plays", () -> Integer.parseInt(shown()) > 9);
        browser.findElement(By.id("play")).click();

        browser.get(address("/shots/" + shot + "/review"));
        await("the note is there", () -> !browser.findElements(By.cssSelector("#notes .at"))
                .isEmpty());
        browser.findElement(By.cssSelector("#notes .at")).click();
        await("its frame", () -> shown().equals("7"));
        new Select(browser.findElement(By.cssSelector("#notes select"))).selectByValue("done");
        await("it is done", () -> browser.findElement(By.id("count")).getText().equals("0 open of 1"));
        // Against the plate nothing differs where nobody stands.
        new Select(browser.findElement(By.id("against"))).selectByValue("plate");
        new Select(browser.findElement(By.id("how"))).selectByValue("difference");
        await("no difference", () -> light("300, 250, 80, 80") < 3);
        browser.findElement(By.cssSelector("#links button")).click();
        await("taken back", () -> browser.findElements(By.cssSelector("#links li"))
                .isEmpty());
        browser.get(link);
        assertThat(browser.findElements(By.id("view"))).isEmpty();
    }
}
