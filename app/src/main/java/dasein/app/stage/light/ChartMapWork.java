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

    /** @throws BadInput when something is missing, with what */
    static void check(LightRecipe l) {
        if (l.environment().isEmpty()) throw new BadInput("there is no map whose colours could be matched");
        for (String of : List.of("plate", "map"))
            if (l.clues().chart(of) == null)
                throw new BadInput("the chart was not read for the " + of + "'s camera yet");
    }

    @Override
    public String run(Task task, Progress progress) throws Exception {
        LightRecipe l = desk.shots().document(task.revisionId()).light();
        check(l);
        Clues.Chart plate = l.clues().chart("plate"), map = l.clues().chart("map");
        double[] m = ChartMatch.between(array(plate.matrix()), array(map.matrix()));
        progress.at(0.2, "bringing the map to the plate's colours");
        MediaMapper.ShelfItem item = desk.shelf().item(l.environment());
        shelf.put(
                task.shotId(),
                ChartMatch.applied(desk.scenes().map(l.environment()), m),
                (item == null ? "map" : item.name()) + " in the plate's colours",
                Map.of(
                        "said",
                        List.of("brought to the plate's colours by the chart in " + plate.name() + " and in "
                                + map.name())),
                "map in the plate's colours",
                k -> k);
        return "the map has the plate's colours now";
    }

    private static double[] array(List<Double> v) {
        return v.stream().mapToDouble(Double::doubleValue).toArray();
    }
}
