package dasein.core.render.pass;

import dasein.core.BadInput;
import dasein.core.format.Exr;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.lens.Straighten;
import dasein.core.lens.View;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** The passes of one frame, planar, all of one size; {@link PassList} says what each of them holds. */
public final class Passes {
    private static final int RUN = 64;
    private static final float[] DARK = new float[RUN], LIT = new float[RUN];

    static {
        Arrays.fill(LIT, 1);
    }

    public final int width;
    public final int height;
    /** What there is, in the order of {@link PassList}; those of single lights at last. */
    private final List<Pass> list;

    private final Map<String, float[][]> planes = new HashMap<>();
    // Those that are asked for by pixel.
    public final float[][] beauty;
    public final float[] alpha;
    public final float[][] shadow;
    public final float[][] bounce;
    public final float[][] reflection;
    public final float[] ao;
    public final float[] depth;
    public final float[][] normal;
    public final float[][] motion;
    public final float[] id;
    /**
     * Root mean square of the estimated error of comp-ready pixels that show CG, relative to their level; samples a
     * pixel, mean.
     */
    public float noise;

    public float samples;
    /**
     * Where the picture's own top-left corner lies in these passes, and its size: passes for an undistorted plate reach
     * beyond it.
     */
    public int overscanX, overscanY, pictureWidth, pictureHeight;
    /** What they were before their noise was filtered out; null where nobody asked for it. */
    public Passes raw;
    /** What the head of a written file says besides. */
    public final Map<String, String> attributes = new LinkedHashMap<>();
    /** The camera they were rendered for, or null when they were read from a file. */
    public View view;

    /** Those that every comp needs. */
    public Passes(int width, int height) {
        this(width, height, PassList.ALL_PASSES);
    }

    public Passes(int width, int height, List<Pass> list) {
        this(width, height, list, Map.of());
    }

    /** @param given planes by the pass's name, which become its own; what is not there is neutral */
    public Passes(int width, int height, List<Pass> list, Map<String, float[][]> given) {
        this.width = width;
        this.height = height;
        this.list = List.copyOf(list);
        pictureWidth = width;
        pictureHeight = height;
        for (Pass p : list) {
            float[][] of = given.get(p.name());
            if (of == null) {
                of = new float[p.channels().size()][width * height];
                if (p.neutral() != 0) for (float[] plane : of) Arrays.fill(plane, p.neutral());
            }
            planes.put(p.name(), of);
        }
        beauty = of(PassList.BEAUTY);
        alpha = of(PassList.ALPHA)[0];
        shadow = of(PassList.SHADOW);
        bounce = of(PassList.BOUNCE);
        reflection = of(PassList.REFLECTION);
        ao = of(PassList.AO)[0];
        depth = of(PassList.DEPTH)[0];
        normal = of(PassList.NORMAL);
        motion = of(PassList.MOTION);
        id = of(PassList.ID)[0];
    }

    public List<Pass> list() {
        return list;
    }

    /** Planes of a pass, one for each of its channels; null where it was not kept. */
    public float[][] of(Pass p) {
        return of(p.name());
    }

    public float[][] of(String name) {
        return planes.get(name);
    }

    /** @throws BadInput when none that can be looked at is called so */
    public Image picture(String name) {
        return list.stream()
                .filter(p -> p.name().equals(name) && p.picture() != null)
                .findFirst()
                .orElseThrow(() -> new BadInput("there is no pass " + name))
                .picture()
                .apply(this);
    }

    /** Names of the lights that are kept apart. */
    public List<String> lights() {
        return list.stream()
                .map(Pass::name)
                .filter(n -> n.startsWith("beauty."))
                .map(n -> n.substring("beauty.".length()))
                .toList();
    }

    /** The same with other light: what is not named is as it is here. The planes of the others are shared. */
    Passes with(Map<Pass, float[][]> other) {
        Map<String, float[][]> all = new HashMap<>(planes);
        other.forEach((p, of) -> all.put(p.name(), of));
        return new Passes(width, height, list, all).like(this);
    }

    /** Whether their pixels lie in the same places of the picture. */
    public boolean lieAs(Passes o) {
        return width == o.width && height == o.height && overscanX == o.overscanX && overscanY == o.overscanY;
    }

