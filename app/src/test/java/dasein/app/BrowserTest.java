package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.store.Media;
import dasein.app.store.MediaStore;
import dasein.app.store.ModelShelf;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.TaskMapper;
import dasein.app.task.Tasks;
import dasein.core.model.file.ModelFile;
import dasein.core.shot.ShotJson;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.function.BooleanSupplier;
import java.util.logging.Level;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;
import org.openqa.selenium.ElementNotInteractableException;
import org.openqa.selenium.JavascriptExecutor;
import org.openqa.selenium.Keys;
import org.openqa.selenium.StaleElementReferenceException;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.interactions.Actions;
import org.openqa.selenium.logging.LogEntry;
import org.openqa.selenium.logging.LogType;
import org.openqa.selenium.logging.LoggingPreferences;
import org.openqa.selenium.support.ui.WebDriverWait;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.context.SpringBootTest;
import org.springframework.boot.test.web.server.LocalServerPort;
import org.springframework.test.context.DynamicPropertyRegistry;
import org.springframework.test.context.DynamicPropertySource;
import tools.jackson.databind.JsonNode;

/**
 * The application with a browser in front of it. All such tests share both, and the demo's solved tracks and camera;
 * each class has a shot of its own.
 */
@SpringBootTest(classes = Server.class, webEnvironment = SpringBootTest.WebEnvironment.RANDOM_PORT)
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
abstract class BrowserTest {
    /** Of the whole run: the context that writes into it outlives each class. */
    private static final Path SHARED = temporary();

    private static final long DEMO = 1;

    private static ChromeDriver shared;

    @LocalServerPort
    int port;

    @Autowired
    Shots shots;

    @Autowired
    MediaStore media;

    @Autowired
    ModelShelf shelf;

    @Autowired
    Tasks tasks;

    @Autowired
    TaskMapper taskRows;

    @TempDir
    static Path folder;

    ChromeDriver browser;
    /** The shot of this class. */
    long shot;

    @DynamicPropertySource
    static void place(DynamicPropertyRegistry r) {
        String url = TestDatabase.make("browser_test"), demo = TestDemo.make(24).toString();
        r.add("spring.datasource.url", () -> url);
        r.add("dasein.media", () -> SHARED.resolve("media").toString());
        r.add("dasein.demo", () -> demo);
    }

