package dasein.app.scene;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.app.ServerTest;
import dasein.app.stage.Computed;
import dasein.core.BadInput;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.nio.file.Files;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What is held in memory is held by what it depends on: looked at again it is the same, changed it is another. */
class ScenesTest extends ServerTest {
    private Shot s;

    @BeforeEach
    void crate() {
        s = plated();
        solve(s, "moving");
        s = edit(s, "blocking", "add", "model", model("crate"), "x", "0.2", "z", "-4")
                .shot();
    }

    private Shot edited(String stage, String... fields) {
        return edit(s, stage, "settings", fields).shot();
    }

    @Test
    void aSceneIsHeldUntilSomethingThatItShowsChanges() {
        Scenes scenes = desk.scenes();
        assertThat(scenes.of(s)).isSameAs(scenes.of(s));
        // What only the finished picture depends on.
        assertThat(scenes.of(edited("comp", "gain", "1.2"))).isSameAs(scenes.of(s));
        assertThat(scenes.of(edited("plate", "notes", "dusk"))).isSameAs(scenes.of(s));
        for (Shot other : new Shot[] {
            edited("plate", "shutterDeg", "90"),
            edited("plate", "cameraHeightMetres", "1.2"),
            edited("passes", "passShutter", "45"),
            edited("light", "level", "2"),
            edited("set", "catcherWidth", "5"),
            edit(s, "blocking", "set", "id", "1", "heading", "30").shot()
        }) assertThat(scenes.of(other)).isNotSameAs(scenes.of(s));
    }

    /** While performers change, light and models are not made anew. */
    @Test
    void whatDoesNotChangeIsShared() {
        Scenes scenes = desk.scenes();
        Shot turned = edit(s, "blocking", "set", "id", "1", "heading", "30").shot();
        assertThat(scenes.light(turned)).isSameAs(scenes.light(s));
        String crate = s.performers().get(0).model();
        assertThat(scenes.model(crate)).isSameAs(scenes.model(crate));
        assertThat(scenes.blocking(turned)).isNotSameAs(scenes.blocking(s));
        assertThat(scenes.blocking(edited("light", "level", "2"))).isSameAs(scenes.blocking(s));
    }

    @Test
    void withoutACameraThereIsNoScene() {
        Shot unsolved = edited("camera", "smoothPx", "3");
        assertThat(desk.scenes().blocking(unsolved)).isNull();
        assertThatThrownBy(() -> desk.scenes().of(unsolved))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("not solved");
    }

    /** A slider of the comp needs no passes anew; another frame, or another light, has none. */
    @Test
    void finishedFramesComeFromStoredPasses() throws Exception {
        assertThat(desk.comps().frame(s, 2)).isNull();
        Passes p = new Passes(WIDTH, HEIGHT);
        for (int i = 0; i < WIDTH * 20; i++) {
            p.alpha[i] = 1;
            for (float[] c : p.beauty) c[i] = 0.25f;
        }
        String print = Prints.frame(s, 2), file = print + ".exr";
        p.write(media.result("passes", file));
        results.save("passes", print, Map.of("noise", 0), file);
        float one = desk.comps().frame(edited("comp", "grain", "0"), 2).planes[1][100],
                two = desk.comps().frame(edited("comp", "grain", "0", "gain", "2"), 2).planes[1][100];
        assertThat(one).isEqualTo(0.25f);
        assertThat(two).isEqualTo(0.5f);
        assertThat(desk.comps().frame(s, 3)).isNull();
        assertThat(desk.comps().frame(edited("light", "level", "2"), 2)).isNull();
    }

    /** Found where it is there, else computed; lost on the disk it is computed anew, and damaged too. */
    @Test
    void aResultIsComputedOnce() throws Exception {
        AtomicInteger times = new AtomicInteger();
        String print = Prints.health(s) + "x";
        for (int k = 0; k < 3; k++)
            assertThat(Computed.once(
                                    desk,
                                    "health",
                                    print,
                                    ".txt",
                                    times::incrementAndGet,
                                    (file, v) -> Files.writeString(file, "value " + v),
                                    v -> Map.of("v", v))
                            .path("v")
                            .asInt())
                    .isEqualTo(1);
        assertThat(times.get()).isEqualTo(1);
        Files.delete(media.result("health", print + ".txt"));
        assertThat(Computed.once(
                                desk,
                                "health",
                                print,
                                ".txt",
                                times::incrementAndGet,
                                (file, v) -> Files.writeString(file, "value " + v),
                                v -> Map.of("v", v))
                        .path("v")
                        .asInt())
                .isEqualTo(2);
        assertThat(media.result("health", print + ".txt")).hasContent("value 2");
    }
}