    /** A copy with these of its passes alone. */
    public Passes keeping(List<Pass> some) {
        Map<String, float[][]> own = new HashMap<>();
        for (Pass p : some) {
            float[][] of = of(p).clone();
            for (int c = 0; c < of.length; c++) of[c] = of[c].clone();
            own.put(p.name(), of);
        }
        Passes out = new Passes(width, height, some, own);
        out.attributes.putAll(attributes);
        return out.like(this);
    }

    /** These of its passes alone, whose planes are shared. */
    public Passes only(List<Pass> some) {
        Passes out = new Passes(width, height, some, planes);
        out.attributes.putAll(attributes);
        return out.like(this);
    }

    /** Of the same picture as another. */
    private Passes like(Passes p) {
        noise = p.noise;
        samples = p.samples;
        overscanX = p.overscanX;
        overscanY = p.overscanY;
        pictureWidth = p.pictureWidth;
        pictureHeight = p.pictureHeight;
        view = p.view;
        return this;
    }

    /**
     * Whether anything is said of a pixel: a performer covers it, light is added to it, or its ground is darkened or
     * brightened. Elsewhere the plate stays as it is, to the bit. The one definition for all who ask.
     */
    public boolean matters(int i) {
        if (alpha[i] > 0) return true;
        for (int c = 0; c < 3; c++)
            if (beauty[c][i] != 0 || shadow[c][i] != 1 || bounce[c][i] != 0 || reflection[c][i] != 0) return true;
        return false;
    }

    /** Whether a pixel shows a performer's own light, be it that it covers nothing, as fire does. */
    public boolean shows(int i) {
        return alpha[i] > 0 || beauty[0][i] != 0 || beauty[1][i] != 0 || beauty[2][i] != 0;
    }

    /** Whether {@link #matters} may hold of any of a run of pixels; quick where it does not. */
    public boolean mayMatter(int from, int to) {
        if (mayShow(from, to)) return true;
        for (int c = 0; c < 3; c++)
            if (differs(shadow[c], from, to, LIT)
                    || differs(bounce[c], from, to, DARK)
                    || differs(reflection[c], from, to, DARK)) return true;
        return false;
    }

    /** Likewise of {@link #shows}. */
    public boolean mayShow(int from, int to) {
        if (differs(alpha, from, to, DARK)) return true;
        for (int c = 0; c < 3; c++) if (differs(beauty[c], from, to, DARK)) return true;
        return false;
    }

    /** Whether a run is other than what is said of nothing. */
    private static boolean differs(float[] plane, int from, int to, float[] nothing) {
        for (int i = from; i < to; i += RUN) {
            int n = Math.min(RUN, to - i);
            if (Arrays.mismatch(plane, i, i + n, nothing, 0, n) >= 0) return true;
        }
        return false;
    }

    private Map<String, float[]> channels() {
        Map<String, float[]> m = new LinkedHashMap<>();
        for (Pass p : list)
            for (int c = 0; c < p.channels().size(); c++) m.put(p.channels().get(c), of(p)[c]);
        return m;
    }

    /** What they take in memory. */
    public long bytes() {
        return 4L * width * height * channels().size();
    }

    /** One multi-layer ZIP EXR, in half floats but for those that are exact. */
    public void write(Path path) {
        write(path, Exr.Packing.ZIP, false);
    }

    /** @param whole all of it in full floats */
    public void write(Path path, Exr.Packing packing, boolean whole) {
        Exr.write(
                path,
                new int[] {-overscanX, -overscanY, width, height},
                new int[] {0, 0, pictureWidth, pictureHeight},
                channels(),
                list.stream()
                        .filter(p -> whole || p.exact())
                        .flatMap(p -> p.channels().stream())
                        .collect(Collectors.toSet()),
                said(),
                view == null ? Map.of() : matrices(view),
                packing);
    }

    private Map<String, String> said() {
        Map<String, String> all = new LinkedHashMap<>(attributes);
        all.put("daseinNoise", Float.toString(noise));
        all.put("daseinSamples", Float.toString(samples));
        return all;
    }

