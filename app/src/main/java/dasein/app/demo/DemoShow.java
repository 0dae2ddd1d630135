package dasein.app.demo;

import dasein.app.scene.ShelfPictures;
import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.store.Media;
import dasein.app.store.MediaStore;
import dasein.app.store.ModelShelf;
import dasein.app.store.ShotMapper;
import dasein.app.store.Shots;
import dasein.app.task.FrameOrder;
import dasein.app.task.Task;
import dasein.app.task.TaskEnded;
import dasein.app.task.Tasks;
import dasein.core.model.file.ModelFile;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.IntStream;
import org.apache.commons.codec.digest.DigestUtils;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** Loads the show Low Water into an empty database, from the demo folder, and starts its tracks and camera. */
@Component
public class DemoShow {
    private static final Logger LOG = LoggerFactory.getLogger(DemoShow.class);

    private static final long NONE = -1;

    private final String folder;
    private final MediaStore media;
    private final ModelShelf shelf;
    private final Shots shots;
    private final ShotMapper mapper;
    private final Tasks tasks;
    private final Seeing seeing;
    private final ShelfPictures pictures;
    /** Its shot, until frames of it are rendered. */
    private volatile long shown = NONE;

    DemoShow(
            @Value("${dasein.demo}") String folder,
            MediaStore media,
            ModelShelf shelf,
            Shots shots,
            ShotMapper mapper,
            Tasks tasks,
            Seeing seeing,
            ShelfPictures pictures) {
        this.pictures = pictures;
        this.seeing = seeing;
        this.folder = folder;
        this.media = media;
        this.shelf = shelf;
        this.shots = shots;
        this.mapper = mapper;
        this.tasks = tasks;
    }

    @EventListener(ApplicationReadyEvent.class)
    void load() throws IOException {
        if (folder.isEmpty() || !mapper.shots().isEmpty()) return;
        Path demo = Path.of(folder);
        LOG.info("loading the show Low Water");
        Media plate = file(demo.resolve("LW_010.mp4"), "plate"),
                map = file(demo.resolve("kit/slipway_latlong.exr"), "environment");
        Media strider = file(demo.resolve("models/strider.glb"), "model"),
                mule = file(demo.resolve("models/mule.glb"), "model");
        for (Path p : in(demo.resolve("models"))) file(p, "model");
        for (Path p : in(demo.resolve("motions"))) file(p, "motion");
        ObjectNode document = (ObjectNode) new JsonMapper()
                .readTree(Files.readString(demo.resolve("LW_010.json"))
                        .replace("@plate", plate.hash())
                        .replace("@map", map.hash())
                        .replace("@strider", strider.hash())
                        .replace("@mule", mule.hash()));
        Shot shot = ShotJson.read(document.toString());
        long id = shots.create("Low Water", "LW_010", shot);
        tasks.start(id, shots.head(id).revision().id(), "camera", "Camera", "");
        tasks.start(id, shots.head(id).revision().id(), "health", "Plate health", "");
        shown = id;
    }

    /** Once its camera is there, frames are rendered while nothing else is to be done: Comp has something to show. */
    @EventListener
    void rendered(TaskEnded ended) {
        if (ended.shot() != shown) return;
        Seen s = seeing.of(shown);
        Task camera = s.last("camera");
        if (camera == null
                || !camera.state().equals("done")
                || s.shot().performers().isEmpty()) return;
        shown = NONE;
        List<Integer> frames =
                IntStream.rangeClosed(s.cutFirst(), s.cutLast()).boxed().toList();
        tasks.startFrames(
                s.id(),
                s.head().revision().id(),
                "passes",
                "Passes in the background",
                FrameOrder.ENDS_FIRST.of(frames),
                true);
    }

    private static List<Path> in(Path folder) throws IOException {
        if (!Files.isDirectory(folder)) return List.of();
        try (var list = Files.list(folder)) {
            return list.sorted().toList();
        }
    }

    private Media file(Path p, String kind) throws IOException {
        String name = p.getFileName().toString();
        try (InputStream in = Files.newInputStream(p)) {
            return switch (kind) {
                case "plate" -> media.plate(in, name);
                case "motion" -> shelf.motion(in, name);
                case "model" -> model(p, name, in);
                default -> media.environment(in, name);
            };
        }
    }

    /** With its picture, which takes a cold start seconds to make: it lies there before anybody asks for it. */
    private Media model(Path p, String name, InputStream in) throws IOException {
        Path picture = p.resolveSibling("../pictures/" + name.replace(".glb", ".png"));
        if (Files.exists(picture)) pictures.give(DigestUtils.sha256Hex(Files.readAllBytes(p)), picture);
        return shelf.bring(List.of(new ModelShelf.Sent(name, in)), ModelFile.Reading.GUESS);
    }
}
