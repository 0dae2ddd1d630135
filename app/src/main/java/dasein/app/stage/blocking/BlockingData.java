package dasein.app.stage.blocking;

import dasein.app.scene.Scenes;
import dasein.app.store.Plates;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.cast.Blocking;
import dasein.core.cast.Card;
import dasein.core.cast.ClipUse;
import dasein.core.cast.Flock;
import dasein.core.cast.Look;
import dasein.core.cast.PartTurn;
import dasein.core.cast.Performer;
import dasein.core.cast.Route;
import dasein.core.cast.Slide;
import dasein.core.cast.Tie;
import dasein.core.key.Curve;
import dasein.core.math.Affine;
import dasein.core.math.Quat;
import dasein.core.model.Model;
import dasein.core.model.Moment;
import dasein.core.model.Texture;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** Performers over the frames, as numbers the page draws: what the renderer will take, so that both agree. */
@RestController
public class BlockingData {
    /** Beyond this many performers or frames the slide is not measured for the page. */
    private static final int MOST_SLIDES = 8, MOST_FRAMES = 400;

    private final Shots shots;
    private final Plates plates;
    private final Scenes scenes;

    BlockingData(Shots shots, Plates plates, Scenes scenes) {
        this.shots = shots;
        this.plates = plates;
        this.scenes = scenes;
    }

    /** A performer as other stages draw it: where it stands first. */
    record Brief(int id, String name, String model, double[] at, double headingDeg, double heightMetres) {}

    /** @param trouble gets the sentence when somebody's place cannot be told */
    List<Brief> brief(Shot s, int first, Map<String, Object> trouble) {
        Blocking b = null;
        try {
            b = scenes.blocking(s);
        } catch (BadInput | NoSolution e) {
            trouble.putIfAbsent("trouble", e.getMessage());
        }
        List<Brief> out = new ArrayList<>();
        for (Performer p : s.performers()) {
            double[] at = {p.x(), p.y(), p.z()};
            double heading = p.headingDeg();
            try {
                if (b != null) {
                    at = b.foot(p.id(), first).array();
                    heading = Affine.headingDeg(b.at(p.id(), first).toSet());
                }
            } catch (BadInput e) {
                trouble.putIfAbsent("trouble", e.getMessage());
            }
            out.add(new Brief(p.id(), p.name(), p.model(), at, heading, p.heightMetres()));
        }
        return out;
    }

    /**
     * A performer over the frames.
     *
     * @param values of the channels without curves; @param called what those with are called; @param sampled them, by
     *     frame
     * @param frames map from the model to the set (12), seconds into the clip, into the one before, share, foot (3)
     * @param turns of parts by frame: x, y, z, w by the node's name, on top of its clip; of a wheel a fifth number, and
     *     the turn takes the place of the clip's
     * @param slide centimetres by frame, null where nothing touches the ground; empty when it was not measured
     */
    record Shown(
            int id,
            String name,
            String model,
            double headingDeg,
            double heightMetres,
            Map<String, Double> values,
            Map<String, Curve> curves,
            Map<String, String> called,
            Map<String, double[]> sampled,
            List<ClipUse> clips,
            Route route,
            double routeLength,
            Tie tie,
            List<PartTurn> parts,
            List<Look> looks,
            Flock flock,
            Card card,
            double aspect,
            List<double[]> frames,
            List<String> clip,
            List<String> before,
            List<Map<String, double[]>> turns,
            Double[] slide,
            double stepSpeed,
            String trouble) {}

    @GetMapping("/shots/{id}/blocking.json")
    List<Shown> all(@PathVariable long id) {
        Shot s = shots.head(id).shot();
        PlateFacts p = plates.facts(s);
        Blocking b = p == null ? null : scenes.blocking(s);
        if (b == null) return List.of();
        int first = ShotSteps.first(s.plate(), p), last = ShotSteps.last(s.plate(), p);
        return s.performers().stream()
                .map(q -> shown(s, b, q, first, last, p.rate().perSecond()))
                .toList();
    }

