package dasein.shoot;

import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.DoubleUnaryOperator;

/**
 * Builds triangle meshes out of boxes, turned profiles, tubes and grids. Positions in metres; faces wind
 * counter-clockwise seen from outside. A joint number can be attached to vertices for skinned models.
 */
final class Shape {
    float[] position = new float[3000];
    float[] normal = new float[3000];
    float[] uv = new float[2000];
    /** Four joints and four weights for each vertex. */
    int[] joints = new int[4000];

    float[] weights = new float[4000];
    int[] index = new int[6000];
    int vertices;
    int corners;
    /** Where the next parts are put. */
    Pose at = Pose.IDENTITY;
    /**
     * How the next parts' texture coordinates (0..1 over the part) are laid into the texture: u0, v0, width, height.
     */
    double[] patch = {0, 0, 1, 1};

    int joint;

    int vertex(Vec3 p, Vec3 n, double u, double v) {
        if (3 * vertices + 3 > position.length) {
            position = Arrays.copyOf(position, position.length * 2);
            normal = Arrays.copyOf(normal, position.length);
            uv = Arrays.copyOf(uv, uv.length * 2);
            joints = Arrays.copyOf(joints, joints.length * 2);
            weights = Arrays.copyOf(weights, weights.length * 2);
        }
        Vec3 q = at.toWorld(p), m = at.rotation().rotate(n);
        int i = vertices++;
        position[3 * i] = (float) q.x();
        position[3 * i + 1] = (float) q.y();
        position[3 * i + 2] = (float) q.z();
        normal[3 * i] = (float) m.x();
        normal[3 * i + 1] = (float) m.y();
        normal[3 * i + 2] = (float) m.z();
        uv[2 * i] = (float) (patch[0] + u * patch[2]);
        uv[2 * i + 1] = (float) (patch[1] + v * patch[3]);
        joints[4 * i] = joint;
        weights[4 * i] = 1;
        return i;
    }

    void triangle(int a, int b, int c) {
        if (corners + 3 > index.length) index = Arrays.copyOf(index, index.length * 2);
        index[corners++] = a;
        index[corners++] = b;
        index[corners++] = c;
    }

    /** A flat four-cornered face, corners counter-clockwise, texture over (0,0)-(su,sv). */
    void quad(Vec3 a, Vec3 b, Vec3 c, Vec3 d, double su, double sv) {
        Vec3 n = b.minus(a).cross(d.minus(a)).unit();
        int i = vertex(a, n, 0, sv);
        vertex(b, n, su, sv);
        vertex(c, n, su, 0);
        vertex(d, n, 0, 0);
        triangle(i, i + 1, i + 2);
        triangle(i, i + 2, i + 3);
    }

    /**
     * Box of the given size with its middle at the origin of {@link #at}, edges bevelled a little; {@code density}
     * texture repeats a metre (0: one whole texture a face).
     */
    void box(double sx, double sy, double sz, double bevel, double density) {
        double x = sx / 2, y = sy / 2, z = sz / 2, k = bevel;
        Vec3[] axes = {Vec3.X, Vec3.Y, Vec3.Z};
        double[] half = {x, y, z};
        for (int a = 0; a < 3; a++) {
            for (int s = -1; s <= 1; s += 2) {
                Vec3 n = axes[a].times(s), u = axes[(a + 1) % 3].times(s), v = axes[(a + 2) % 3];
                double hu = half[(a + 1) % 3] - k, hv = half[(a + 2) % 3] - k, hn = half[a];
                double tu = density > 0 ? 2 * hu * density : 1, tv = density > 0 ? 2 * hv * density : 1;
                Vec3 m = n.times(hn), pu = u.times(hu), pv = v.times(hv);
                quad(
                        m.minus(pu).minus(pv),
                        m.plus(pu).minus(pv),
                        m.plus(pu).plus(pv),
                        m.minus(pu).plus(pv),
                        tu,
                        tv);
                if (k <= 0) continue;
                // Bevel strips along the face's +u edge towards the next face, both ends of v.
                for (int e = -1; e <= 1; e += 2) {
                    Vec3 d = u.times(e),
                            in = m.plus(d.times(hu)),
                            out = n.times(hn - k).plus(d.times(hu + k));
                    if (e > 0) quad(in.minus(pv), out.minus(pv), out.plus(pv), in.plus(pv), 0.02, tv);
                    else quad(out.minus(pv), in.minus(pv), in.plus(pv), out.plus(pv), 0.02, tv);
                }
            }
        }
    }

