package dasein.core.render;

import dasein.core.render.pass.Mattes;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.PassSet;
import dasein.core.render.pass.Passes;

/** The passes that are kept only when asked for, pixel by pixel. */
final class Further {
    private final Film film;
    private final Passes out;

    Further(Film film, Passes out) {
        this.film = film;
        this.out = out;
    }

    /** @param noise estimated error of the pixel, relative to its level */
    void at(int p, float noise) {
        int n = film.count[p];
        if (n == 0) return;
        float part = film.part(p);
        if (film.lobes != null)
            for (int i = 0; i < Film.LOBES; i++)
                out.of(PassSet.MATERIAL.passes().get(i / 3))[i % 3][p] = part * film.lobes[i][p];
        if (film.nearest != null) {
            out.of(PassList.NEAREST)[0][p] = film.nearest[Film.NEAREST][p];
            for (int c = 0; c < 3; c++) {
                out.of(PassList.POSITION)[c][p] = film.nearest[Film.PLACE + c][p];
                out.of(PassList.ALBEDO)[c][p] = part * film.sum[Film.ALBEDO + c][p];
            }
            for (int c = 0; c < 2; c++) out.of(PassList.UV)[c][p] = film.nearest[Film.UV + c][p];
        }
        if (film.layers != null) film.layers.resolve(p, part, out);
        float moves = film.sum[Film.MOTION_COUNT][p];
        for (int c = 0; c < 2 && film.ways != null && moves > 0; c++) {
            out.of(PassList.FORWARD)[c][p] = film.ways[c][p] / moves;
            out.of(PassList.BACK)[c][p] = film.ways[2 + c][p] / moves;
        }
        float opened = film.sum[Film.OPEN_COUNT][p];
        if (film.contact != null && opened > 0) out.of(PassList.CONTACT)[0][p] = film.contact[p] / opened;
        if (out.of(PassList.SAMPLES) != null) {
            out.of(PassList.SAMPLES)[0][p] = n;
            out.of(PassList.NOISE)[0][p] = noise;
        }
        for (Mattes.Kind k : Mattes.Kind.values())
            if (film.mattes.length > 0)
                film.mattes[k.ordinal()].resolve(
                        p, part, out.of(PassSet.MATTES.passes().get(k.ordinal())));
    }
}
