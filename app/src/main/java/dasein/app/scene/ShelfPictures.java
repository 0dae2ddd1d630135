package dasein.app.scene;

import dasein.app.store.MediaStore;
import dasein.app.store.ModelShelf;
import dasein.core.format.SafeWrite;
import dasein.core.light.MapPicture;
import dasein.core.shot.Turntable;
import java.awt.image.BufferedImage;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Supplier;
import javax.imageio.ImageIO;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/**
 * Small pictures of what lies on the shelf. A model is seen from its first side as soon as it has come; its other sides
 * are looked at when somebody asks for them, one model after the other.
 */
@Component
public class ShelfPictures {
    private static final int MAP_WIDTH = 272;

    private final MediaStore files;
    private final Scenes scenes;
    private final ExecutorService first = one("shelf pictures"), rest = one("shelf pictures, all sides");
    private final Map<Path, Future<?>> making = new ConcurrentHashMap<>();

    ShelfPictures(MediaStore files, Scenes scenes) {
        this.files = files;
        this.scenes = scenes;
    }

    private static ExecutorService one(String name) {
        return Executors.newSingleThreadExecutor(r -> {
            Thread t = new Thread(r, name);
            t.setDaemon(true);
            t.setPriority(Thread.NORM_PRIORITY - 1);
            return t;
        });
    }

    /** @param all whether it shows all sides */
    public record Picture(Path file, boolean all) {}

    @EventListener
    void shelved(ModelShelf.Shelved s) {
        front(s.hash());
    }

    /** Takes a picture of a model from all sides that was made elsewhere. */
    public void give(String hash, Path strip) {
        SafeWrite.to(
                files.result("shelf", hash + ".png"),
                tmp -> Files.copy(strip, tmp, StandardCopyOption.REPLACE_EXISTING));
    }

    /** @return what there is of a model within that time, null for nothing */
    public Picture ofModel(String hash, long millis) throws InterruptedException {
        Path all = files.result("shelf", hash + ".png"), front = files.result("shelf", hash + "-front.png");
        if (Files.exists(all)) return new Picture(all, true);
        Future<?> made = front(hash);
        made(all, rest, () -> Turntable.strip(scenes.model(hash), Turntable.VIEWS, Turntable.WIDTH, Turntable.HEIGHT));
        if (!Files.exists(front) && !done(made, millis)) return null;
        return new Picture(front, false);
    }

    public Picture ofMap(String hash, long millis) throws InterruptedException {
        Path p = files.result("shelf", hash + ".png");
        if (!Files.exists(p) && !done(made(p, first, () -> MapPicture.of(scenes.map(hash), MAP_WIDTH)), millis))
            return null;
        return new Picture(p, true);
    }

    private Future<?> front(String hash) {
        if (Files.exists(files.result("shelf", hash + ".png"))) return CompletableFuture.completedFuture(null);
        Path p = files.result("shelf", hash + "-front.png");
        return made(
                p,
                first,
                () -> Turntable.strip(scenes.model(hash), Turntable.VIEWS, 1, Turntable.WIDTH, Turntable.HEIGHT));
    }

    private Future<?> made(Path p, ExecutorService by, Supplier<BufferedImage> picture) {
        return making.computeIfAbsent(
                p,
                q -> by.submit(() -> {
                    try {
                        if (!Files.exists(p)) SafeWrite.to(p, tmp -> ImageIO.write(picture.get(), "png", tmp.toFile()));
                    } finally {
                        making.remove(p);
                    }
                }));
    }

    private static boolean done(Future<?> made, long millis) throws InterruptedException {
        try {
            made.get(millis, TimeUnit.MILLISECONDS);
            return true;
        } catch (ExecutionException | TimeoutException e) {
            return false;
        }
    }
}
