package dasein.shoot;

import static dasein.shoot.Noise.*;

/** The strider's paints. Panels are parted by gaps that are cut into the surface, not drawn on it. */
final class StriderPaint {
    private StriderPaint() {}

    static Paint shell() {
        return new Paint(1024, (u, v, d) -> {
            float mid = octaves(u, v, 6, 5, 301), fine = octaves(u, v, 90, 4, 302);
            float l = 0.9f + 0.20f * (mid - 0.5f) + 0.08f * (fine - 0.5f);
            // Sea-green grey with a pale belly and a signal band, worn to primer and metal along edges.
            d.colour(0.105f * l, 0.20f * l, 0.195f * l);
            float belly = smooth(0.60f, 0.61f, (float) u) * (1 - smooth(0.89f, 0.90f, (float) u));
            d.mix(0.46f * l, 0.45f * l, 0.40f * l, belly);
            float band = smooth(0.655f, 0.657f, (float) v) * (1 - smooth(0.718f, 0.72f, (float) v));
            d.mix(0.62f * l, 0.29f * l, 0.03f * l, band);
            d.roughness = 0.30f + 0.20f * mid;
            double pv = Math.abs(v * 9 - Math.rint(v * 9)) / 9, pu = Math.abs(u * 6 - Math.rint(u * 6)) / 6;
            double near = Math.min(pv, pu);
            float gap = 1 - smooth(0.0012f, 0.0028f, (float) near), edge = 1 - smooth(0, 0.016f, (float) near);
            float worn = smooth(0.66f, 0.69f, octaves(u, v, 26, 6, 303) + 0.13f * edge);
            d.mix(0.30f, 0.29f, 0.27f, worn);
            d.metal = 0.75f * worn;
            d.roughness += (0.42f - d.roughness) * worn;
            float streak = smooth(0.55f, 0.75f, octaves(u, v * 0.25, 40, 4, 304)) * 0.35f;
            d.mix(0.055f, 0.048f, 0.038f, streak + 0.25f * edge * mid);
            d.roughness += 0.2f * streak;
            // Screws on both sides of the gaps across the hull.
            double step = Math.abs(u * 60 - Math.rint(u * 60)) / 60, off = Math.abs(pv - 0.0085);
            float screw = 1 - smooth(0.0016f, 0.0026f, (float) Math.hypot(off, step));
            d.mix(0.16f, 0.16f, 0.155f, 0.6f * screw);
            d.mix(0.02f, 0.02f, 0.02f, 0.6f * gap);
            d.height = -0.0026f * gap
                    - 0.0012f * (1 - smooth(0.002f, 0.006f, (float) near))
                    + 0.0009f * screw
                    + 0.00012f * fine
                    - 0.0004f * worn;
        });
    }

    static Paint limbs() {
        return new Paint(512, (u, v, d) -> {
            float mid = octaves(u, v, 8, 5, 311), brushed = octaves(u, v * 0.08, 120, 3, 312);
            float l = 0.85f + 0.3f * (mid - 0.5f) + 0.2f * (brushed - 0.5f);
            d.colour(0.20f * l, 0.195f * l, 0.19f * l);
            d.metal = 0.9f;
            d.roughness = 0.36f + 0.2f * (mid - 0.5f) + 0.1f * brushed;
            float mud = smooth(0.54f, 0.72f, octaves(u, v, 10, 6, 313));
            d.mix(0.13f, 0.11f, 0.085f, 0.8f * mud);
            d.metal -= 0.85f * mud;
            d.roughness += (0.9f - d.roughness) * mud;
            // Dirt stays in the gaps between sleeves, which are in the mesh.
            double ring = Math.abs(v * 8 - Math.rint(v * 8)) / 8;
            float gap = 1 - smooth(0.002f, 0.012f, (float) ring);
            d.mix(0.035f, 0.032f, 0.028f, 0.7f * gap);
            d.roughness += (0.8f - d.roughness) * 0.7f * gap;
            d.height = 0.0008f * mud * mid + 0.0002f * brushed;
        });
    }
}
