package dasein.app.stage.output;

import dasein.app.scene.Filtered;
import dasein.app.stage.Desk;
import dasein.app.store.ShotMapper;
import dasein.core.BadInput;
import dasein.core.format.SafeWrite;
import dasein.core.render.pass.Passes;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.file.CameraFile;
import dasein.core.solve.file.ObjectFile;
import dasein.core.track.DrawnMask;
import dasein.core.track.HandMark;
import dasein.core.track.TrackFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.function.BiConsumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Results that go with a shot which is taken away, so that where it is brought in nothing has to be computed anew. Each
 * says what it is of, not by which print it was kept: its print follows from the document there, whose plate may have
 * been packed anew. Computed by other engines they are left alone.
 */
@Component
class ResultsAlong {
    private static final JsonMapper JSON = JsonMapper.builder().build();
    /** In the order in which they are brought in: what is of a frame needs the camera's window. */
    private static final List<String> KINDS =
            List.of("tracks", "marks", "planes", "camera", "object", "passes", Filtered.KIND);

    private static final Pattern SUFFIX = Pattern.compile("\\.(csv|json|exr)$");

    private final Desk desk;

    ResultsAlong(Desk desk) {
        this.desk = desk;
    }

    /** @param of number of a mark, mask, thing or frame; 0 for the only one; @param file in the zip, empty for none */
    record Item(String kind, int of, JsonNode facts, String file) {}

    /** @param engines by which all of them were computed */
    record All(String engines, List<Item> items) {}

    /** @param rendered frames, too; @param file is told each one's name in the zip, and where it lies */
    All of(Shot s, boolean rendered, BiConsumer<String, Path> file) {
        List<Item> out = new ArrayList<>();
        for (String kind : KINDS) {
            if (ofFrames(kind) && !rendered) continue;
            for (int of : wanted(s, kind)) {
                String print = print(s, kind, of);
                ShotMapper.Result r = print == null ? null : desk.results().find(kind, print);
                if (r == null) continue;
                String name = "";
                if (!r.file().isEmpty()) {
                    Path p = desk.results().file(kind, print);
                    Matcher suffix = SUFFIX.matcher(r.file());
                    if (p == null || !suffix.find()) continue;
                    name = "results/" + kind + "/" + of + suffix.group();
                    file.accept(name, p);
                }
                out.add(new Item(kind, of, JSON.readTree(r.facts()), name));
            }
        }
        return new All(Prints.engines(), out);
    }

    private static boolean ofFrames(String kind) {
        return kind.equals("passes") || kind.equals(Filtered.KIND);
    }

    private List<Integer> wanted(Shot s, String kind) {
        return switch (kind) {
            case "marks" -> s.tracks().marks().stream().map(HandMark::id).toList();
            case "planes" -> s.tracks().masks().stream().map(DrawnMask::id).toList();
            case "object" ->
                s.camera().objects().stream().map(CameraRecipe.Moved::id).toList();
            case "passes", Filtered.KIND -> {
                var p = desk.plates().facts(s);
                List<Integer> frames = new ArrayList<>();
                if (p != null)
                    for (int f = ShotSteps.first(s.plate(), p); f <= ShotSteps.last(s.plate(), p); f++) frames.add(f);
                yield frames;
            }
            default -> List.of(0);
        };
    }

    /** By which it is kept; null where the document has no such thing. */
    private String print(Shot s, String kind, int of) {
        return switch (kind) {
            case "tracks" -> Prints.tracks(s);
            case "camera" -> Prints.camera(s);
            case "marks" ->
                s.tracks().marks().stream()
                        .filter(m -> m.id() == of)
                        .map(m -> Prints.mark(s, m))
                        .findFirst()
                        .orElse(null);
            case "planes" ->
                s.tracks().masks().stream()
                        .filter(m -> m.id() == of && m.carry() == DrawnMask.Carry.PLANE)
                        .map(m -> Prints.plane(s, m))
                        .findFirst()
                        .orElse(null);
            case "object" ->
                s.camera().objects().stream()
                        .filter(o -> o.id() == of)
                        .map(o -> Prints.object(s, o))
                        .findFirst()
                        .orElse(null);
            case "passes" -> Prints.frame(s, of);
            case Filtered.KIND -> Filtered.asked(s) ? desk.filtered().print(s, of) : null;
            default -> null;
        };
    }

    /** Where a file of the zip lies unpacked. */
    interface Unpacked {
        Path file(String name) throws IOException;
    }

    /**
     * Keeps those that are of this document and were computed as they would be here; what is here already stays.
     *
     * @throws BadInput when one is not what it says it is
     */
    void bring(Shot s, All all, Unpacked zip) throws IOException {
        if (!Prints.engines().equals(all.engines())) return;
        for (String kind : KINDS)
            for (Item k : all.items()) {
                if (!kind.equals(k.kind())) continue;
                String print = print(s, kind, k.of());
                if (print == null || desk.results().find(kind, print) != null) continue;
                if (k.facts() == null || !k.facts().isObject()) throw new BadInput("a result in that zip says nothing");
                if (k.file().isEmpty()) {
                    if (!kind.equals("planes")) throw new BadInput("a result in that zip has no file");
                    desk.results().save(kind, print, k.facts(), "");
                    continue;
                }
                Matcher suffix = SUFFIX.matcher(k.file());
                if (!suffix.find()) throw new BadInput(k.file() + " is of no known kind");
                Path p = zip.file(k.file());
                read(kind, p);
                String name = print + suffix.group();
                SafeWrite.to(
                        desk.media().result(kind, name), to -> Files.copy(p, to, StandardCopyOption.REPLACE_EXISTING));
                desk.results().save(kind, print, k.facts(), name);
            }
    }

    private static void read(String kind, Path p) {
        switch (kind) {
            case "tracks", "marks" -> TrackFile.read(p);
            case "camera" -> CameraFile.read(p);
            case "object" -> ObjectFile.read(p);
            default -> Passes.read(p);
        }
    }
}
