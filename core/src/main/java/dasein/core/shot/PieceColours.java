package dasein.core.shot;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.ground.Shape;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.Texture;
import dasein.core.render.Projection;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.function.IntFunction;
import java.util.stream.IntStream;

/**
 * The plate's colours laid onto set pieces as textures: every flat face is a rectangle of its piece's picture, coloured
 * from the frame that sees the face best, and where that does not see it from the next. What no frame sees is grown
 * over from its neighbourhood.
 */
public final class PieceColours {
    private static final int FRAMES = 7, SIDE = 1024, GAP = 2, SAMPLES = 8, MOST_FACES = 4000;
    /** Finer than this, texels for each metre, nothing is laid. */
    private static final double FINEST = 1000;

    private final SetRecipe set;
    private final SolvedCamera camera;
    private final Map<Integer, ? extends NavigableMap<Integer, Pose>> moved;
    private final List<Integer> numbers;
    private final List<Projection> frames = new ArrayList<>();

    /** @param seen part of the texels that some frame sees, by the piece's number */
    public record Result(Model model, Map<Integer, Double> seen) {}

    /**
     * A flat face, or the whole of a ground seen from above.
     *
     * @param corner where u and v are 0; @param u, v unit directions; @param wide, high metres; triangles by number
     */
    private record Face(Vec3 corner, Vec3 u, Vec3 v, Vec3 normal, double wide, double high, List<Integer> triangles) {}

    private PieceColours(
            SetRecipe set,
            SolvedCamera camera,
            Map<Integer, ? extends NavigableMap<Integer, Pose>> moved,
            List<Integer> numbers) {
        this.set = set;
        this.camera = camera;
        this.moved = moved;
        this.numbers = numbers;
    }

    /**
     * @param camera in the set's frame; @param models by the names pieces use; @param moved as of {@link ShotScene}
     * @param plates scene-linear frames, painted ones in place of those they stand for
     * @throws BadInput when nothing can be coloured
     */
    public static Result of(
            SetRecipe set,
            SolvedCamera camera,
            Map<String, Model> models,
            Map<Integer, NavigableMap<Integer, Pose>> moved,
            IntFunction<Image> plates,
            Progress progress) {
        List<Piece> pieces =
                set.pieces().stream().filter(p -> p.kind() != Piece.Kind.HOLE).toList();
        if (pieces.isEmpty()) throw new BadInput("there are no set pieces to be coloured");
        List<Integer> chosen = set.colours().stream()
                .map(SetRecipe.ColourFrame::frame)
                .filter(camera::has)
                .distinct()
                .toList();
        List<Integer> numbers = !chosen.isEmpty()
                ? chosen
                : IntStream.range(0, FRAMES)
                        .mapToObj(k -> camera.first() + (camera.last() - camera.first()) * k / (FRAMES - 1))
                        .filter(camera::has)
                        .distinct()
                        .toList();
        PieceColours all = new PieceColours(set, camera, moved, numbers);
        SetPieces standing =
                new SetPieces(set, camera, models, moved, camera.rate().perSecond());
        for (int k = 0; k < numbers.size(); k++) {
            int n = numbers.get(k);
            progress.at(0.5 * k / numbers.size(), "frame " + n);
            all.frames.add(new Projection(plates.apply(n), camera.view(n, 0, 1), standing.at(n, n)));
        }
        List<Model.Node> nodes = new ArrayList<>();
        List<Model.Part> parts = new ArrayList<>();
        List<Material> materials = new ArrayList<>();
        Map<Integer, Double> seen = new LinkedHashMap<>();
        for (int i = 0; i < pieces.size(); i++) {
            Piece p = pieces.get(i);
            progress.at(0.5 + 0.5 * i / pieces.size(), p.name());
            Shape s = SetPieces.shape(p, camera, models.get(p.model()));
            if (s.index().length == 0) continue;
            nodes.add(new Model.Node(
                    p.name(), -1, new float[3], new float[] {0, 0, 0, 1}, new float[] {1, 1, 1}, new float[0]));
            seen.put(p.id(), all.colour(p, s, nodes.size() - 1, parts, materials));
        }
        return new Result(
                new Model("set pieces", nodes, parts, List.of(), List.of(), materials.toArray(Material[]::new)), seen);
    }

