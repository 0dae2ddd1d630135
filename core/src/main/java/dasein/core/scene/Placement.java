package dasein.core.scene;

import dasein.core.math.Quat;
import dasein.core.math.Vec3;

/** From model space to the set: the lowest point at rest stands at the performer's place, turned, at its height. */
public record Placement(double scale, double lowest, Quat turn, Vec3 at) {

    public static Placement of(Performer p, Model m) {
        float[] b = m.bounds();
        double height = Math.max(b[4] - b[1], 1e-6);
        return new Placement(p.heightMetres() / height, b[1], Quat.axisAngle(Vec3.Y, Math.toRadians(p.headingDeg())), new Vec3(p.x(), p.y(), p.z()));
    }

    private void apply(float[] position, float[] normal) {
        double[] r = turn.matrix();
        for (int i = 0; i < position.length; i += 3) {
            double x = position[i] * scale, y = (position[i + 1] - lowest) * scale, z = position[i + 2] * scale;
            position[i] = (float) (r[0] * x + r[1] * y + r[2] * z + at.x());
            position[i + 1] = (float) (r[3] * x + r[4] * y + r[5] * z + at.y());
            position[i + 2] = (float) (r[6] * x + r[7] * y + r[8] * z + at.z());
            double a = normal[i], b = normal[i + 1], c = normal[i + 2];
            normal[i] = (float) (r[0] * a + r[1] * b + r[2] * c);
            normal[i + 1] = (float) (r[3] * a + r[4] * b + r[5] * c);
            normal[i + 2] = (float) (r[6] * a + r[7] * b + r[8] * c);
        }
    }

    /**
     * The performer's triangles while the shutter is open.
     *
     * @param open seconds of the shot at shutter open, {@code close} at close
     */
    public static Mesh mesh(Performer p, Model m, double open, double close) {
        Placement place = of(p, m);
        Model.Clip clip = m.clip(p.clip());
        int vertices = m.parts().stream().mapToInt(Model.Part::vertices).sum(), corners = 3 * m.triangles();
        float[] uv = new float[2 * vertices];
        int[] index = new int[corners], material = new int[corners / 3];
        int v = 0, c = 0;
        for (Model.Part part : m.parts()) {
            System.arraycopy(part.uv(), 0, uv, 2 * v, part.uv().length);
            for (int i = 0; i < part.index().length; i++) index[c + i] = part.index()[i] + v;
            java.util.Arrays.fill(material, c / 3, (c + part.index().length) / 3, part.material());
            v += part.vertices();
            c += part.index().length;
        }
        float[][] a = pose(m, clip, clip == null ? 0 : p.clipTime(open, clip.seconds()), vertices);
        place.apply(a[0], a[1]);
        double t1 = clip == null ? 0 : p.clipTime(close, clip.seconds());
        boolean still = clip == null || open == close;
        if (still) return new Mesh(a[0], a[0], a[1], a[1], uv, index, material, m.materials(), p.id(), Mesh.Role.PERFORMER);
        float[][] b = pose(m, clip, t1, vertices);
        place.apply(b[0], b[1]);
        return new Mesh(a[0], b[0], a[1], b[1], uv, index, material, m.materials(), p.id(), Mesh.Role.PERFORMER);
    }

    private static float[][] pose(Model m, Model.Clip clip, double seconds, int vertices) {
        Posing posing = new Posing(m);
        posing.at(clip, seconds);
        float[] pos = new float[3 * vertices], nor = new float[3 * vertices];
        int v = 0;
        for (Model.Part part : m.parts()) {
            float[] p = new float[3 * part.vertices()], n = new float[3 * part.vertices()];
            posing.place(part, p, n);
            System.arraycopy(p, 0, pos, 3 * v, p.length);
            System.arraycopy(n, 0, nor, 3 * v, n.length);
            v += part.vertices();
        }
        return new float[][] {pos, nor};
    }
}
