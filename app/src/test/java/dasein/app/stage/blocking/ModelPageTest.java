package dasein.app.stage.blocking;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.app.ServerTest;
import dasein.app.store.ModelShelf;
import dasein.app.task.Task;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.cast.Performer;
import dasein.core.model.Model;
import dasein.core.model.file.ModelFile;
import dasein.core.shot.Shot;
import java.io.ByteArrayInputStream;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Models and motions that come onto the shelf, are read otherwise, and are given to who has them in the shot. */
class ModelPageTest extends ServerTest {
    private static final String POST = "v 0 0 0\nv 20 0 0\nv 0 0 20\nv 0 300 0\nf 1 2 4\nf 2 3 4\nf 3 1 4\nf 1 3 2\n";

    private static byte[] bytes(String s) {
        return s.getBytes(StandardCharsets.UTF_8);
    }

    private HttpResponse<String> bring(long id, Map<String, byte[]> files, Map<String, String> fields)
            throws Exception {
        return client.upload("/shots/" + id + "/blocking/upload", "file", files, fields);
    }

    private String hashOf(long id, String name) throws Exception {
        return client.get("/shots/" + id + "/blocking")
                .body()
                .replaceAll("(?s).*data-add=\"" + name + "\".*", "$0")
                .replaceAll(
                        "(?s).*name=\"model\"\\s+value=\"([0-9a-f]{64})\"(?:(?!name=\"model\").)*data-add=\"" + name
                                + "\".*",
                        "$1");
    }

    /** Numbers of 300 are taken for centimetres; told that they are metres, everybody who has the model follows. */
    @Test
    void aModelReadOtherwiseStandsWhereItStood() throws Exception {
        long id = make(plated());
        String name = "post" + System.nanoTime();
        assertThat(bring(id, Map.of(name + ".obj", bytes(POST)), Map.of()).statusCode())
                .isEqualTo(302);
        String hash = hashOf(id, name);
        assertThat(hash).matches("[0-9a-f]{64}");
        assertThat(client.get("/shots/" + id + "/blocking").body()).contains("numbers in centimetres");
        shots.change(id, "two posts", s -> {
            Shot one = edit(s, "blocking", "add", "model", hash).shot();
            return edit(one, "blocking", "add", "model", hash).shot();
        });
        assertThat(shots.head(id).shot().performers().get(0).heightMetres()).isCloseTo(3, within(0.01));

        HttpResponse<String> r = client.upload(
                "/shots/" + id + "/blocking/reread", "file", Map.of(), Map.of("model", hash, "unit", "1", "up", "y"));
        assertThat(r.statusCode()).isEqualTo(303);
        Shot after = shots.head(id).shot();
        String now = after.performers().get(0).model();
        assertThat(now).isNotEqualTo(hash);
        assertThat(after.performers()).extracting(Performer::model).containsOnly(now);
        Model m = desk.scenes().model(now);
        assertThat(m.bounds()[4] - m.bounds()[1]).isCloseTo(300, within(0.1f));
        // It keeps the size that it was given.
        assertThat(after.performers().get(1).heightMetres()).isCloseTo(3, within(0.01));
    }

    /** A square of many small ones, in a file too large to be read while one waits. */
    private static byte[] large(int n) {
        StringBuilder s = new StringBuilder();
        for (int j = 0; j <= n; j++)
            for (int i = 0; i <= n; i++)
                s.append("v ")
                        .append(2.0 * i / n)
                        .append(" 0 ")
                        .append(2.0 * j / n)
                        .append('\n');
        for (int j = 0; j < n; j++)
            for (int i = 0; i < n; i++) {
                int v = j * (n + 1) + i + 1;
                s.append("f ")
                        .append(v)
                        .append(' ')
                        .append(v + n + 1)
                        .append(' ')
                        .append(v + n + 2)
                        .append(' ');
                s.append(v + 1).append('\n');
            }
        while (s.length() < 25 << 20) s.append("# ").append(" ".repeat(1000)).append('\n');
        return bytes(s.toString());
    }

    private Task ended(long id) throws Exception {
        long end = System.nanoTime() + 120_000_000_000L;
        while (System.nanoTime() < end) {
            for (Task t : tasks.last(id)) if (t.kind().equals(ModelWork.KIND) && !t.open()) return t;
            Thread.sleep(100);
        }
        throw new AssertionError("it did not end");
    }

