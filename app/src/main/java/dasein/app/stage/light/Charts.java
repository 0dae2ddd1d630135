package dasein.app.stage.light;

import dasein.app.stage.Desk;
import dasein.app.stage.FileNames;
import dasein.app.stage.Form;
import dasein.app.stage.Seen;
import dasein.app.store.Plates;
import dasein.core.BadInput;
import dasein.core.light.Clues;
import dasein.core.light.chart.Chart;
import dasein.core.light.pano.MapView;
import dasein.core.light.photo.Photo;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import org.springframework.stereotype.Component;
import org.springframework.web.multipart.MultipartFile;

/** Reads the colour chart: in a frame of the plate, or in a photograph by the plate's or the map's camera. */
@Component
class Charts {
    private static final int LOOK_WIDTH = 1600;

    private final Desk desk;

    Charts(Desk desk) {
        this.desk = desk;
    }

    /** @param f frame, and corners as eight numbers where it is not found by itself */
    Clues.Chart inPlate(Seen s, Clues clues, Form f) {
        int frame = f.whole("frame", "the frame", s.first(), s.first(), s.last());
        String typed = f.text("corners", "");
        double[][] corners = null;
        if (!typed.isEmpty()) {
            double[] v = BallMapWork.numbers(typed, "the chart's corners");
            if (v.length != 8) throw new BadInput("the chart's corners must be four places");
            corners = new double[][] {{v[0], v[1]}, {v[2], v[3]}, {v[4], v[5]}, {v[6], v[7]}};
        }
        try (Plates.Lent lent = desk.plates().need(s.shot())) {
            Photo p = Photo.ofLight("frame " + frame, lent.plate().frame(frame));
            return read(Chart.of(p, null, corners), clues, "plate", p.name, frame, place(f));
        }
    }

    /** Where the chart stood, as said. */
    static String place(Form f) {
        return f.choice("place", "", "", "sun", "shade");
    }

    /** The chart as the shot's map shows it, in a look into it. */
    Clues.Chart inMap(Seen s, Clues clues, Form f) {
        String env = s.shot().light().environment();
        if (env.isEmpty()) throw new BadInput("there is no map to look into");
        MapView v = new MapView(
                f.number("azimuthDeg", "the azimuth", 0, -720, 720),
                f.number("elevationDeg", "the height", 0, -90, 90),
                f.number("fieldDeg", "the field", 60, 2, 150));
        Photo p = Photo.ofLight("the map", v.of(desk.scenes().map(env), LOOK_WIDTH, LOOK_WIDTH * 9 / 16));
        return read(Chart.of(p, null, null), clues, "map", "the map itself", 0, place(f));
    }

    /** @param of whose camera took it: plate or map */
    void photographed(Seen s, MultipartFile file, String of, String place) throws IOException {
        String name = FileNames.of(file);
        String hash = desk.media().photo(file.getInputStream(), name).hash();
        Chart c = Chart.of(Photo.read(desk.media().path(hash)).named(name), null, null);
        desk.shots().change(s.id(), "chart in " + name, k -> {
            Clues clues = k.light().clues();
            return k.with(k.light().with(clues.with(read(c, clues, of, name, 0, place))));
        });
    }

    private static Clues.Chart read(Chart c, Clues clues, String of, String name, int frame, String place) {
        return new Clues.Chart(
                clues.free(),
                of,
                name,
                frame,
                Arrays.stream(c.corners())
                        .flatMap(p -> List.of(round(p[0]), round(p[1])).stream())
                        .toList(),
                Arrays.stream(c.fit().matrix()).boxed().toList(),
                round(c.fit().mean()),
                round(c.fit().worst()),
                place);
    }

    private static double round(double v) {
        return Math.rint(100 * v) / 100;
    }
}