    private static Path temporary() {
        try {
            return Files.createTempDirectory("dasein-browser");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @BeforeAll
    void open() {
        if (shared == null) shared = start();
        browser = shared;
    }

    /** Nothing of this class goes on when the next begins, and no script of a page broke on the way. */
    @AfterAll
    void leave() {
        assertThat(browser.manage().logs().get(LogType.BROWSER).getAll())
                .extracting(LogEntry::getMessage)
                .noneMatch(m -> m.contains("Uncaught"));
        for (Task t : taskRows.open(shot)) tasks.cancel(t.id());
        browser.get("about:blank");
    }

    private static ChromeDriver start() {
        ChromeOptions o = new ChromeOptions();
        o.setBinary("/usr/bin/chromium");
        o.addArguments(
                "--headless=new",
                "--use-angle=swiftshader",
                "--enable-unsafe-swiftshader",
                "--no-sandbox",
                "--disable-dev-shm-usage",
                "--disable-background-networking",
                "--disable-component-update",
                "--disable-sync",
                "--disable-quic",
                "--no-first-run",
                "--hide-scrollbars",
                "--window-size=1280,800",
                "--user-data-dir=" + temporary());
        LoggingPreferences heard = new LoggingPreferences();
        heard.enable(LogType.BROWSER, Level.SEVERE);
        o.setCapability(ChromeOptions.LOGGING_PREFS, heard);
        ChromeDriver browser = new ChromeDriver(
                new ChromeDriverService.Builder()
                        .usingDriverExecutable(Path.of("/usr/bin/chromedriver").toFile())
                        .build(),
                o);
        browser.executeCdpCommand(
                "Emulation.setDeviceMetricsOverride",
                Map.of("width", 1280, "height", 800, "deviceScaleFactor", 1, "mobile", false));
        Runtime.getRuntime().addShutdownHook(new Thread(browser::quit));
        return browser;
    }

    void await(String what, BooleanSupplier there) {
        new WebDriverWait(browser, Duration.ofSeconds(90), Duration.ofMillis(120))
                .withMessage(() -> what + "; the page says:\n"
                        + browser.findElement(By.tagName("body")).getText() + "\n" + Threads.ofOurs())
                .ignoreAll(List.of(StaleElementReferenceException.class, ElementNotInteractableException.class))
                .until(d -> there.getAsBoolean());
    }

    /** Text of an element that the page may exchange at any moment: asked for and read in one. */
    String shown(String id) {
        return (String) js("return document.getElementById('" + id + "').innerText.trim()");
    }

    void stage(String s) {
        await("stage " + s, () -> {
            if (!browser.getCurrentUrl().endsWith("/" + s))
                browser.findElement(By.cssSelector("#sheet a[href$='/" + s + "']"))
                        .click();
            return browser.getCurrentUrl().endsWith("/" + s);
        });
    }

    String state(String s) {
        return browser.findElement(By.cssSelector("#sheet a[href$='/" + s + "'] .st"))
                .getAttribute("aria-label");
    }

    void type(String field, String value) {
        // The bench may be exchanged between finding a field and typing into it.
        await(field + " takes the value", () -> {
            WebElement e = browser.findElement(By.name(field));
            e.clear();
            e.sendKeys(value + "\t");
            return true;
        });
        await(
                field + " is saved",
                () -> browser.findElement(By.name(field)).getAttribute("value").startsWith(value)
                        && !shown("rev").isEmpty());
        settled();
    }

    /** Presses the stage's main button; again if the bench was exchanged under the finger. */
    void startAndAwait(String what, BooleanSupplier there) {
        await(what, () -> {
            if (there.getAsBoolean()) return true;
            boolean runs =
                    !browser.findElements(By.cssSelector("#running button")).isEmpty();
            if (!runs && browser.findElement(By.id("start")).isEnabled()) {
                browser.findElement(By.id("start")).click();
                settled();
            }
            return there.getAsBoolean();
        });
    }

    /** Nothing that this page asked for is on its way. */
    void settled() {
        await("the page is settled", () -> "false"
                .equals(browser.findElement(By.tagName("body")).getAttribute("aria-busy")));
    }

    Object js(String code) {
        return ((JavascriptExecutor) browser).executeScript(code);
    }

    /** Opens a shot of this class's own, made like the demo's, at a stage; the demo's own work is waited for. */
    void openDemo(String at) throws Exception {
        Await.until("the demo is solved", () -> taskRows.busy() == 0);
        shot = shots.create(
                "Low Water", getClass().getSimpleName(), shots.head(DEMO).shot());
        browser.get(address("/"));
        WebElement card = browser.findElement(By.cssSelector(".card-shot a[href^='/shots/" + shot + "/']"));
        // By the keyboard: there may be more shots by now than the window shows.
        card.sendKeys(Keys.ENTER);
        stage(at);
    }

    /** A shot whose camera is known, so that nothing need be solved, with a model on the shelf. */
    void openKnown(String at) throws Exception {
        Media plate, camera;
        try (InputStream p = Files.newInputStream(Path.of("demo/LW_040.mp4"));
                InputStream k = Files.newInputStream(TestDemo.camera(folder.resolve("known.json"), 24))) {
            plate = media.plate(p, "LW_040.mp4");
            camera = media.camera(k, "known.json");
        }
        for (String m : List.of("skimmer", "crate"))
            try (InputStream in = Files.newInputStream(Path.of("demo/models/" + m + ".glb"))) {
                shelf.bring(List.of(new ModelShelf.Sent(m + ".glb", in)), ModelFile.Reading.GUESS);
            }
        shot = shots.create(
                "Low Water",
                getClass().getSimpleName(),
                ShotJson.read("{\"plate\": {\"file\": \"" + plate.hash()
                        + "\", \"last\": 24}, \"camera\": {\"file\": \"" + camera.hash() + "\"}}"));
        tasks.start(shot, shots.head(shot).revision().id(), "camera", "Camera", "");
        browser.get(address("/shots/" + shot + "/" + at));
        await("the camera is there", () -> state("camera").equals("fresh"));
    }

    String address(String path) {
        return "http://127.0.0.1:" + port + path;
    }

    JsonNode json(String name) {
        try {
            return new Client(port).json("/shots/" + shot + "/" + name);
        } catch (Exception e) {
            throw new IllegalStateException(e);
        }
    }

    JsonNode data() {
        return json("data.json");
    }

    /** A stroke over the picture, ends in plate pixels of a picture 1280 wide. */
    void draw(boolean shift, double x0, double y0, double x1, double y1) {
        WebElement c = browser.findElement(By.id("picture"));
        int w = c.getSize().width, h = c.getSize().height;
        double pw = data().path("plate").path("width").asDouble(),
                ph = data().path("plate").path("height").asDouble(),
                part = pw / 1280,
                scale = Math.min((w - 16) / pw, (h - 16) / ph);
        int ax = (int) ((w - pw * scale) / 2 + x0 * part * scale - w / 2.0),
                ay = (int) ((h - ph * scale) / 2 + y0 * part * scale - h / 2.0);
        Actions a = new Actions(browser);
        if (shift) a.keyDown(Keys.SHIFT);
        a.moveToElement(c, ax, ay)
                .clickAndHold()
                .moveByOffset((int) ((x1 - x0) * part * scale), (int) ((y1 - y0) * part * scale))
                .release();
        if (shift) a.keyUp(Keys.SHIFT);
        a.perform();
    }
}
