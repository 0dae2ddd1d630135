package dasein.app.stage;

import dasein.core.key.Curve;
import dasein.core.key.Keyed;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.ToDoubleBiFunction;

/**
 * What a page needs of a number that changes over the shot.
 *
 * @param keyed frames with a key; @param shown what its field shows, in each frame from the shot's first on
 */
public record Moving(List<Integer> keyed, List<Double> shown) {
    /** @param shown of a channel in a frame; channels that stand still are left out */
    public static Map<String, Moving> of(
            Keyed<?> k, Iterable<String> channels, Seen s, ToDoubleBiFunction<String, Integer> shown) {
        Map<String, Moving> out = new LinkedHashMap<>();
        for (String channel : channels) {
            Curve c = k.curve(channel);
            if (c.empty()) continue;
            List<Double> all = new ArrayList<>();
            for (int f = s.first(); f <= s.last(); f++) all.add(shown.applyAsDouble(channel, f));
            out.put(channel, new Moving(c.keys().stream().map(Curve.Key::frame).toList(), all));
        }
        return out;
    }
}