    private Shown shown(Shot s, Blocking b, Performer p, int first, int last, double rate) {
        Map<String, Double> values = p.rests();
        Map<String, double[]> sampled = new LinkedHashMap<>();
        Map<String, String> called = new LinkedHashMap<>();
        p.curves().forEach((k, c) -> {
            called.put(k, p.called(k));
            double[] v = new double[last - first + 1];
            for (int i = 0; i < v.length; i++) v[i] = c.at(first + i, values.getOrDefault(k, 0.0), rate);
            sampled.put(k, v);
        });
        Model m = scenes.model(p);
        List<double[]> frames = new ArrayList<>();
        List<String> clips = new ArrayList<>(), befores = new ArrayList<>();
        List<Map<String, double[]>> turns = new ArrayList<>();
        Double[] slide = {};
        double steps = 0;
        String trouble = null;
        try {
            for (int f = first; f <= last; f++) {
                Moment now = b.at(p.id(), f);
                double[] v = java.util.Arrays.copyOf(now.toSet(), 18),
                        foot = b.foot(p.id(), f).array();
                v[12] = now.seconds();
                v[13] = now.beforeSeconds();
                v[14] = now.share();
                System.arraycopy(foot, 0, v, 15, 3);
                frames.add(v);
                clips.add(now.clip() == null ? "" : now.clip().name());
                befores.add(now.before() == null ? "" : now.before().name());
                Map<String, double[]> t = new LinkedHashMap<>();
                now.turns()
                        .forEach((node, q) -> t.put(
                                m.nodes().get(node).name(), turn(p, m.nodes().get(node), q)));
                turns.add(t);
            }
            if (p.card() == null
                    && p.flock() == null
                    && s.performers().size() <= MOST_SLIDES
                    && last - first < MOST_FRAMES) {
                Slide w = b.slide(p.id(), last);
                steps = w.stepSpeed();
                slide = java.util.Arrays.stream(w.centimetres())
                        .mapToObj(d -> Double.isNaN(d) ? null : (Double) (Math.rint(100 * d) / 100))
                        .toArray(Double[]::new);
            }
        } catch (BadInput e) {
            trouble = e.getMessage();
        }
        return new Shown(
                p.id(),
                p.name(),
                p.model(),
                p.headingDeg(),
                p.heightMetres(),
                values,
                p.curves(),
                called,
                sampled,
                p.clips(),
                p.route(),
                p.route() == null ? 0 : p.route().walked().length(),
                p.tie(),
                p.parts(),
                p.looks(),
                p.flock(),
                p.card(),
                p.card() == null ? 0 : scenes.footage(p.card().footage()).aspect(),
                frames,
                clips,
                befores,
                turns,
                slide,
                steps,
                trouble);
    }

    private static double[] turn(Performer p, Model.Node node, Quat q) {
        boolean wheel = p.parts().stream().anyMatch(t -> t.wheel() && t.node().equals(node.name()));
        if (!wheel) return new double[] {q.x(), q.y(), q.z(), q.w()};
        float[] r = node.rotation();
        Quat whole = new Quat(r[0], r[1], r[2], r[3]).times(q).unit();
        return new double[] {whole.x(), whole.y(), whole.z(), whole.w(), 1};
    }

    /** What a card shows in a frame, with what is clear cut out. */
    @GetMapping("/shots/{id}/card/{performer}/{frame}.png")
    ResponseEntity<byte[]> card(@PathVariable long id, @PathVariable int performer, @PathVariable int frame)
            throws java.io.IOException {
        Shot s = shots.head(id).shot();
        PlateFacts p = plates.facts(s);
        Card c = s.performers().stream()
                .filter(q -> q.id() == performer)
                .map(Performer::card)
                .filter(k -> k != null)
                .findFirst()
                .orElse(null);
        if (c == null || p == null) throw new Shots.NotThere("there is no such card");
        double seconds = (frame - ShotSteps.first(s.plate(), p)) / p.rate().perSecond();
        Texture t = scenes.footage(c.footage()).shown(c, seconds);
        java.io.ByteArrayOutputStream out = new java.io.ByteArrayOutputStream();
        javax.imageio.ImageIO.write(t.image(), "png", out);
        return ResponseEntity.ok().contentType(MediaType.IMAGE_PNG).body(out.toByteArray());
    }

    /**
     * All copies of a flock in one frame: map to the set (12), seconds into the clip, brightness; little-endian floats.
     */
    @GetMapping("/shots/{id}/flock/{performer}/{frame}.bin")
    ResponseEntity<byte[]> flock(@PathVariable long id, @PathVariable int performer, @PathVariable int frame) {
        Shot s = shots.head(id).shot();
        Blocking b = s.performers().stream().anyMatch(p -> p.id() == performer && p.flock() != null)
                ? scenes.blocking(s)
                : null;
        if (b == null) throw new Shots.NotThere("there is no such flock");
        List<Blocking.Copy> all = b.copies(performer, frame);
        ByteBuffer out = ByteBuffer.allocate(all.size() * 14 * 4).order(ByteOrder.LITTLE_ENDIAN);
        for (Blocking.Copy c : all) {
            for (double v : c.toSet()) out.putFloat((float) v);
            out.putFloat((float) c.seconds()).putFloat((float) c.share());
        }
        return ResponseEntity.ok()
                .contentType(MediaType.APPLICATION_OCTET_STREAM)
                .body(out.array());
    }
}
