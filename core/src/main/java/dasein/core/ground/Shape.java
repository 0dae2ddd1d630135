package dasein.core.ground;

import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;

/**
 * Triangles of a set piece in the set's frame, counter-clockwise seen from outside.
 *
 * @param xyz places, three numbers each; @param index three places for each triangle
 */
public record Shape(float[] xyz, int[] index) {
    private static final int SIDES = 48;
    /** Cosine between faces above which the edge between them is not seen. */
    private static final double FLAT = 0.97;

    /** @param terrain of a piece that runs through the solved points; may be null for all others */
    public static Shape of(Piece p, Shape terrain) {
        double w = p.width() / 2, h = p.height(), d = p.depth() / 2;
        Builder b = new Builder(p);
        switch (p.kind()) {
            case FLOOR, HOLE -> {
                if (p.kind() == Piece.Kind.HOLE && p.corners().size() > 5) b.polygon(p.corners());
                else b.face(new double[][] {{-w, 0, d}, {w, 0, d}, {w, 0, -d}, {-w, 0, -d}});
            }
            case WALL -> b.face(new double[][] {{-w, 0, 0}, {w, 0, 0}, {w, h, 0}, {-w, h, 0}});
            case BOX -> b.box(-w, w, 0, h, -d, d);
            case CYLINDER -> b.prism(circle(w, d), h);
            case SPHERE -> b.sphere(w, h / 2, d);
            case WEDGE -> {
                double[] fl = {-w, 0, d},
                        fr = {w, 0, d},
                        bl = {-w, 0, -d},
                        br = {w, 0, -d},
                        tl = {-w, h, -d},
                        tr = {w, h, -d};
                b.face(new double[][] {fl, fr, tr, tl});
                b.face(new double[][] {br, bl, tl, tr});
                b.face(new double[][] {fl, bl, br, fr});
                b.face(new double[][] {fl, tl, bl});
                b.face(new double[][] {fr, br, tr});
            }
            case STAIRS -> {
                int n = Math.max(1, p.steps());
                for (int i = 0; i < n; i++) b.box(-w, w, h * i / n, h * (i + 1) / n, -d, d - 2 * d * i / n);
            }
            case POLYGON -> b.polygon(p.corners());
            case MODEL -> throw new IllegalArgumentException("a model has its own triangles");
            case TERRAIN -> {
                return terrain == null ? new Shape(new float[0], new int[0]) : terrain;
            }
        }
        return b.shape();
    }

    /**
     * How far along a unit direction the first triangle is met, from either side; infinite for none (Moeller and
     * Trumbore 1997).
     */
    public double meets(Vec3 eye, Vec3 towards) {
        double best = Double.POSITIVE_INFINITY;
        for (int t = 0; t < index.length; t += 3) {
            Vec3 a = corner(index[t]),
                    e = corner(index[t + 1]).minus(a),
                    f = corner(index[t + 2]).minus(a),
                    p = towards.cross(f);
            double det = e.dot(p);
            if (Math.abs(det) < 1e-15) continue;
            Vec3 s = eye.minus(a), q = s.cross(e);
            double u = s.dot(p) / det, v = towards.dot(q) / det, far = f.dot(q) / det;
            if (u >= 0 && v >= 0 && u + v <= 1 && far > 0) best = Math.min(best, far);
        }
        return best;
    }

    /** The rectangle along x and z that it takes up, seen from above: four corners x, z. */
    public double[][] footprint() {
        double x0 = Double.MAX_VALUE, x1 = -x0, z0 = x0, z1 = -x0;
        for (int i = 0; i < xyz.length; i += 3) {
            x0 = Math.min(x0, xyz[i]);
            x1 = Math.max(x1, xyz[i]);
            z0 = Math.min(z0, xyz[i + 2]);
            z1 = Math.max(z1, xyz[i + 2]);
        }
        return new double[][] {{x0, z0}, {x1, z0}, {x1, z1}, {x0, z1}};
    }

    private Vec3 corner(int i) {
        return new Vec3(xyz[3 * i], xyz[3 * i + 1], xyz[3 * i + 2]);
    }

