package dasein.app.stage.tracks;

import dasein.app.stage.Desk;
import dasein.app.store.Shots;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** Tracks as numbers the page draws. */
@RestController
class TracksData {
    private final Desk desk;
    private final TrackWork tracking;

    TracksData(Desk desk, TrackWork tracking) {
        this.desk = desk;
        this.tracking = tracking;
    }

    /** Every track: number, first frame, then x, y for each frame up to its last; null where it was hidden. */
    @GetMapping("/shots/{id}/tracks.json")
    List<Double[]> tracks(@PathVariable long id) {
        Shot s = desk.shots().head(id).shot();
        List<Track> t = new ArrayList<>(desk.results().byHand(s));
        if (desk.results().tracks(s) != null) t.addAll(desk.results().tracks(s));
        List<Double[]> out = new ArrayList<>();
        for (Track k : ShotSteps.kept(s.tracks(), t)) {
            int first = k.frames()[0];
            Double[] v = new Double[2 + 2 * (k.frames()[k.length() - 1] - first + 1)];
            v[0] = (double) k.id();
            v[1] = (double) first;
            for (int i = 0; i < k.length(); i++) {
                int at = 2 + 2 * (k.frames()[i] - first);
                v[at] = Math.rint(k.x()[i] * 100) / 100;
                v[at + 1] = Math.rint(k.y()[i] * 100) / 100;
            }
            out.add(v);
        }
        return out;
    }

    /**
     * One line for each track that is left. Speed: the fastest, pixels a frame; match: the mean, null where it was not
     * measured.
     */
    record TrackLine(int id, int from, int to, int frames, double speed, Double match, String reason) {}

    @GetMapping("/shots/{id}/tracks/list.json")
    List<TrackLine> list(@PathVariable long id) {
        Shot s = desk.shots().head(id).shot();
        List<Track> t = new ArrayList<>(desk.results().byHand(s));
        if (desk.results().tracks(s) != null) t.addAll(desk.results().tracks(s));
        Map<Integer, String> reasons = new HashMap<>();
        var facts = desk.results().facts("tracks", Prints.tracks(s));
        if (facts != null)
            for (var d : facts.path("doubts"))
                reasons.put(d.path("track").asInt(), d.path("reason").asString());
        return ShotSteps.kept(s.tracks(), t).stream()
                .map(k -> line(k, reasons.get(k.id())))
                .toList();
    }

    private static TrackLine line(Track k, String reason) {
        double speed = 0, match = 0;
        int n = 0;
        for (int i = 0; i < k.length(); i++) {
            if (i > 0 && k.frames()[i] == k.frames()[i - 1] + 1)
                speed = Math.max(speed, Math.hypot(k.x()[i] - k.x()[i - 1], k.y()[i] - k.y()[i - 1]));
            if (Float.isNaN(k.match()[i])) continue;
            match += k.match()[i];
            n++;
        }
        return new TrackLine(
                k.id(),
                k.frames()[0],
                k.frames()[k.length() - 1],
                k.length(),
                Math.rint(100 * speed) / 100,
                n == 0 ? null : Math.rint(1000 * match / n) / 1000,
                reason);
    }

    /** The marks alive in the frame tracked last, while this process is tracking; else nothing. */
    @GetMapping("/shots/{id}/tracks/live.json")
    ResponseEntity<TrackWork.Live> live(@PathVariable long id) {
        TrackWork.Live l = tracking.live(id);
        return l == null ? ResponseEntity.noContent().build() : ResponseEntity.ok(l);
    }

    /** How well one track was matched in each of its frames: {frame, match}; match null where it was not measured. */
    @GetMapping("/shots/{id}/tracks/{track:\\d+}.json")
    List<Double[]> match(@PathVariable long id, @PathVariable int track) {
        Shot s = desk.shots().head(id).shot();
        List<Track> t = new ArrayList<>(desk.results().byHand(s));
        if (desk.results().tracks(s) != null) t.addAll(desk.results().tracks(s));
        Track k = t.stream()
                .filter(q -> q.id() == track)
                .findFirst()
                .orElseThrow(() -> new Shots.NotThere("there is no track " + track));
        List<Double[]> out = new ArrayList<>();
        for (int i = 0; i < k.length(); i++)
            out.add(new Double[] {
                (double) k.frames()[i], Float.isNaN(k.match()[i]) ? null : Math.rint(1000 * k.match()[i]) / 1000
            });
        return out;
    }
}