    /** Turned profile about Y: radius at heights; smooth normals; closed ends when the radius there is zero. */
    void lathe(double[] ys, double[] rs, int sides, double uRepeat, double vPerMetre) {
        int rows = ys.length, first = vertices;
        double run = 0;
        for (int j = 0; j < rows; j++) {
            int a = Math.max(0, j - 1), b = Math.min(rows - 1, j + 1);
            double dy = ys[b] - ys[a], dr = rs[b] - rs[a];
            if (j > 0) run += Math.hypot(ys[j] - ys[j - 1], rs[j] - rs[j - 1]);
            for (int i = 0; i <= sides; i++) {
                double th = 2 * Math.PI * i / sides, c = Math.cos(th), s = Math.sin(th);
                Vec3 n = new Vec3(c * dy, -dr, s * dy);
                vertex(
                        new Vec3(c * rs[j], ys[j], s * rs[j]),
                        n.length() < 1e-9 ? Vec3.Y : n.unit(),
                        uRepeat * i / sides,
                        vPerMetre > 0 ? run * vPerMetre : (double) j / (rows - 1));
            }
        }
        for (int j = 0; j + 1 < rows; j++) {
            for (int i = 0; i < sides; i++) {
                int p = first + j * (sides + 1) + i, q = p + sides + 1;
                triangle(p, q, p + 1);
                triangle(p + 1, q, q + 1);
            }
        }
    }

    void torus(double radius, double thick, int around, int across) {
        int first = vertices;
        for (int j = 0; j <= around; j++) {
            double a = 2 * Math.PI * j / around;
            for (int i = 0; i <= across; i++) {
                double b = 2 * Math.PI * i / across, r = radius + thick * Math.cos(b);
                vertex(
                        new Vec3(r * Math.cos(a), thick * Math.sin(b), r * Math.sin(a)),
                        new Vec3(Math.cos(b) * Math.cos(a), Math.sin(b), Math.cos(b) * Math.sin(a)),
                        6.0 * j / around,
                        (double) i / across);
            }
        }
        for (int j = 0; j < around; j++) {
            for (int i = 0; i < across; i++) {
                int p = first + j * (across + 1) + i, q = p + across + 1;
                triangle(p, p + 1, q);
                triangle(p + 1, q + 1, q);
            }
        }
    }

    /**
     * One ring of a {@link #loft}: centre, half width and height of its superellipse, squareness (2 round, 4 boxy),
     * joint blend.
     */
    record Ring(
            Vec3 centre,
            Vec3 right,
            Vec3 up,
            double width,
            double height,
            double square,
            int jointA,
            int jointB,
            double blend) {}

    /** Skin over rings, closed by domes at both ends; normals from the surface itself. */
    void loft(List<Ring> rings, int sides) {
        int rows = rings.size(), first = vertices;
        Vec3[][] p = new Vec3[rows][sides + 1];
        for (int j = 0; j < rows; j++) {
            Ring r = rings.get(j);
            for (int i = 0; i <= sides; i++) {
                double th = 2 * Math.PI * i / sides, c = Math.cos(th), s = Math.sin(th), e = 2 / r.square;
                double x = Math.copySign(Math.pow(Math.abs(c), e), c) * r.width,
                        y = Math.copySign(Math.pow(Math.abs(s), e), s) * r.height;
                p[j][i] = r.centre.plus(r.right.times(x)).plus(r.up.times(y));
            }
        }
        for (int j = 0; j < rows; j++) {
            Ring r = rings.get(j);
            for (int i = 0; i <= sides; i++) {
                Vec3 along = p[Math.min(j + 1, rows - 1)][i].minus(p[Math.max(j - 1, 0)][i]);
                Vec3 around = p[j][i == sides ? 1 : i + 1].minus(p[j][i == 0 ? sides - 1 : i - 1]);
                Vec3 n = around.cross(along);
                if (n.length() < 1e-12)
                    n = rings.get(Math.min(1, rows - 1))
                            .centre
                            .minus(rings.get(0).centre)
                            .times(j == 0 ? -1 : 1);
                int k = vertex(p[j][i], n.unit(), (double) i / sides, (double) j / (rows - 1));
                joints[4 * k] = r.jointA;
                weights[4 * k] = (float) (1 - r.blend);
                joints[4 * k + 1] = r.jointB;
                weights[4 * k + 1] = (float) r.blend;
            }
        }
        for (int j = 0; j + 1 < rows; j++) {
            for (int i = 0; i < sides; i++) {
                int a = first + j * (sides + 1) + i, b = a + sides + 1;
                triangle(a, a + 1, b);
                triangle(a + 1, b + 1, b);
            }
        }
    }

    /**
     * Flat face over a ring, seen from where {@code right} times {@code up} points; {@code flip} from the other side.
     */
    void lid(Ring r, int sides, boolean flip) {
        Vec3 n = r.right.cross(r.up).unit().times(flip ? -1 : 1);
        int middle = vertex(r.centre, n, 0.5, 0.5);
        for (int i = 0; i <= sides; i++) {
            double th = 2 * Math.PI * i / sides, c = Math.cos(th), s = Math.sin(th), e = 2 / r.square;
            Vec3 p = r.centre
                    .plus(r.right.times(Math.copySign(Math.pow(Math.abs(c), e), c) * r.width))
                    .plus(r.up.times(Math.copySign(Math.pow(Math.abs(s), e), s) * r.height));
            int k = vertex(p, n, 0.5, 0.5);
            if (i > 0 && flip) triangle(middle, k, k - 1);
            else if (i > 0) triangle(middle, k - 1, k);
        }
    }

