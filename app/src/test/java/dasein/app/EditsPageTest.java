package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.WindowType;
import org.openqa.selenium.interactions.Actions;
import tools.jackson.databind.JsonNode;

/** Fast hands, the Enter key, refused files and two windows: no edit is lost, and the page stays where it is. */
class EditsPageTest extends BrowserTest {
    private static final String PART = "details[data-performer='1'] ";

    @BeforeAll
    void place() throws Exception {
        openKnown("blocking");
        settled();
        js("document.querySelector('[data-add=crate]').click()");
        await("the crate is placed", () -> !browser.findElements(By.cssSelector(PART))
                .isEmpty());
        settled();
    }

    private JsonNode crate() {
        return json("blocking.json").get(0);
    }

    private WebElement field(String channel) {
        return browser.findElement(By.cssSelector(PART + "input[data-channel=" + channel + "]"));
    }

    private void fresh() {
        // A task that ends exchanges the panel: what is pressed then would be gone, and a window would learn of
        // another's
        // change by itself.
        await("nothing runs", () -> taskRows.busy() == 0);
        browser.get(address("/shots/" + shot + "/blocking"));
        await("the crate is there", () -> !browser.findElements(By.cssSelector(PART))
                .isEmpty());
        js("document.querySelector(\"" + PART.trim() + "\").open = true");
        settled();
    }

    /** Types a value and presses the key beside it in one breath, as a hand does. */
    @Test
    void aTypedNumberAndTheKeyBesideItAreBothKept() {
        fresh();
        int frame = 2;
        for (String channel : new String[] {"x", "heading", "roll"}) {
            frame += 3;
            int f = frame;
            js("import('/js/page/time.js').then(m => m.go(" + f + "))");
            await(
                    "frame " + f,
                    () -> browser.findElement(By.id("frameno")).getText().equals(String.valueOf(f)));
            settled();
            js("const f = document.querySelector(\"" + PART + "input[data-channel=" + channel
                    + "]\"); f.value = '1.5'; f.dispatchEvent(new Event('change', {bubbles: true}));"
                    + "document.querySelector(\"" + PART + "[data-key=" + channel + "]\").click();");
            settled();
            assertThat(shown("say")).isEmpty();
            JsonNode keys = crate().path("curves").path(channel).path("keys");
            assertThat(keys.size()).as(channel).isEqualTo(1);
            assertThat(keys.get(0).path("frame").asInt()).isEqualTo(f);
            assertThat(keys.get(0).path("value").asDouble()).isEqualTo(1.5);
        }
    }

    /** Ten edits that are sent before the first is answered come in their order, each upon the one before. */
    @Test
    void manyEditsAtOnceComeInTheirOrder() {
        fresh();
        int before = shots.head(shot).number();
        js(
                "for (let k = 1; k <= 10; k++) { const f = document.querySelector(\"" + PART
                        + "input[data-channel=z]\"); f.value = String(-k); f.dispatchEvent(new Event('change', {bubbles: true})); }");
        settled();
        assertThat(shots.head(shot).number()).isEqualTo(before + 10);
        assertThat(shots.head(shot).shot().performers().get(0).z()).isEqualTo(-10);
        assertThat(shown("say")).isEmpty();
    }

    @Test
    void enterInAFieldKeepsItAndLeavesThePageAlone() {
        fresh();
        js("window.marked = true; document.getElementById('bench').scrollTop = 120");
        WebElement y = field("y");
        new Actions(browser).click(y).perform();
        y.sendKeys(Keys.chord(Keys.CONTROL, "a"), "0.25" + Keys.ENTER);
        await("it is kept", () -> shots.head(shot).shot().performers().get(0).y() == 0.25);
        settled();
        assertThat((Boolean) js("return window.marked === true"))
                .as("the page was not loaded again")
                .isTrue();
        assertThat(browser.getCurrentUrl()).doesNotContain("?");
        assertThat((Boolean) js("return document.querySelector(\"" + PART.trim() + "\").open"))
                .as("the part stays open")
                .isTrue();
    }

