package dasein.app.page;

import dasein.app.scene.Scenes;
import dasein.app.scene.ShelfPictures;
import dasein.app.stage.Pictures;
import dasein.app.store.Media;
import dasein.app.store.MediaMapper;
import dasein.app.store.MediaStore;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.MapPicture;
import dasein.core.light.SunSearch;
import dasein.core.light.pano.MapView;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.core.io.FileSystemResource;
import org.springframework.core.io.Resource;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** What lies on the shelf: models as files and as pictures from all sides, maps as small pictures. */
@RestController
public class ShelfPage {
    private static final int SOFT = 256, LONGEST_WAIT = 2500;

    private final MediaMapper media;
    private final MediaStore files;
    private final Scenes scenes;
    private final ShelfPictures pictures;
    /** Of maps that are looked into: found once, since a look is asked for with every movement of a hand. */
    private final Map<String, Float> exposures = new ConcurrentHashMap<>();

    ShelfPage(MediaMapper media, MediaStore files, Scenes scenes, ShelfPictures pictures) {
        this.pictures = pictures;
        this.media = media;
        this.files = files;
        this.scenes = scenes;
    }

    private Media known(String hash, String... kinds) {
        // Also those that were exchanged for others and are still used somewhere.
        Media m = media.find(hash);
        if (m == null || !List.of(kinds).contains(m.kind())) throw new Shots.NotThere("that is not on the shelf");
        return m;
    }

    @GetMapping("/shelf/{hash}.glb")
    ResponseEntity<Resource> model(@PathVariable String hash) {
        known(hash, "model");
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType("model/gltf-binary"))
                .body(new FileSystemResource(files.path(hash)));
    }

    /** Made when it is first asked for; a page does not wait long for it, the next one has it. */
    @GetMapping("/shelf/{hash}.png")
    ResponseEntity<Resource> picture(@PathVariable String hash) throws InterruptedException {
        boolean model = known(hash, "model", "environment").kind().equals("model");
        ShelfPictures.Picture p = model ? pictures.ofModel(hash, LONGEST_WAIT) : pictures.ofMap(hash, LONGEST_WAIT);
        if (p == null)
            return ResponseEntity.noContent()
                    .cacheControl(CacheControl.noStore())
                    .build();
        return ResponseEntity.ok()
                .contentType(MediaType.IMAGE_PNG)
                .cacheControl(p.all() ? CacheControl.maxAge(Duration.ofDays(1)) : CacheControl.noStore())
                .body(new FileSystemResource(p.file()));
    }

    /** The ball a map was made of, photographed anew under it beside the photograph. */
    @GetMapping("/shelf/{hash}-proof.png")
    ResponseEntity<Resource> proof(@PathVariable String hash) {
        known(hash, "environment");
        Path p = files.result("ballproof", hash + ".png");
        if (!Files.exists(p)) throw new Shots.NotThere("that map was not made of a ball here");
        return ResponseEntity.ok().contentType(MediaType.IMAGE_PNG).body(new FileSystemResource(p));
    }

    /** A look into a map, bright as its middle or by stops against that; pictures of one map share their brightness. */
    @GetMapping("/shelf/{hash}-look.jpg")
    ResponseEntity<byte[]> look(
            @PathVariable String hash,
            @RequestParam double azimuth,
            @RequestParam double elevation,
            @RequestParam double field,
            @RequestParam(defaultValue = "640") int width,
            @RequestParam(defaultValue = "360") int height,
            @RequestParam(defaultValue = "0") double stops)
            throws IOException {
        known(hash, "environment");
        if (width < 16 || height < 16 || width > 1920 || height > 1200 || !(Math.abs(stops) <= 20))
            throw new BadInput("a look into a map is at most 1920 x 1200, and within 20 stops");
        Image map = scenes.map(hash);
        Image seen = new MapView(azimuth, elevation, field).of(map, width, height);
        float by = exposures.computeIfAbsent(hash, h -> MapPicture.exposure(map)) * (float) Math.pow(2, stops);
        return Pictures.of(MapPicture.eased(seen, by), CacheControl.maxAge(Duration.ofDays(1)));
    }

    /**
     * A map for lighting in the page: {@value #SOFT} by half as many texels from the top left, three 32-bit floats
     * each, little end first.
     *
     * @param sun whether what stands out of it as a sun stays in it
     */
    @GetMapping("/shelf/{hash}-soft.bin")
    ResponseEntity<byte[]> soft(@PathVariable String hash, @RequestParam(defaultValue = "false") boolean sun) {
        known(hash, "environment");
        Image map = scenes.map(hash);
        while (map.width > 4 * SOFT) map = map.half();
        Image small = (sun ? map : SunSearch.in(map).rest()).resize(SOFT, SOFT / 2);
        ByteBuffer out = ByteBuffer.allocate(12 * SOFT * SOFT / 2).order(ByteOrder.LITTLE_ENDIAN);
        for (int i = 0; i < SOFT * SOFT / 2; i++) for (int c = 0; c < 3; c++) out.putFloat(small.planes[c][i]);
        return ResponseEntity.ok()
                .contentType(MediaType.APPLICATION_OCTET_STREAM)
                .cacheControl(CacheControl.maxAge(Duration.ofDays(1)))
                .body(out.array());
    }
}