    /**
     * OpenEXR's standard attributes of a rendered frame; the lens's distortion has no place in them. Points stand as
     * rows there.
     */
    public static Map<String, float[]> matrices(View v) {
        double[] m = v.at(0.5).inverse().matrix(),
                world = {m[0], m[4], m[8], 0, m[1], m[5], m[9], 0, m[2], m[6], m[10], 0, m[3], m[7], m[11], 1};
        Lens l = v.lens();
        double near = 0.05,
                far = 1000,
                x = 2 * l.focalPx() / v.width(),
                y = 2 * l.focalPx() / v.height(),
                sx = 1 - 2 * l.centreX() / v.width(),
                sy = 2 * l.centreY() / v.height() - 1;
        double[] project = {
            x, 0, 0, 0, 0, y, 0, 0, sx, sy, (far + near) / (near - far), -1, 0, 0, 2 * far * near / (near - far), 0
        };
        float[] toCamera = new float[16], toNdc = new float[16];
        for (int i = 0; i < 4; i++) {
            for (int j = 0; j < 4; j++) {
                toCamera[4 * i + j] = (float) world[4 * i + j];
                double s = 0;
                for (int k = 0; k < 4; k++) s += world[4 * i + k] * project[4 * k + j];
                toNdc[4 * i + j] = (float) s;
            }
        }
        return Map.of("worldToCamera", toCamera, "worldToNDC", toNdc);
    }

    public static Passes read(Path path) {
        Exr.Channels file = Exr.read(path);
        Map<String, float[][]> own = new HashMap<>();
        List<Pass> there = PassList.among(file.planes().keySet());
        for (Pass p : there)
            own.put(p.name(), p.channels().stream().map(file::plane).toArray(float[][]::new));
        Passes p = new Passes(file.width(), file.height(), there, own);
        p.overscanX = -file.originX();
        p.overscanY = -file.originY();
        p.pictureWidth = file.display()[2];
        p.pictureHeight = file.display()[3];
        return p;
    }

    /**
     * At half the size, for a look while something is being set: means of two by two; of what is exact the one pixel.
     * An odd last row or column is left out.
     */
    public Passes half() {
        Passes out = new Passes(width / 2, height / 2, list);
        out.noise = noise;
        out.samples = samples;
        for (Pass p : list)
            for (int c = 0; c < p.channels().size(); c++) {
                float[] from = of(p)[c], to = out.of(p)[c];
                // Ways are counted in pixels.
                float k = p == PassList.MOTION ? 0.5f : 1;
                Image.rows(out.height, y -> {
                    for (int x = 0, i = 2 * y * width, o = y * out.width; x < out.width; x++, i += 2, o++)
                        to[o] = p.exact()
                                ? from[i]
                                : k * 0.25f * (from[i] + from[i + 1] + from[i + width] + from[i + width + 1]);
                });
            }
        return out;
    }

    /** Says that these were rendered for the straight picture of a lens. */
    public void overscan(Straighten s) {
        overscanX = -s.left;
        overscanY = -s.top;
        pictureWidth = s.width();
        pictureHeight = s.height();
    }

    public boolean straight() {
        return pictureWidth != width || pictureHeight != height;
    }

    /**
     * As the lens bends them, at the picture's own size. What is exact is taken from the nearest pixel, all else is
     * filtered.
     *
     * @param s that of the frame's lens at this size
     */
    public Passes bent(Straighten s) {
        if (s.wide != width || s.high != height || s.left != -overscanX || s.top != -overscanY)
            throw new BadInput("these passes were rendered for another lens than the camera's: " + width + " x "
                    + height + " from " + -overscanX + ", " + -overscanY + " against " + s.wide + " x " + s.high
                    + " from " + s.left + ", " + s.top);
        Passes out = new Passes(pictureWidth, pictureHeight, list);
        out.noise = noise;
        out.samples = samples;
        for (Pass p : list) {
            for (int c = 0; c < p.channels().size(); c++) {
                float[] from = of(p)[c],
                        to = p.exact() ? s.nearest(from) : s.distorted(new Image(width, height, from)).planes[0];
                // The filter's lobes reach beyond what a part can be.
                if (p.part()) for (int i = 0; i < to.length; i++) to[i] = Math.max(0, Math.min(1, to[i]));
                System.arraycopy(to, 0, out.of(p)[c], 0, to.length);
            }
        }
        return out;
    }
}
