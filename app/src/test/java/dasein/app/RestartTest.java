package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.File;
import java.io.IOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/**
 * The application is killed in the middle of a render and started again: the render goes on, finished frames are kept.
 */
class RestartTest {
    @TempDir
    Path folder;

    private Process server;
    private int port;
    private Client client;

    @AfterEach
    void stop() {
        if (server != null) server.destroyForcibly();
    }

    private void start(String database) throws Exception {
        try (ServerSocket s = new ServerSocket(0)) {
            port = s.getLocalPort();
        }
        ProcessBuilder b = new ProcessBuilder(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-Xmx2g",
                "-Dorg.bytedeco.javacpp.cachedir=" + System.getProperty("org.bytedeco.javacpp.cachedir"),
                "-Dorg.lwjgl.system.SharedLibraryExtractPath="
                        + System.getProperty("org.lwjgl.system.SharedLibraryExtractPath"),
                "-cp",
                System.getProperty("java.class.path"),
                "dasein.app.Dasein",
                "serve",
                "--server.port=" + port,
                "--spring.datasource.url=" + database,
                "--dasein.media=" + folder.resolve("media"));
        b.redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.appendTo(new File(folder.toFile(), "log.txt")));
        server = b.start();
        client = new Client(port);
        Await.until("the server answers", () -> {
            try {
                return client.get("/actuator/health").statusCode() == 200;
            } catch (IOException e) {
                return false;
            }
        });
    }

    private JsonNode data() throws Exception {
        return client.json("/shots/1/data.json");
    }

    private void send(String path, String field, Path file, Map<String, String> fields) throws Exception {
        assertThat(client.upload(path, field, file.getFileName().toString(), Files.readAllBytes(file), fields)
                        .statusCode())
                .isEqualTo(302);
    }

    @Test
    void aKilledRenderGoesOnAndFinishedFramesAreKept() throws Exception {
        String database = TestDatabase.make("restart_test");
        start(database);
        send("/shots", "plate", Path.of("demo/LW_040.mp4"), Map.of("show", "Low Water", "name", "LW_R"));
        assertThat(client.post("/shots/1/plate/edit", Map.of("last", "20")).statusCode())
                .isEqualTo(200);
        send(
                "/shots/1/camera/upload",
                "file",
                TestDemo.camera(folder.resolve("known.json"), 36),
                Map.of("as", "camera"));
        send("/shots/1/blocking/upload", "file", Path.of("demo/models/crate.glb"), Map.of());
        Await.until("the camera is read", () -> data().has("camera"));
        String model = client.get("/shots/1/blocking")
                .body()
                .replaceAll("(?s).*name=\"model\"\\s+value=\"([0-9a-f]{64})\".*", "$1");
        assertThat(client.post("/shots/1/blocking/edit", Map.of("action", "add", "model", model))
                        .statusCode())
                .isEqualTo(200);
        assertThat(client.post("/shots/1/passes/edit", Map.of("size", "0.25", "minSamples", "12", "maxSamples", "12"))
                        .statusCode())
                .isEqualTo(200);
        assertThat(client.post("/shots/1/passes/start", Map.of()).statusCode()).isEqualTo(200);
        Await.until("some frames are finished", () -> data().path("rendered").size() >= 3);
        server.destroyForcibly().waitFor();
        Map<Path, FileTime> finished = new HashMap<>();
        try (var list = Files.list(folder.resolve("media/out/passes"))) {
            for (Path p : list.filter(f -> !f.getFileName().toString().startsWith("."))
                    .toList()) finished.put(p, Files.getLastModifiedTime(p));
        }
        assertThat(finished.size()).isBetween(3, 19);
        start(database);
        Await.until("the rest is rendered", () -> data().path("rendered").size() == 20);
        for (var e : finished.entrySet()) {
            // At most the frame that was being stored at the moment of the kill may be done again.
            if (!Files.getLastModifiedTime(e.getKey()).equals(e.getValue())) finished.put(e.getKey(), null);
        }
        assertThat(finished.values().stream().filter(java.util.Objects::isNull).count())
                .isLessThanOrEqualTo(2);
        Await.until("the task is done", () -> {
            String page = client.get("/tasks").body();
            return page.contains(">done<") && !page.contains(">running<");
        });
    }
}