    /** The panel does not jump when something low in it is changed. */
    @Test
    void whatIsLowInThePanelStaysInView() {
        fresh();
        long at = ((Number) js("const b = document.getElementById('bench'); b.scrollTop = 260; return b.scrollTop"))
                .longValue();
        js(
                "const f = document.querySelector(\"" + PART
                        + "input[data-channel=height]\"); f.value = '0.77'; f.dispatchEvent(new Event('change', {bubbles: true}))");
        await("it is kept", () -> shots.head(shot).shot().performers().get(0).heightMetres() == 0.77);
        settled();
        assertThat(((Number) js("return document.getElementById('bench').scrollTop")).longValue())
                .isEqualTo(at);
    }

    @Test
    void aRefusedFileIsSaidWhereThePersonIs() throws Exception {
        Path text = folder.resolve("sky.exr");
        Files.writeString(text, "no light in here");
        browser.get(address("/shots/" + shot + "/light"));
        settled();
        js("window.marked = true");
        WebElement file = browser.findElement(By.cssSelector("#bench input[type=file]"));
        file.sendKeys(text.toString());
        js("const f = document.querySelector('#bench input[type=file]').form; f.requestSubmit()");
        await("it says why", () -> shown("say").contains("sky.exr"));
        assertThat((Boolean) js("return window.marked === true"))
                .as("the page stays")
                .isTrue();
        assertThat(state("plate")).isNotEmpty();
        assertThat(shots.head(shot).shot().light().environment()).isEmpty();
        // A number that is none is said, and the field shows what counts.
        js("const f = document.querySelector('#bench input[name=level]'); f.value = 'bright'; "
                + "f.dispatchEvent(new Event('change', {bubbles: true}))");
        await("it says so", () -> shown("say").contains("must be a number"));
        String at = "const f = document.querySelector('#bench input[name=level]'); ";
        await(
                "it says so at the field",
                () -> (Boolean) js(at + "return f.getAttribute('aria-invalid') === 'true' && f.value === 'bright' && "
                        + "!!document.querySelector('#bench .refused')"));
        js(at + "f.value = '1.5'; f.dispatchEvent(new Event('input', {bubbles: true})); "
                + "f.dispatchEvent(new Event('change', {bubbles: true}))");
        await("nothing is marked any more", () ->
                (Boolean) js("return !document.querySelector('.refused, [aria-invalid]')"));
        await("it is kept", () -> shots.head(shot).shot().light().level() == 1.5);
    }

    /** What another window changed meanwhile is shown, and the edit upon the old state is not written over it. */
    @Test
    void twoWindowsDoNotOverwriteEachOther() {
        fresh();
        String first = browser.getWindowHandle();
        browser.switchTo().newWindow(WindowType.TAB);
        String second = browser.getWindowHandle();
        try {
            fresh();
            js(
                    "const f = document.querySelector(\"" + PART
                            + "input[data-channel=heading]\"); f.value = '33'; f.dispatchEvent(new Event('change', {bubbles: true}))");
            settled();
            int number = shots.head(shot).number();
            browser.switchTo().window(first);
            js(
                    "const f = document.querySelector(\"" + PART
                            + "input[data-channel=heading]\"); f.value = '77'; f.dispatchEvent(new Event('change', {bubbles: true}))");
            await("it says that somebody else was faster", () -> !shown("say").isEmpty());
            settled();
            assertThat(shots.head(shot).number()).as("nothing was written over").isEqualTo(number);
            // The page shows what stands now, and the next edit is taken.
            js(
                    "const f = document.querySelector(\"" + PART
                            + "input[data-channel=heading]\"); f.value = '78'; f.dispatchEvent(new Event('change', {bubbles: true}))");
            await("the next one is taken", () -> shots.head(shot).number() == number + 1);
        } finally {
            browser.switchTo().window(second);
            browser.close();
            browser.switchTo().window(first);
        }
    }
}
