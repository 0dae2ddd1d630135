package dasein.app.stage.camera;

import dasein.app.scene.Scenes;
import dasein.app.stage.Form;
import dasein.app.store.MediaStore;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.ground.GroundFit;
import dasein.core.ground.Piece;
import dasein.core.ground.Shape;
import dasein.core.math.Pose;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.SetPieces;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.ObjectSolver;
import dasein.core.solve.SolveDifference;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.LensFile;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The solved camera, the solves beside it and the things that move, as numbers the page draws. */
@RestController
public class CameraData {
    private final Shots shots;
    private final Plates plates;
    private final Results results;
    private final MediaStore media;
    private final CameraEdits cameraEdits;
    private final Scenes scenes;
    /** Triangle corners beyond which a piece is shown as a box. */
    private static final int MOST_SHOWN = 60_000;

    CameraData(Shots shots, Plates plates, Results results, MediaStore media, CameraEdits cameraEdits, Scenes scenes) {
        this.scenes = scenes;
        this.shots = shots;
        this.plates = plates;
        this.results = results;
        this.media = media;
        this.cameraEdits = cameraEdits;
    }

    /** Frame, pose row by row, focal length, error, marks, uncertainty of the place. */
    private static double[] frame(SolvedCamera.Frame f) {
        double[] v = new double[17];
        v[0] = f.frame();
        System.arraycopy(f.pose().matrix(), 0, v, 1, 12);
        v[13] = f.focalPx();
        v[14] = f.rmsPx();
        v[15] = f.tracks();
        v[16] = Double.isNaN(f.off()) ? 0 : f.off();
        return v;
    }

    private static Map<String, Object> lens(SolvedCamera c, List<double[]> frames) {
        return Map.of(
                "k1",
                c.k1(),
                "k2",
                c.k2(),
                "k3",
                c.lens().k3(),
                "p1",
                c.lens().p1(),
                "p2",
                c.lens().p2(),
                "cx",
                c.centreX(),
                "cy",
                c.centreY(),
                "frames",
                frames,
                "readout",
                c.readout(),
                "height",
                c.height());
    }

    /** @param c in the set's frame */
    void put(Map<String, Object> m, Shot s, SolvedCamera c) {
        List<double[]> frames = new ArrayList<>(), points = new ArrayList<>();
        for (SolvedCamera.Frame f : c.frames()) frames.add(frame(f));
        for (SolvedCamera.Point q : c.points())
            points.add(new double[] {
                q.id(),
                q.position().x(),
                q.position().y(),
                q.position().z(),
                q.rmsPx(),
                Double.isFinite(q.off()) ? q.off() : 0
            });
        m.put("camera", lens(c, frames));
        m.put("others", others(s));
        Map<Integer, NavigableMap<Integer, Pose>> ways = results.moved(s);
        m.put("moved", moved(s, ways));
        m.put("points", points);
        GroundFit.Result g = results.set(s);
        m.put(
                "ground",
                Map.of(
                        "points",
                        g.points(),
                        "scaled",
                        g.scaled(),
                        "chosen",
                        !s.set().groundPoints().isEmpty()));
        m.put("yardsticks", s.set().yardsticks());
        // Picked points are chosen and measured like solved ones.
        results.places(s, scenes::model).forEach((id, p) -> points.add(new double[] {id, p.x(), p.y(), p.z(), 0, 0}));
        m.put("picked", s.set().points());
        m.put("edges", s.set().edges());
        List<ShownPiece> pieces = new ArrayList<>();
        for (Piece p : s.set().pieces()) {
            Shape shape = results.shape(s, p, () -> scenes.model(p.model()));
            boolean large = shape.index().length > MOST_SHOWN;
            pieces.add(new ShownPiece(
                    p.id(),
                    p.name(),
                    p.kind(),
                    new double[] {p.x(), p.y(), p.z()},
                    p.headingDeg(),
                    p.roles(),
                    large ? bounds(shape.xyz()) : shape.edges(),
                    large ? new float[0] : shape.xyz(),
                    large ? new int[0] : shape.index(),
                    new double[] {p.width(), p.height(), p.depth()},
                    carried(s, p, ways)));
        }
        m.put("pieces", pieces);
    }

    /** A set piece as the page draws it: edges worth a line, and its triangles. */
    record ShownPiece(
            int id,
            String name,
            Piece.Kind kind,
            double[] at,
            double headingDeg,
            List<Piece.Role> roles,
            List<float[]> edges,
            float[] xyz,
            int[] index,
            double[] size,
            Map<Integer, double[]> carried) {}

