package dasein.core.model.file;

import dasein.core.BadInput;
import dasein.core.model.Model;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * A mesh for each frame, of the same polygons: the first as it is, every further one as a morph target that counts
 * alone at its time. Between two frames both count by half, which moves each place straight from one to the other.
 */
final class ObjSequence {
    private static final int MOST = 4000;
    private static final long MOST_NUMBERS = 120_000_000;

    private ObjSequence() {}

    static Imported read(List<Path> files, Siblings all, double rate) {
        int n = files.size();
        if (n > MOST) throw new BadInput("the sequence has " + n + " frames; at most " + MOST + " can be brought in");
        if (!(rate > 0.1 && rate < 1000))
            throw new BadInput("the sequence's rate must lie between 0.1 and 1000 frames a second");
        Imported first = ObjReader.read(files.get(0), all);
        List<int[]> order = ObjReader.order(files.get(0));
        float[] begin = ObjReader.places(files.get(0));
        // Places and normals of every frame, and for every time the weights of all.
        long numbers = 2L * n * order.stream().mapToLong(o -> 3L * o.length).sum() + (long) n * (n - 1);
        if (numbers > MOST_NUMBERS)
            throw new BadInput("the sequence needs " + (4 * numbers >> 20) + " MB; at most " + (4 * MOST_NUMBERS >> 20)
                    + " MB can be held");
        List<float[][]> targets = new ArrayList<>(), turns = new ArrayList<>();
        for (int[] o : order) {
            targets.add(new float[n - 1][3 * o.length]);
            turns.add(new float[n - 1][]);
        }
        for (int f = 1; f < n; f++) {
            float[] now = ObjReader.places(files.get(f));
            if (now.length != begin.length)
                throw new BadInput(files.get(f).getFileName() + " has " + now.length / 3
                        + " places and the first frame " + begin.length / 3 + "; all frames need the same");
            for (int p = 0; p < order.size(); p++) {
                int[] o = order.get(p);
                float[] d = targets.get(p)[f - 1], moved = new float[d.length];
                for (int i = 0; i < d.length; i++) {
                    moved[i] = now[3 * o[i / 3] + i % 3];
                    d[i] = moved[i] - begin[3 * o[i / 3] + i % 3];
                }
                // Normals of the frame itself, so that light follows the shape.
                Model.Part part = first.model().parts().get(p);
                if (!lit(part.normal())) continue;
                float[] own = MeshBuilder.smooth(moved, part.index()), base = part.normal();
                for (int i = 0; i < own.length; i++) own[i] -= base[i];
                turns.get(p)[f - 1] = own;
            }
        }
        Model m = first.model();
        List<Model.Part> parts = new ArrayList<>();
        for (int p = 0; p < m.parts().size(); p++) {
            Model.Part q = m.parts().get(p);
            parts.add(new Model.Part(
                    q.node(),
                    -1,
                    q.position(),
                    q.normal(),
                    q.uv(),
                    q.index(),
                    q.material(),
                    q.joints(),
                    q.weights(),
                    targets.get(p),
                    turns.get(p),
                    q.colour()));
        }
        Model.Node root = m.nodes().get(0);
        float[] times = new float[n], weights = new float[n * (n - 1)];
        for (int f = 0; f < n; f++) {
            times[f] = (float) (f / rate);
            if (f > 0) weights[f * (n - 1) + f - 1] = 1;
        }
        Model.Clip clip = new Model.Clip(
                "frames",
                times[n - 1],
                List.of(new Model.Channel(
                        0, Model.Property.WEIGHTS, times, weights, n - 1, Model.Interpolation.LINEAR)));
        Model.Node node =
                new Model.Node(root.name(), -1, root.translation(), root.rotation(), root.scale(), new float[n - 1]);
        List<String> remarks = new ArrayList<>(first.remarks());
        remarks.add(n + " frames at " + (rate == Math.rint(rate) ? Long.toString((long) rate) : Double.toString(rate))
                + " a second.");
        return new Imported(
                new Model(m.name(), List.of(node), parts, List.of(), n > 1 ? List.of(clip) : List.of(), m.materials()),
                List.copyOf(remarks),
                first.missing());
    }

    private static boolean lit(float[] normal) {
        for (float v : normal) if (v != 0) return true;
        return false;
    }
}
