package dasein.bench;

import dasein.core.cast.Blocking;
import dasein.core.cast.Flock;
import dasein.core.cast.Performer;
import dasein.core.math.Sobol;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.model.file.ModelReader;
import dasein.core.render.ray.Tracer;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** A flock ready to be rendered, and rays against it: copies under one tree beside the same triangles written out. */
final class FlockBench {
    private static final int COPIES = 500, RAYS = 300_000;

    private FlockBench() {}

    static void run() throws Exception {
        for (String name : List.of("skimmer", "strider")) {
            Model model = ModelReader.read(Path.of("demo/models/" + name + ".glb"));
            Flock f = new Flock(
                    COPIES,
                    1,
                    new Flock.Room(Flock.Layout.AREA, 30, 30, 5),
                    new Flock.Differences(0.1, 180, 1, 0.1, 0.1),
                    Flock.Motion.FLY,
                    0.6,
                    new Flock.Fall(1, 12, 1.5, 9.81, 0.1, 0.35, 240));
            Performer p = new Performer(
                            1, name, name, 0, 2, -20, 0, 1, model.clips().get(0).name(), 0, 1, true)
                    .with(f);
            Blocking b = Blocking.alone(p, model, 24);
            b.meshes(9, 9.5);
            long t = System.nanoTime();
            List<Mesh> copies = b.meshes(10, 10.5);
            double posed = (System.nanoTime() - t) / 1e9;
            measure(name + ", copies", copies, posed);
            if ((long) COPIES * model.triangles() > 8_000_000) continue;
            t = System.nanoTime();
            List<Mesh> written = written(copies);
            measure(name + ", written out", written, posed + (System.nanoTime() - t) / 1e9);
        }
    }

    private static void measure(String what, List<Mesh> meshes, double made) {
        long t = System.nanoTime();
        Tracer tracer = Tracer.of(meshes);
        double built = (System.nanoTime() - t) / 1e9, best = 1e9;
        int hits = 0;
        Sobol r = new Sobol();
        for (int k = 0; k < 4; k++) {
            hits = 0;
            t = System.nanoTime();
            for (int i = 0; i < RAYS; i++) {
                r.start(i, 5);
                r.next();
                float x = 30 * r.u - 15, z = -5 - 30 * r.v;
                r.next();
                float up = 2 * r.u - 1, flat = (float) Math.sqrt(1 - up * up), phi = (float) (2 * Math.PI) * r.v;
                if (tracer.nearest(
                        x, 3, z, flat * (float) Math.cos(phi), up, flat * (float) Math.sin(phi), 1e30f, 0.3f, 0.5f))
                    hits++;
            }
            best = Math.min(best, (System.nanoTime() - t) / 1e9);
        }
        System.out.printf(
                "flock of %d %s: %,d triangles held, posed in %.2f s, tree in %.2f s, %.2f million rays a "
                        + "second on one core, %d %% hit%n",
                COPIES,
                what,
                meshes.stream().mapToLong(Mesh::triangles).sum(),
                made,
                built,
                RAYS / best / 1e6,
                100L * hits / RAYS);
    }

    private static List<Mesh> written(List<Mesh> copies) {
        int n = 0, corners = 0;
        for (Mesh m : copies) {
            n += m.copies().count() * m.position0().length;
            corners += m.copies().count() * m.index().length;
        }
        float[] open = new float[n], close = new float[n];
        int[] index = new int[corners];
        int at = 0, c = 0;
        for (Mesh m : copies) {
            for (int i = 0; i < m.copies().count(); i++) {
                for (int v : m.index()) index[c++] = at / 3 + v;
                for (int v = 0; v < m.position0().length; v += 3) {
                    for (int row = 12 * i; row < 12 * i + 12; row += 4, at++) {
                        open[at] = on(m.copies().open(), row, m.position0(), v);
                        close[at] = on(m.copies().close(), row, m.position1(), v);
                    }
                }
            }
        }
        return new ArrayList<>(List.of(new Mesh(
                open,
                close,
                null,
                null,
                null,
                index,
                new int[corners / 3],
                copies.get(0).materials(),
                1,
                Mesh.Role.PERFORMER)));
    }

    private static float on(float[] m, int row, float[] p, int v) {
        return m[row] * p[v] + m[row + 1] * p[v + 1] + m[row + 2] * p[v + 2] + m[row + 3];
    }
}