    private double colour(Piece p, Shape s, int node, List<Model.Part> parts, List<Material> materials) {
        List<Face> faces = faces(p, s);
        boolean sheet = p.kind() == Piece.Kind.FLOOR || p.kind() == Piece.Kind.WALL || p.kind() == Piece.Kind.POLYGON;
        double area = faces.stream().mapToDouble(f -> f.wide * f.high).sum();
        double density = Math.min(FINEST, SIDE / Math.sqrt(1.2 * area));
        int[][] at = null;
        while (at == null) {
            at = packed(faces, density);
            if (at == null) density *= 0.9;
        }
        int high = 0;
        for (int k = 0; k < at.length; k++)
            high = Math.max(high, at[k][1] + texels(faces.get(k).high, density) + 2 * GAP);
        int[] argb = new int[SIDE * high];
        boolean[] known = new boolean[SIDE * high];
        long all = 0;
        int[][] ranks = new int[faces.size()][];
        double rate = camera.rate().perSecond();
        Pose[] motion =
                numbers.stream().map(n -> SetPieces.motion(p, moved, n, rate)).toArray(Pose[]::new);
        for (int k = 0; k < faces.size(); k++) ranks[k] = rank(faces.get(k), motion, sheet);
        for (int k = 0; k < faces.size(); k++) {
            Face f = faces.get(k);
            int w = texels(f.wide, density), h = texels(f.high, density), x0 = at[k][0] + GAP, y0 = at[k][1] + GAP;
            int[] rank = ranks[k];
            double each = 1 / density;
            Image.rows(h, y -> {
                float[] c = new float[3];
                for (int x = 0; x < w; x++) {
                    Vec3 q = f.corner.plus(f.u.times((x + 0.5) * each)).plus(f.v.times((y + 0.5) * each));
                    for (int n : rank) {
                        if (!seen(n, motion[n], q, f.normal, sheet, c)) continue;
                        int t = (y0 + y) * SIDE + x0 + x;
                        argb[t] = 0xff000000 | code(c[0]) << 16 | code(c[1]) << 8 | code(c[2]);
                        known[t] = true;
                        break;
                    }
                }
            });
            all += (long) w * h;
        }
        long met = 0;
        for (boolean b : known) if (b) met++;
        grow(argb, known, SIDE, high);
        parts.add(part(s, faces, at, density, high, node, materials.size()));
        materials.add(new Material(
                p.name(),
                new float[] {1, 1, 1, 1},
                new Texture(SIDE, high, argb, true, true),
                0,
                1,
                null,
                null,
                1,
                new float[3],
                null,
                0,
                false,
                true));
        return (double) met / Math.max(1, all);
    }

    /** The faces' triangles, each corner by itself, with its place on the texture. */
    private static Model.Part part(
            Shape s, List<Face> faces, int[][] at, double density, int high, int node, int material) {
        float[] xyz = new float[3 * s.index().length],
                normal = new float[xyz.length],
                uv = new float[2 * s.index().length];
        int[] index = new int[s.index().length];
        int n = 0;
        for (int k = 0; k < faces.size(); k++) {
            Face f = faces.get(k);
            for (int t : f.triangles) {
                for (int c = 0; c < 3; c++, n++) {
                    Vec3 q = corner(s, s.index()[3 * t + c]), d = q.minus(f.corner);
                    index[n] = n;
                    xyz[3 * n] = (float) q.x();
                    xyz[3 * n + 1] = (float) q.y();
                    xyz[3 * n + 2] = (float) q.z();
                    normal[3 * n] = (float) f.normal.x();
                    normal[3 * n + 1] = (float) f.normal.y();
                    normal[3 * n + 2] = (float) f.normal.z();
                    uv[2 * n] = (float) ((at[k][0] + GAP + d.dot(f.u) * density) / SIDE);
                    uv[2 * n + 1] = (float) ((at[k][1] + GAP + d.dot(f.v) * density) / high);
                }
            }
        }
        return new Model.Part(
                node, -1, xyz, normal, uv, index, material, new int[0], new float[0], new float[0][], new float[0][]);
    }

