package dasein.core.model;

/** What a model's vertices lie in, in a moment of its first clip. */
public final class PosedBox {
    private PosedBox() {}

    /** @return minX, minY, minZ, maxX, maxY, maxZ */
    public static float[] of(Model m, double seconds) {
        Posing p = new Posing(m);
        p.at(m.clips().get(0), seconds);
        float[] b = {1e9f, 1e9f, 1e9f, -1e9f, -1e9f, -1e9f};
        for (Model.Part part : m.parts()) {
            float[] x = new float[3 * part.vertices()];
            p.place(part, x, null);
            for (int i = 0; i < x.length; i++) {
                b[i % 3] = Math.min(b[i % 3], x[i]);
                b[3 + i % 3] = Math.max(b[3 + i % 3], x[i]);
            }
        }
        return b;
    }
}
