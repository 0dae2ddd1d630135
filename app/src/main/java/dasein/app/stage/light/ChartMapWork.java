package dasein.app.stage.light;

import dasein.app.stage.Desk;
import dasein.app.store.MediaMapper;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.light.Clues;
import dasein.core.light.LightRecipe;
import dasein.core.light.chart.ChartMatch;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Brings the shot's map to the plate's colours by the chart that both cameras photographed. */
@Component
class ChartMapWork implements Work {
    static final String KIND = "chartmap";

    private final Desk desk;
    private final MapShelf shelf;

    ChartMapWork(Desk desk, MapShelf shelf) {
        this.shelf = shelf;
        this.desk = desk;
    }

    @Override
    public String kind() {
        return KIND;
    }

    /**
     * Which of the plate's charts and which of the map's, by their numbers; 0 for the first.
     *
     * @throws BadInput when something is missing, with what
     */
    record Chosen(int plate, int map) {
        static Chosen of(LightRecipe l, String settings) {
            double[] v = settings.isEmpty() ? new double[2] : BallMapWork.numbers(settings, "the charts");
            Chosen c = new Chosen((int) v[0], (int) v[1]);
            if (l.environment().isEmpty()) throw new BadInput("there is no map whose colours could be matched");
            if (l.clues().chart("plate", c.plate) == null)
                throw new BadInput("the chart was not read for the plate's camera yet");
            if (l.clues().chart("map", c.map) == null)
                throw new BadInput("the chart was not read for the map's camera yet");
            return c;
        }
    }

    @Override
    public String run(Task task, Progress progress) throws Exception {
        LightRecipe l = desk.shots().document(task.revisionId()).light();
        Chosen by = Chosen.of(l, task.settings());
        Clues.Chart plate = l.clues().chart("plate", by.plate), map = l.clues().chart("map", by.map);
        double[] m = ChartMatch.between(array(plate.matrix()), array(map.matrix()));
        progress.at(0.2, "bringing the map to the plate's colours");
        MediaMapper.ShelfItem item = desk.shelf().item(l.environment());
        shelf.put(
                task.shotId(),
                ChartMatch.applied(desk.scenes().map(l.environment()), m),
                (item == null ? "map" : item.name()) + " in the plate's colours",
                Map.of(
                        "said",
                        List.of("brought to the plate's colours by the chart in " + plate.said() + " and in "
                                + map.said())),
                "map in the plate's colours",
                k -> k);
        return "the map has the plate's colours now";
    }

    private static double[] array(List<Double> v) {
        return v.stream().mapToDouble(Double::doubleValue).toArray();
    }
}
