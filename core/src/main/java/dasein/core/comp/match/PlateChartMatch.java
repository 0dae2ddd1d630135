package dasein.core.comp.match;

import dasein.core.BadInput;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Mixing;
import dasein.core.image.Image;
import dasein.core.light.chart.Chart;
import dasein.core.light.chart.ChartMatch;
import dasein.core.light.photo.Photo;
import java.util.Locale;

/**
 * Gives performers the colours the plate's camera would have made of them, by a colour chart that is seen in this frame
 * of the plate: what brings the chart to its own colours, the other way round. For performers that are lit by a map
 * which was balanced to neutral; one that Light has brought to the plate's colours has them already. How bright they
 * are is left as it is.
 */
final class PlateChartMatch implements Match {
    private static final double[] NEUTRAL = {1, 0, 0, 0, 1, 0, 0, 0, 1};

    @Override
    public String key() {
        return "chart";
    }

    @Override
    public Group group() {
        return Group.PERFORMER;
    }

    /** Only who has a chart in the plate knows in which frame. */
    @Override
    public boolean ofAll() {
        return false;
    }

    @Override
    public Outcome of(Taken t) {
        Image plate = t.plate().apply(t.frame());
        Chart chart;
        try {
            chart = Chart.of(Photo.ofLight("the plate", plate), null, null);
        } catch (BadInput none) {
            throw new BadInput("no colour chart is found in frame " + t.frame() + " (" + none.getMessage()
                    + "): look at the frame that shows it");
        }
        double[] m = ChartMatch.between(chart.fit().matrix(), NEUTRAL), gain = new double[3];
        for (int c = 0; c < 3; c++) {
            gain[c] = m[3 * c] + m[3 * c + 1] + m[3 * c + 2];
            if (!(gain[c] > 0)) throw new BadInput("the chart's colours are too far from any camera's");
        }
        double level = 0.2126 * gain[0] + 0.7152 * gain[1] + 0.0722 * gain[2];
        // Of rows that add up to one, then multiplied by what grey becomes.
        double[] rows = new double[9];
        for (int c = 0; c < 3; c++) for (int o = 0; o < 3; o++) rows[3 * c + o] = m[3 * c + o] / gain[c];
        CompRecipe r = Mixing.with(t.now(), rows)
                .with(Gain.RED, Gain.RED.held(gain[0] / level))
                .with(Gain.GREEN, Gain.GREEN.held(gain[1] / level))
                .with(Gain.BLUE, Gain.BLUE.held(gain[2] / level));
        return new Outcome(
                r,
                String.format(
                        Locale.ROOT,
                        "x %.2f %.2f %.2f for white, chart within %.1f CIEDE2000",
                        gain[0] / level,
                        gain[1] / level,
                        gain[2] / level,
                        chart.fit().mean()),
                String.format(
                        Locale.ROOT,
                        "x %.2f %.2f %.2f",
                        t.now().get(Gain.RED),
                        t.now().get(Gain.GREEN),
                        t.now().get(Gain.BLUE)));
    }
}