    /** @param sheet its back looks like its front */
    private boolean seen(int n, Pose motion, Vec3 at, Vec3 normal, boolean sheet, float[] out) {
        if (motion == null) return false;
        Vec3 q = motion.toWorld(at), up = motion.rotation().rotate(normal);
        if (sheet && camera.pose(numbers.get(n)).position().minus(q).dot(up) < 0) up = up.times(-1);
        return frames.get(n)
                .colour(
                        (float) q.x(),
                        (float) q.y(),
                        (float) q.z(),
                        (float) up.x(),
                        (float) up.y(),
                        (float) up.z(),
                        out);
    }

    /** Frames by how large they see how much of a face, best first. */
    private int[] rank(Face f, Pose[] motion, boolean sheet) {
        double[] score = new double[frames.size()];
        float[] c = new float[3];
        for (int n = 0; n < score.length; n++) {
            if (motion[n] == null) continue;
            Vec3 eye = camera.pose(numbers.get(n)).position();
            double focal = camera.lens(numbers.get(n)).focalPx();
            for (int i = 0; i < SAMPLES * SAMPLES; i++) {
                Vec3 q = f.corner
                        .plus(f.u.times(f.wide * (i % SAMPLES + 0.5) / SAMPLES))
                        .plus(f.v.times(f.high * (i / SAMPLES + 0.5) / SAMPLES));
                if (!seen(n, motion[n], q, f.normal, sheet, c)) continue;
                Vec3 to = eye.minus(motion[n].toWorld(q));
                double far = to.length();
                // Pixels for each square metre.
                score[n] += Math.abs(to.dot(motion[n].rotation().rotate(f.normal))) / far * focal * focal / (far * far);
            }
        }
        return IntStream.range(0, score.length)
                .boxed()
                .sorted(Comparator.comparingDouble(n -> -score[n]))
                .mapToInt(n -> n)
                .toArray();
    }

    private static int texels(double metres, double density) {
        return Math.max(1, (int) Math.ceil(metres * density));
    }

    /**
     * Left top corner of each face in a picture that is SIDE wide and at most as high, tallest first in rows; null when
     * they do not fit.
     */
    private static int[][] packed(List<Face> faces, double density) {
        int[][] out = new int[faces.size()][];
        int x = 0, y = 0, row = 0;
        for (int k : IntStream.range(0, faces.size())
                .boxed()
                .sorted(Comparator.comparingDouble(i -> -faces.get(i).high))
                .toList()) {
            int w = texels(faces.get(k).wide, density) + 2 * GAP, h = texels(faces.get(k).high, density) + 2 * GAP;
            if (w > SIDE || h > SIDE) return null;
            if (x + w > SIDE) {
                y += row;
                x = row = 0;
            }
            if (y + h > SIDE) return null;
            out[k] = new int[] {x, y};
            x += w;
            row = Math.max(row, h);
        }
        return out;
    }

    private static Vec3 corner(Shape s, int i) {
        return new Vec3(s.xyz()[3 * i], s.xyz()[3 * i + 1], s.xyz()[3 * i + 2]);
    }

