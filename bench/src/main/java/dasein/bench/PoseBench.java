package dasein.bench;

import dasein.core.math.Affine;
import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.Posing;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;

/** Skinning of 200,000 vertices by 60 joints, four for each vertex, positions and normals, on one core. */
final class PoseBench {
    private static final int VERTICES = 200_000, JOINTS = 60, ROUNDS = 60;

    private PoseBench() {}

    static void run() {
        Random r = new Random(1);
        List<Model.Node> nodes = new ArrayList<>();
        for (int j = 0; j < JOINTS; j++)
            nodes.add(new Model.Node(
                    "joint " + j,
                    j - 1,
                    new float[] {0, 0.05f, 0},
                    new float[] {0, 0, 0.02f, (float) Math.sqrt(1 - 0.0004)},
                    new float[] {1, 1, 1},
                    new float[0]));
        nodes.add(new Model.Node(
                "skin", -1, new float[3], new float[] {0, 0, 0, 1}, new float[] {1, 1, 1}, new float[0]));
        float[] position = new float[3 * VERTICES], normal = new float[3 * VERTICES], weights = new float[4 * VERTICES];
        int[] joints = new int[4 * VERTICES];
        for (int v = 0; v < VERTICES; v++) {
            for (int k = 0; k < 3; k++) position[3 * v + k] = r.nextFloat();
            normal[3 * v + 1] = 1;
            // As skins are: neighbours share their joints.
            for (int k = 0; k < 4; k++) joints[4 * v + k] = Math.min(JOINTS - 1, v * JOINTS / VERTICES + k);
            for (int k = 0; k < 4; k++) weights[4 * v + k] = 0.25f;
        }
        int[] of = new int[JOINTS];
        double[][] inverse = new double[JOINTS][];
        for (int j = 0; j < JOINTS; j++) {
            of[j] = j;
            inverse[j] = Affine.identity();
        }
        Model.Part part = new Model.Part(
                JOINTS,
                0,
                position,
                normal,
                new float[2 * VERTICES],
                new int[0],
                0,
                joints,
                weights,
                new float[0][],
                new float[0][]);
        Posing posing = new Posing(new Model(
                "skin", nodes, List.of(part), List.of(new Model.Skin(of, inverse)), List.of(), new Material[0]));
        float[] p = new float[position.length], n = new float[position.length];
        double best = 1e9, sum = 0;
        for (int k = 0; k < ROUNDS; k++) {
            long t = System.nanoTime();
            posing.place(part, p, n);
            double ms = (System.nanoTime() - t) / 1e6;
            best = Math.min(best, ms);
            if (k >= ROUNDS / 2) sum += ms / (ROUNDS / 2);
        }
        System.out.printf(
                "skinning of %,d vertices with normals, one core: %.1f ms in the mean, %.1f ms at best%n",
                VERTICES, sum, best);
    }
}
