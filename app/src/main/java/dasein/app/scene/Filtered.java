package dasein.app.scene;

import dasein.app.store.Held;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.core.plate.PlateFacts;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import dasein.core.solve.SolvedCamera;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.IntFunction;
import org.springframework.stereotype.Component;

/** Frames that are filtered over their neighbours: which those are, and where the results lie. */
@Component
public class Filtered {
    public static final String KIND = "filtered";
    /** Of the passes with all their noise, by the same prints as the passes. */
    public static final String RAW = "raw";

    private final Plates plates;
    /** Each is a neighbour of several. Nobody changes them. */
    private final Held<Passes> raws = new Held<>(0.15, Passes::bytes);

    private final Results results;

    Filtered(Plates plates, Results results) {
        this.plates = plates;
        this.results = results;
    }

    public static boolean asked(Shot s) {
        return s.passes().overFrames() > 0;
    }

    /** The frames over which one is filtered, itself among them. */
    public List<Integer> window(Shot s, int frame) {
        return windows(s).apply(frame);
    }

    /** The same of many frames: plate and camera are looked up once. */
    public IntFunction<List<Integer>> windows(Shot s) {
        PlateFacts p = plates.facts(s);
        SolvedCamera c = results.camera(s);
        return f -> p == null || c == null || !c.has(f) ? List.of(f) : ShotScene.window(s, c, f, p);
    }

    public String print(Shot s, int frame) {
        return prints(s, List.of(frame)).get(frame);
    }

    /** Of many frames, which are neighbours of each other: each one's own print is found once. */
    public Map<Integer, String> prints(Shot s, List<Integer> frames) {
        IntFunction<List<Integer>> windows = windows(s);
        Map<Integer, String> single = new HashMap<>(), out = new HashMap<>();
        for (int f : frames) {
            List<Integer> window = windows.apply(f);
            List<String> of = window.stream()
                    .map(k -> single.computeIfAbsent(k, n -> Prints.frame(s, n)))
                    .toList();
            out.put(f, Prints.filtered(of, window.indexOf(f)));
        }
        return out;
    }

    /** The file with the passes of a frame as they are used: filtered over its neighbours where that is done. */
    public Path file(Shot s, int frame) {
        Path over = asked(s) ? results.file(KIND, print(s, frame)) : null;
        return over != null ? over : results.file("passes", Prints.frame(s, frame));
    }

    public boolean done(Shot s, int frame) {
        return asked(s) && results.find(KIND, print(s, frame)) != null;
    }

    /** Passes of a frame with all their noise; null when they were not kept. */
    public Passes raw(Shot s, int frame) {
        Path file = results.file(RAW, Prints.frame(s, frame));
        return file == null ? null : raws.get(file.toString(), () -> Passes.read(file));
    }
}
