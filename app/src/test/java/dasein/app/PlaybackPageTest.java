package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

/** Played: as fast as is said, over a range, there and back, and flipped between two frames. */
class PlaybackPageTest extends BrowserTest {
    private static final String TIME = "import('/js/page/time.js').then(t => window.time = t);"
            + "import('/js/page/state.js').then(t => window.there = () => !!(t.state.data && t.state.data.plate))";

    @SuppressWarnings("unchecked")
    private List<Long> seen() {
        return (List<Long>) browser.executeScript("return window.seen");
    }

    private String frame() {
        return browser.findElement(By.id("frameno")).getText();
    }

    @Test
    void playsWhatIsAsked() throws Exception {
        openDemo("plate");
        js(TIME);
        await(
                "the page knows its plate",
                () -> Boolean.TRUE.equals(
                        browser.executeScript("return !!(window.time && window.there && window.there())")));
        js("window.seen = []; const f = document.getElementById('frameno');"
                + "new MutationObserver(() => seen.push(Number(f.textContent)))"
                + ".observe(f, {childList: true, characterData: true, subtree: true})");
        browser.findElement(By.id("play")).click();
        // How fast it is here is said, and printed: on a machine that does other work, too, it falls short.
        await(
                "how fast it plays is said",
                () -> seen().size() > 48
                        && browser.findElement(By.id("rate")).getText().matches("24/s|\\d+ of 24"));
        System.out.println(
                "shown a second: " + browser.findElement(By.id("rate")).getText());

        js("time.setRange([5, 9]); time.go(5); seen.length = 0");
        await("some rounds", () -> seen().size() > 15);
        assertThat(seen()).allMatch(f -> f >= 5 && f <= 9).contains(5L, 9L);
        for (int k = 0; k < 3; k++) browser.findElement(By.id("pace")).click();
        js("seen.length = 0");
        await("there and back", () -> seen().size() > 20);
        List<Long> way = seen();
        long back = 0;
        for (int i = 1; i < way.size(); i++) if (way.get(i) < way.get(i - 1) && way.get(i) > 5) back++;
        assertThat(back).as("frames on the way back: " + way).isGreaterThan(3);
        browser.findElement(By.id("play")).click();

        // Each end is shown once on the way there and back.
        assertThat(browser.executeScript("return [5, 6, 7].map(f => time.after(f, 6, [5, 9], true).frame)"))
                .isEqualTo(List.of(7L, 6L, 5L));
        assertThat(browser.executeScript("return time.after(9, 1, [5, 9], false).frame"))
                .isEqualTo(5L);
        assertThat(browser.executeScript("return time.after(5, 3, [5, 5], true).frame"))
                .isEqualTo(5L);

        js("time.go(6); time.flipFrames(); time.go(8); time.flipFrames()");
        assertThat(frame()).isEqualTo("6");
        js("time.flipFrames()");
        assertThat(frame()).isEqualTo("8");
        js("time.setRange(null)");

        // Ctrl Enter presses the main button of the stage, here caught before it does anything.
        js("window.addEventListener('click', e => { if (e.target.closest('.btn-main')) {"
                + "e.preventDefault(); e.stopImmediatePropagation(); window.pressed = true; } }, true);"
                + "document.dispatchEvent(new KeyboardEvent('keydown', {key: 'Enter', ctrlKey: true}))");
        assertThat(browser.executeScript("return window.pressed")).isEqualTo(true);
    }
}