    private static double[][] circle(double w, double d) {
        double[][] c = new double[SIDES][];
        for (int i = 0; i < SIDES; i++)
            c[i] = new double[] {w * Math.sin(2 * Math.PI * i / SIDES), d * Math.cos(2 * Math.PI * i / SIDES)};
        return c;
    }

    private static final class Builder {
        private final List<float[]> places = new ArrayList<>();
        private final List<Integer> index = new ArrayList<>();
        private final double x, y, z, sin, cos;

        Builder(Piece p) {
            x = p.x();
            y = p.y();
            z = p.z();
            sin = Math.sin(Math.toRadians(p.headingDeg()));
            cos = Math.cos(Math.toRadians(p.headingDeg()));
        }

        private int put(double[] q) {
            places.add(new float[] {
                (float) (x + cos * q[0] + sin * q[2]), (float) (y + q[1]), (float) (z - sin * q[0] + cos * q[2])
            });
            return places.size() - 1;
        }

        /** A convex face, its corners counter-clockwise from outside. */
        void face(double[][] corners) {
            int first = put(corners[0]), last = put(corners[1]);
            for (int i = 2; i < corners.length; i++) {
                int next = put(corners[i]);
                index.addAll(List.of(first, last, next));
                last = next;
            }
        }

        void box(double x0, double x1, double y0, double y1, double z0, double z1) {
            face(new double[][] {{x0, y0, z1}, {x1, y0, z1}, {x1, y1, z1}, {x0, y1, z1}});
            face(new double[][] {{x1, y0, z0}, {x0, y0, z0}, {x0, y1, z0}, {x1, y1, z0}});
            face(new double[][] {{x0, y0, z0}, {x0, y0, z1}, {x0, y1, z1}, {x0, y1, z0}});
            face(new double[][] {{x1, y0, z1}, {x1, y0, z0}, {x1, y1, z0}, {x1, y1, z1}});
            face(new double[][] {{x0, y1, z1}, {x1, y1, z1}, {x1, y1, z0}, {x0, y1, z0}});
            face(new double[][] {{x0, y0, z0}, {x1, y0, z0}, {x1, y0, z1}, {x0, y0, z1}});
        }

        void prism(double[][] ring, double h) {
            int n = ring.length;
            double[][] top = new double[n][], bottom = new double[n][];
            for (int i = 0; i < n; i++) {
                double[] a = ring[i], b = ring[(i + 1) % n];
                face(new double[][] {{a[0], 0, a[1]}, {b[0], 0, b[1]}, {b[0], h, b[1]}, {a[0], h, a[1]}});
                top[i] = new double[] {a[0], h, a[1]};
                bottom[n - 1 - i] = new double[] {a[0], 0, a[1]};
            }
            face(top);
            face(bottom);
        }

        void sphere(double rx, double ry, double rz) {
            int rows = SIDES / 2;
            for (int j = 0; j < rows; j++) {
                for (int i = 0; i < SIDES; i++) {
                    double[][] q = new double[4][];
                    for (int k = 0; k < 4; k++) {
                        double th = Math.PI * (j + (k == 0 || k == 1 ? 1 : 0)) / rows,
                                ph = 2 * Math.PI * (i + (k == 1 || k == 2 ? 1 : 0)) / SIDES;
                        q[k] = new double[] {
                            rx * Math.sin(th) * Math.sin(ph), ry + ry * Math.cos(th), rz * Math.sin(th) * Math.cos(ph)
                        };
                    }
                    if (j == 0) face(new double[][] {q[0], q[1], q[2]});
                    else if (j == rows - 1) face(new double[][] {q[0], q[2], q[3]});
                    else face(q);
                }
            }
        }

