package dasein.core.shot;

import dasein.core.light.Clues;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import java.util.ArrayList;
import java.util.List;

/** Grey and mirror balls that are put into a shot to see its light by. They are in drafts only. */
public final class Stands {
    private static final int ROWS = 40, SIDES = 80;
    private static final float GREY = 0.18f;

    private Stands() {}

    public static List<Mesh> meshes(List<Clues.Stand> stands) {
        List<Mesh> out = new ArrayList<>();
        for (Clues.Stand s : stands) out.add(ball(new Vec3(s.x(), s.y(), s.z()), s.radius(), s.mirror()));
        return out;
    }

    private static Mesh ball(Vec3 c, double radius, boolean mirror) {
        int n = (ROWS + 1) * (SIDES + 1);
        float[] p = new float[3 * n], normal = new float[3 * n];
        double[] o = c.array();
        for (int j = 0, v = 0; j <= ROWS; j++)
            for (int i = 0; i <= SIDES; i++, v += 3) {
                double th = Math.PI * j / ROWS, ph = 2 * Math.PI * i / SIDES;
                double[] d = {Math.sin(th) * Math.cos(ph), Math.cos(th), Math.sin(th) * Math.sin(ph)};
                for (int k = 0; k < 3; k++) {
                    normal[v + k] = (float) d[k];
                    p[v + k] = (float) (o[k] + radius * d[k]);
                }
            }
        int[] index = new int[6 * ROWS * SIDES];
        for (int j = 0, t = 0; j < ROWS; j++)
            for (int i = 0; i < SIDES; i++) {
                int a = j * (SIDES + 1) + i, b = a + SIDES + 1;
                for (int k : new int[] {a, a + 1, b, a + 1, b + 1, b}) index[t++] = k;
            }
        Material m = mirror ? mirror() : Material.matt(GREY, GREY, GREY);
        return new Mesh(
                p,
                p,
                normal,
                normal,
                new float[2 * n],
                index,
                new int[index.length / 3],
                new Material[] {m},
                0,
                Mesh.Role.PERFORMER);
    }

    private static Material mirror() {
        return new Material(
                "mirror", new float[] {1, 1, 1, 1}, null, 1, 0.01f, null, null, 1, new float[3], null, 0, false, true);
    }
}
