package dasein.core.cast;

import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.model.Moment;
import dasein.core.model.Posing;
import dasein.core.model.Texture;
import java.util.Arrays;
import java.util.List;
import java.util.function.Function;

/** A performer's triangles while the shutter is open. */
public final class PosedMesh {
    private PosedMesh() {}

    /**
     * @param id value of the identity pass; @param looks changes of the model's materials, as {@link #looked} gave them
     */
    public static Mesh of(int id, Model m, Material[] looks, Moment open, Moment close) {
        int vertices = m.parts().stream().mapToInt(Model.Part::vertices).sum(), corners = 3 * m.triangles();
        boolean second = m.parts().stream().anyMatch(p -> p.uv().length > 2 * p.vertices());
        float[] uv = new float[(second ? 4 : 2) * vertices];
        int[] index = new int[corners], material = new int[corners / 3];
        float[] colour = m.parts().stream().allMatch(p -> p.colour().length == 0) ? null : new float[4 * vertices];
        int v = 0, c = 0;
        for (Model.Part part : m.parts()) {
            if (colour != null && part.colour().length == 0) Arrays.fill(colour, 4 * v, 4 * (v + part.vertices()), 1);
            else if (colour != null) System.arraycopy(part.colour(), 0, colour, 4 * v, part.colour().length);
            int pairs = 2 * part.vertices();
            System.arraycopy(part.uv(), 0, uv, 2 * v, pairs);
            // What has one set alone has its places twice.
            if (second) System.arraycopy(part.uv(), part.uv().length - pairs, uv, 2 * (vertices + v), pairs);
            for (int i = 0; i < part.index().length; i++) index[c + i] = part.index()[i] + v;
            Arrays.fill(material, c / 3, (c + part.index().length) / 3, part.material());
            v += part.vertices();
            c += part.index().length;
        }
        float[][] a = posed(m, open, vertices), b = close == open ? a : posed(m, close, vertices);
        // What stands costs no second set of boxes.
        if (b != a && Arrays.equals(a[0], b[0])) b = a;
        return new Mesh(a[0], b[0], a[1], b[1], uv, index, material, looks, id, Mesh.Role.PERFORMER).with(colour);
    }

    private static float[][] posed(Model m, Moment at, int vertices) {
        Posing posing = new Posing(m);
        posing.at(at);
        float[] pos = new float[3 * vertices], nor = new float[3 * vertices];
        int v = 0;
        for (Model.Part part : m.parts()) {
            posing.place(part, at.toSet(), pos, nor, v);
            v += part.vertices();
        }
        return new float[][] {pos, nor};
    }

    /** A model's materials with a performer's looks: those of a material's own name, else that for all. */
    public static Material[] looked(Material[] materials, List<Look> looks, Function<String, Texture> pictures) {
        Material[] out = materials.clone();
        for (int i = 0; i < out.length; i++) {
            String name = out[i].name() == null ? "" : out[i].name();
            Look look = looks.stream()
                    .filter(l -> l.material().equals(name) && !l.material().isEmpty())
                    .findFirst()
                    .orElse(looks.stream()
                            .filter(l -> l.material().isEmpty())
                            .findFirst()
                            .orElse(null));
            if (look != null) out[i] = look.on(out[i], pictures);
        }
        return out;
    }
}