    /** What is large comes as a task, and is brought to the size that is told, which can be told anew. */
    @Test
    void aLargeModelIsBroughtToAWorkingSize() throws Exception {
        long id = make(plated());
        String name = "sheet" + System.nanoTime();
        assertThat(bring(id, Map.of(name + ".obj", large(100)), Map.of("triangles", "5000"))
                        .statusCode())
                .isEqualTo(302);
        Task t = ended(id);
        assertThat(t.note()).isEqualTo(name + " stands on the shelf");
        assertThat(t.said()).isEqualTo("Model");
        String hash = hashOf(id, name);
        // All of it lies in one plane: no more is left than its border needs.
        assertThat(desk.scenes().model(hash).triangles()).isBetween(2, 5000);
        assertThat(client.get("/shots/" + id + "/blocking").body()).contains("of its 20,000 triangles");
        shots.change(
                id, "a sheet", s -> edit(s, "blocking", "add", "model", hash).shot());
        Map<String, String> all = Map.of("model", hash, "unit", "1", "up", "y", "triangles", "-1");
        client.upload("/shots/" + id + "/blocking/reread", "file", Map.of(), all);
        assertThat(ended(id).id()).isGreaterThan(t.id());
        String now = shots.head(id).shot().performers().get(0).model();
        assertThat(now).isNotEqualTo(hash);
        assertThat(desk.scenes().model(now).triangles()).isEqualTo(20_000);
    }

    /** What is let go of leaves no files, and cannot be shelved any more. */
    @Test
    void whatIsNotShelvedLeavesNothing() throws Exception {
        ModelShelf.Gathered g =
                shelf.gather(List.of(new ModelShelf.Sent("post.obj", new ByteArrayInputStream(bytes(POST)))));
        Path folder = media.result("shelf", "x")
                .resolve("../../../in")
                .resolve(g.folder())
                .normalize();
        assertThat(folder).isDirectory();
        assertThat(g.takesLong()).isFalse();
        shelf.drop(g);
        assertThat(folder).doesNotExist();
        assertThatThrownBy(() -> shelf.shelve(g, ModelFile.Reading.GUESS, Progress.NONE))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("has to be brought in again");
    }

    @Test
    void whatIsInNoOpenFormatIsToldWhatToAskFor() throws Exception {
        HttpResponse<String> r = bring(make(plated()), Map.of("thing.max9", bytes("closed")), Map.of());
        assertThat(r.statusCode()).isEqualTo(422);
        assertThat(r.body()).contains("no model in an open format").contains("Ask its maker for a GLB, or a DAE");
    }

    @Test
    void aModelComesWithWhatItNames() throws Exception {
        long id = make(plated());
        String name = "sign" + System.nanoTime();
        Map<String, byte[]> files = new LinkedHashMap<>();
        files.put("paint.mtl", bytes("newmtl red\nKd 0.8 0.1 0.1\n"));
        files.put(name + ".obj", bytes("mtllib paint.mtl\nusemtl red\n" + POST));
        assertThat(bring(id, files, Map.of()).statusCode()).isEqualTo(302);
        Model m = desk.scenes().model(hashOf(id, name));
        assertThat(m.materials()[0].name()).isEqualTo("red");
        assertThat(m.materials()[0].baseColor()[0])
                .isGreaterThan(m.materials()[0].baseColor()[1]);
    }

    /** A motion is put onto the performer's own skeleton, by joints that are paired by hand, and plays at once. */
    @Test
    void aMotionIsPutOntoAPerformer() throws Exception {
        long id = make(plated());
        String strider = model("strider");
        shots.change(
                id, "strider", s -> edit(s, "blocking", "add", "model", strider).shot());
        byte[] shake = Files.readAllBytes(Path.of("demo/motions/shake.bvh"));
        assertThat(bring(id, Map.of("shake.bvh", shake), Map.of()).statusCode()).isEqualTo(302);
        String motion = client.get("/shots/" + id + "/blocking")
                .body()
                .replaceAll("(?s).*name=\"motion\"[^>]*value=\"([0-9a-f]{64})\".*", "$1");
        assertThat(motion).matches("[0-9a-f]{64}");
        Map<String, String> fields = new LinkedHashMap<>(Map.of("performer", "1", "motion", motion));
        for (Model.Node n : desk.scenes().model(strider).nodes())
            fields.put("joint " + n.name().replace(' ', '_'), n.name());
        HttpResponse<String> r = client.post("/shots/" + id + "/blocking/motion", fields);
        assertThat(r.statusCode()).as(r.body()).isEqualTo(204);
        Performer p = shots.head(id).shot().performers().get(0);
        assertThat(p.clips()).hasSize(1);
        assertThat(p.clips().get(0).clip()).isEqualTo("shake");
        assertThat(desk.scenes().model(p.model()).clip("shake").seconds()).isCloseTo(2.5, within(0.05));
        // Its own clips are still there.
        assertThat(desk.scenes().model(p.model()).clip("walk")).isNotNull();
        assertThat(client.post("/shots/" + id + "/blocking/motion", Map.of("performer", "7", "motion", motion))
                        .statusCode())
                .isEqualTo(422);
    }

    @Test
    void theShelfShowsAndGivesItsModels() throws Exception {
        String crate = model("crate");
        HttpResponse<byte[]> glb = client.bytes("/shelf/" + crate + ".glb");
        assertThat(glb.statusCode()).isEqualTo(200);
        assertThat(glb.body()).startsWith('g', 'l', 'T', 'F');
        HttpResponse<byte[]> png = client.bytes("/shelf/" + crate + ".png");
        assertThat(png.statusCode()).isIn(200, 204);
        if (png.statusCode() == 200) assertThat(png.body()).startsWith(0x89, 'P', 'N', 'G');
    }
}