    /** Where on a sheet something lies that is seen along an axis; @param normal along that axis */
    interface Sheet {
        double[] place(int axis, double normal, Vec3 at);
    }

    /** Lays a sheet over everything so far from the side that each face looks to most: nothing is stretched. */
    void fromTheSides(Sheet sheet) {
        int[] old = indices();
        float[] p = positions(), n = normals();
        java.util.Map<Long, Integer> known = new java.util.HashMap<>();
        vertices = corners = 0;
        for (int t = 0; t < old.length; t += 3) {
            double[] sum = new double[3];
            // Both triangles of a four-cornered face go together.
            for (int k = t - t % 6; k < Math.min(old.length, t - t % 6 + 6); k++)
                for (int a = 0; a < 3; a++) sum[a] += n[3 * old[k] + a];
            int axis = Math.abs(sum[1]) > 0.9 * Math.max(Math.abs(sum[0]), Math.abs(sum[2]))
                    ? 1
                    : Math.abs(sum[0]) > Math.abs(sum[2]) ? 0 : 2;
            int[] c = new int[3];
            for (int k = 0; k < 3; k++) {
                int v = old[t + k];
                boolean back = sum[axis] < 0;
                c[k] = known.computeIfAbsent(6L * v + 2 * axis + (back ? 1 : 0), q -> {
                    Vec3 x = new Vec3(p[3 * v], p[3 * v + 1], p[3 * v + 2]);
                    double[] uv = sheet.place(axis, back ? -1 : 1, x);
                    Pose was = at;
                    at = Pose.IDENTITY;
                    int made = vertex(x, new Vec3(n[3 * v], n[3 * v + 1], n[3 * v + 2]), uv[0], uv[1]);
                    at = was;
                    return made;
                });
            }
            triangle(c[0], c[1], c[2]);
        }
    }

    /**
     * Rings along a straight limb from a to b with radius by position t in [0, 1]; the first and last rings close it.
     */
    static List<Ring> limb(
            Vec3 a,
            Vec3 b,
            Vec3 side,
            DoubleUnaryOperator radius,
            double flat,
            double square,
            int rows,
            int jointA,
            int jointB,
            double blendFrom) {
        List<Ring> out = new ArrayList<>();
        Vec3 dir = b.minus(a).unit(),
                right = side.minus(dir.times(side.dot(dir))).unit(),
                up = dir.cross(right);
        for (int j = 0; j <= rows; j++) {
            double t = (double) j / rows, r = radius.applyAsDouble(t);
            double blend = blendFrom >= 1 ? 0 : Math.max(0, Math.min(1, (t - blendFrom) / (1 - blendFrom))) * 0.5;
            out.add(new Ring(
                    a.lerp(b, t),
                    right,
                    up,
                    Math.max(r, 1e-4),
                    Math.max(r * flat, 1e-4),
                    square,
                    jointA,
                    jointB,
                    blend));
        }
        return out;
    }

    /** Rough stone: an icosphere-like lathe pushed by noise, flattened below. */
    void stone(double radius, int seed) {
        int rows = 8, sides = 10, first = vertices;
        for (int j = 0; j <= rows; j++) {
            double v = Math.PI * j / rows;
            for (int i = 0; i <= sides; i++) {
                double th = 2 * Math.PI * (i % sides) / sides,
                        r = radius * (0.7 + 0.6 * Noise.hash(i % sides, j == 0 || j == rows ? 99 : j, seed));
                Vec3 d = new Vec3(Math.sin(v) * Math.cos(th), Math.cos(v) * 0.6, Math.sin(v) * Math.sin(th));
                vertex(d.times(r), d.unit(), (double) i / sides, (double) j / rows);
            }
        }
        for (int j = 0; j < rows; j++) {
            for (int i = 0; i < sides; i++) {
                int p = first + j * (sides + 1) + i, q = p + sides + 1;
                triangle(p, p + 1, q);
                triangle(p + 1, q + 1, q);
            }
        }
    }

    Shape put(double x, double y, double z, double turnDeg) {
        at = new Pose(Quat.axisAngle(Vec3.Y, Math.toRadians(turnDeg)), new Vec3(x, y, z));
        return this;
    }

    float[] positions() {
        return Arrays.copyOf(position, 3 * vertices);
    }

    float[] normals() {
        return Arrays.copyOf(normal, 3 * vertices);
    }

    float[] uvs() {
        return Arrays.copyOf(uv, 2 * vertices);
    }

    int[] indices() {
        return Arrays.copyOf(index, corners);
    }
}