        /** Any outline without crossings, by cutting off ears (Meisters 1975). */
        void polygon(List<Double> corners) {
            int n = corners.size() / 2;
            if (n < 3) return;
            List<Integer> left = new ArrayList<>();
            double area = 0;
            for (int i = 0; i < n; i++)
                area += corners.get(2 * i) * corners.get(2 * ((i + 1) % n) + 1)
                        - corners.get(2 * ((i + 1) % n)) * corners.get(2 * i + 1);
            int[] at = new int[n];
            for (int i = 0; i < n; i++) at[i] = put(new double[] {corners.get(2 * i), 0, corners.get(2 * i + 1)});
            // Seen from above z runs down: a clockwise outline in x and z is counter-clockwise there.
            for (int i = 0; i < n; i++) left.add(area < 0 ? i : n - 1 - i);
            for (int guard = 0; left.size() > 3 && guard < n * n; guard++) {
                boolean cut = false;
                for (int i = 0; i < left.size() && !cut; i++) {
                    int m = left.size(), a = left.get((i + m - 1) % m), b = left.get(i), c = left.get((i + 1) % m);
                    if (turn(corners, a, b, c) <= 0) continue;
                    boolean empty = true;
                    for (int k : left)
                        if (k != a
                                && k != b
                                && k != c
                                && turn(corners, a, b, k) >= 0
                                && turn(corners, b, c, k) >= 0
                                && turn(corners, c, a, k) >= 0) empty = false;
                    if (!empty) continue;
                    index.addAll(List.of(at[a], at[b], at[c]));
                    left.remove(i);
                    cut = true;
                }
                if (!cut) return;
            }
            index.addAll(List.of(at[left.get(0)], at[left.get(1)], at[left.get(2)]));
        }

        /** Above 0 when a, b, c turn to the left seen from above, where z runs down. */
        private static double turn(List<Double> p, int a, int b, int c) {
            return -((p.get(2 * b) - p.get(2 * a)) * (p.get(2 * c + 1) - p.get(2 * a + 1))
                    - (p.get(2 * b + 1) - p.get(2 * a + 1)) * (p.get(2 * c) - p.get(2 * a)));
        }

        Shape shape() {
            float[] xyz = new float[3 * places.size()];
            for (int i = 0; i < places.size(); i++) System.arraycopy(places.get(i), 0, xyz, 3 * i, 3);
            return new Shape(xyz, index.stream().mapToInt(i -> i).toArray());
        }
    }

    /** Total area, and for closed shapes the volume they hold. */
    public double[] areaAndVolume() {
        double area = 0, volume = 0;
        for (int t = 0; t < index.length; t += 3) {
            Vec3 a = place(index[t]), b = place(index[t + 1]), c = place(index[t + 2]);
            area += b.minus(a).cross(c.minus(a)).length() / 2;
            volume += a.dot(b.cross(c)) / 6;
        }
        return new double[] {area, volume};
    }

    /** Edges worth drawing, two places of three numbers each: where a face ends, and where two meet at an angle. */
    public List<float[]> edges() {
        java.util.Map<String, double[]> by = new java.util.LinkedHashMap<>();
        for (int t = 0; t < index.length; t += 3) {
            Vec3 a = place(index[t]),
                    b = place(index[t + 1]),
                    c = place(index[t + 2]),
                    n = b.minus(a).cross(c.minus(a));
            if (n.length() < 1e-12) continue;
            n = n.unit();
            for (int k = 0; k < 3; k++) {
                Vec3 p = place(index[t + k]), q = place(index[t + (k + 1) % 3]);
                String u = key(p), v = key(q), id = u.compareTo(v) < 0 ? u + v : v + u;
                double[] old = by.get(id);
                if (old == null)
                    by.put(id, new double[] {p.x(), p.y(), p.z(), q.x(), q.y(), q.z(), n.x(), n.y(), n.z(), 1});
                else if (old[9] == 1 && old[6] * n.x() + old[7] * n.y() + old[8] * n.z() > FLAT) old[9] = 0;
            }
        }
        List<float[]> out = new ArrayList<>();
        for (double[] e : by.values())
            if (e[9] == 1)
                out.add(new float[] {(float) e[0], (float) e[1], (float) e[2], (float) e[3], (float) e[4], (float) e[5]
                });
        return out;
    }

    private static String key(Vec3 p) {
        return Math.round(p.x() * 1e4) + "," + Math.round(p.y() * 1e4) + "," + Math.round(p.z() * 1e4) + ";";
    }

    private Vec3 place(int i) {
        return new Vec3(xyz[3 * i], xyz[3 * i + 1], xyz[3 * i + 2]);
    }
}