    /** Of a model too large to be drawn as it is: the box that holds it. */
    private static List<float[]> bounds(float[] xyz) {
        float[] lo = {Float.MAX_VALUE, Float.MAX_VALUE, Float.MAX_VALUE},
                hi = {-Float.MAX_VALUE, -Float.MAX_VALUE, -Float.MAX_VALUE};
        for (int i = 0; i < xyz.length; i++) {
            lo[i % 3] = Math.min(lo[i % 3], xyz[i]);
            hi[i % 3] = Math.max(hi[i % 3], xyz[i]);
        }
        List<float[]> out = new ArrayList<>();
        for (int a = 0; a < 3; a++) {
            for (int k = 0; k < 4; k++) {
                float[] e = new float[6];
                int b = (a + 1) % 3, c = (a + 2) % 3;
                e[a] = lo[a];
                e[3 + a] = hi[a];
                e[b] = e[3 + b] = (k & 1) == 0 ? lo[b] : hi[b];
                e[c] = e[3 + c] = (k & 2) == 0 ? lo[c] : hi[c];
                out.add(e);
            }
        }
        return out;
    }

    /** Where a piece that is keyed or follows something has moved, by frame; empty for one that stands. */
    private Map<Integer, double[]> carried(Shot s, Piece p, Map<Integer, NavigableMap<Integer, Pose>> ways) {
        Map<Integer, double[]> out = new LinkedHashMap<>();
        if (p.follows() == 0 && !p.moves()) return out;
        SolvedCamera camera = results.camera(s);
        for (SolvedCamera.Frame f : camera.frames()) {
            Pose m = SetPieces.motion(p, ways, f.frame(), camera.rate().perSecond());
            if (m != null) out.put(f.frame(), m.matrix());
        }
        return out;
    }

    /** Paths of the kept solves that do not count, laid over the one that does. */
    private List<Map<String, Object>> others(Shot s) {
        List<Map<String, Object>> out = new ArrayList<>();
        SolvedCamera now = results.cameraInSet(s);
        for (CameraRecipe.Kept k : s.camera().kept()) {
            SolvedCamera c = k.print().equals(Prints.camera(s)) ? null : results.keptSolve(k.print());
            SolveDifference d = c == null ? null : SolveDifference.of(now, c);
            if (d != null)
                out.add(Map.of(
                        "name",
                        k.name(),
                        "path",
                        c.frames().stream()
                                .map(f -> d.lay().apply(f.pose().position()).array())
                                .toList(),
                        "rms",
                        c.frames().stream()
                                .map(f -> new double[] {f.frame(), f.rmsPx()})
                                .toList()));
        }
        return out;
    }

    /** Things that move, in the set: pose in each frame, points in the thing's own frame. */
    private List<Map<String, Object>> moved(Shot s, Map<Integer, NavigableMap<Integer, Pose>> ways) {
        List<Map<String, Object>> out = new ArrayList<>();
        double k = results.set(s).toSet().scale();
        for (CameraRecipe.Moved o : s.camera().objects()) {
            ObjectSolver.Result r = results.object(s, o);
            if (r == null) continue;
            Map<Integer, double[]> frames = new LinkedHashMap<>();
            ways.get(o.id()).forEach((f, pose) -> frames.put(f, pose.matrix()));
            out.add(Map.of(
                    "id",
                    o.id(),
                    "name",
                    o.name(),
                    "frames",
                    frames,
                    "points",
                    r.points().stream()
                            .map(p -> new double[] {
                                p.id(),
                                k * p.position().x(),
                                k * p.position().y(),
                                k * p.position().z(),
                                p.rmsPx()
                            })
                            .toList()));
        }
        return out;
    }

    /**
     * The perspective that a change of what it is matched by would give, nothing kept: for looking while something is
     * dragged.
     */
    @PostMapping("/shots/{id}/camera/perspective")
    Map<String, Object> perspective(@PathVariable long id, @RequestParam Map<String, String> fields) {
        Form f = new Form(fields);
        Shot s = cameraEdits
                .apply(shots.head(id).shot(), f.text("action", ""), f)
                .shot();
        if (!s.camera().locked()) throw new BadInput("only a camera that stands still is matched");
        try (Plates.Lent lent = plates.need(s)) {
            LensFile.Calibrated held = s.camera().lens().isEmpty()
                    ? null
                    : LensFile.read(media.path(s.camera().lens()));
            SolvedCamera c = ShotSteps.inSet(s, ShotSteps.camera(s, null, lent.plate(), null, held, Progress.NONE));
            return Map.of(
                    "rms", c.rmsPx(), "camera", lens(c, List.of(frame(c.frames().get(0)))));
        } catch (BadInput | NoSolution e) {
            return Map.of("trouble", e.getMessage());
        }
    }
}