    private static List<Face> faces(Piece p, Shape s) {
        Map<List<Long>, List<Integer>> by = new LinkedHashMap<>();
        Map<List<Long>, Vec3> normals = new LinkedHashMap<>();
        for (int t = 0; t < s.index().length / 3; t++) {
            Vec3 a = corner(s, s.index()[3 * t]),
                    n =
                            corner(s, s.index()[3 * t + 1])
                                    .minus(a)
                                    .cross(corner(s, s.index()[3 * t + 2]).minus(a));
            if (n.length() < 1e-12) continue;
            n = p.kind() == Piece.Kind.TERRAIN ? Vec3.Y : n.unit();
            List<Long> key = p.kind() == Piece.Kind.TERRAIN
                    ? List.of(0L)
                    : List.of(
                            Math.round(n.x() * 50),
                            Math.round(n.y() * 50),
                            Math.round(n.z() * 50),
                            Math.round(n.dot(a) * 500));
            by.computeIfAbsent(key, k -> new ArrayList<>()).add(t);
            normals.putIfAbsent(key, n);
        }
        if (by.size() > MOST_FACES)
            throw new BadInput(
                    p.name() + " has more than " + MOST_FACES + " faces, which is too fine to be " + "coloured");
        List<Face> out = new ArrayList<>();
        by.forEach((key, triangles) -> {
            Vec3 n = normals.get(key),
                    u = Math.abs(n.y()) > 0.95 ? Vec3.X : Vec3.Y.cross(n).unit(),
                    v = u.cross(n).unit();
            u = n.cross(v).unit();
            double[] lo = {Double.MAX_VALUE, Double.MAX_VALUE}, hi = {-Double.MAX_VALUE, -Double.MAX_VALUE};
            for (int t : triangles) {
                for (int c = 0; c < 3; c++) {
                    Vec3 q = corner(s, s.index()[3 * t + c]);
                    lo[0] = Math.min(lo[0], q.dot(u));
                    hi[0] = Math.max(hi[0], q.dot(u));
                    lo[1] = Math.min(lo[1], q.dot(v));
                    hi[1] = Math.max(hi[1], q.dot(v));
                }
            }
            double off = n.dot(corner(s, s.index()[3 * triangles.get(0)]));
            out.add(new Face(
                    u.times(lo[0]).plus(v.times(lo[1])).plus(n.times(off)),
                    u,
                    v,
                    n,
                    Math.max(1e-3, hi[0] - lo[0]),
                    Math.max(1e-3, hi[1] - lo[1]),
                    triangles));
        });
        return out;
    }

    /** Each round what is not known takes the mean of its known neighbours, until all is. */
    private static void grow(int[] argb, boolean[] known, int w, int h) {
        int[] front = IntStream.range(0, known.length).filter(i -> !known[i]).toArray();
        while (front.length > 0) {
            int[] colour = new int[front.length];
            boolean[] made = new boolean[front.length];
            int n = 0;
            for (int k = 0; k < front.length; k++) {
                int i = front[k], x = i % w, y = i / w, r = 0, g = 0, b = 0, m = 0;
                for (int d = 0; d < 4; d++) {
                    int px = x + (d == 0 ? 1 : d == 1 ? -1 : 0), py = y + (d == 2 ? 1 : d == 3 ? -1 : 0);
                    if (px < 0 || py < 0 || px >= w || py >= h || !known[py * w + px]) continue;
                    int c = argb[py * w + px];
                    r += c >> 16 & 255;
                    g += c >> 8 & 255;
                    b += c & 255;
                    m++;
                }
                if (m == 0) continue;
                colour[k] = 0xff000000 | r / m << 16 | g / m << 8 | b / m;
                made[k] = true;
                n++;
            }
            if (n == 0) {
                for (int i : front) argb[i] = 0xff808080;
                return;
            }
            int[] left = new int[front.length - n];
            for (int k = 0, j = 0; k < front.length; k++) {
                if (!made[k]) left[j++] = front[k];
                else {
                    argb[front[k]] = colour[k];
                    known[front[k]] = true;
                }
            }
            front = left;
        }
    }

    private static int code(float linear) {
        return Math.max(0, Math.min(255, Math.round(255 * (float) Encoding.SRGB.encode(linear))));
    }
}
