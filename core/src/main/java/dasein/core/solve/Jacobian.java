package dasein.core.solve;

import static dasein.core.solve.Bundle.CENTRE_X;
import static dasein.core.solve.Bundle.FOCAL;
import static dasein.core.solve.Bundle.K1;
import static dasein.core.solve.Bundle.K2;
import static dasein.core.solve.Bundle.K3;
import static dasein.core.solve.Bundle.LENS;
import static dasein.core.solve.Bundle.P1;
import static dasein.core.solve.Bundle.P2;

import dasein.core.lens.Lens;

/**
 * How the reprojection error of an observation changes with the unknowns of a bundle: camera turned and moved in its
 * own frame, point moved in the tangent space of its unit 4-vector, lens and zoom. Analytic; a test holds it against
 * differences.
 */
final class Jacobian {
    private final Bundle of;

    Jacobian(Bundle of) {
        this.of = of;
    }

    /** Reprojection error of observation o in pixels, into e; false when the point is behind the camera. */
    boolean residual(int o, double[] e) {
        return at(of.cams[of.obsCam[o]], of.zoom[of.obsCam[o]], of.points[of.obsPoint[o]], of.lens, o, e);
    }

    boolean at(Rigid cam, double z0, double[] p, Lens l, int o, double[] e) {
        double[] r = cam.r, c = cam.c;
        double dx = p[0] - p[3] * c[0], dy = p[1] - p[3] * c[1], dz = p[2] - p[3] * c[2];
        double z = r[6] * dx + r[7] * dy + r[8] * dz;
        if (z <= 1e-12) {
            e[0] = e[1] = 1e3;
            return false;
        }
        double x = (r[0] * dx + r[1] * dy + r[2] * dz) / z, y = (r[3] * dx + r[4] * dy + r[5] * dz) / z;
        double r2 = x * x + y * y,
                d = 1 + r2 * (l.k1() + r2 * (l.k2() + r2 * l.k3())),
                f = z0 == 0 ? l.focalPx() : l.focalPx() * Math.exp(z0);
        e[0] = l.centreX() + f * (x * d + 2 * l.p1() * x * y + l.p2() * (r2 + 2 * x * x)) - of.obsX[o];
        e[1] = l.centreY() + f * (y * d + l.p1() * (r2 + 2 * y * y) + 2 * l.p2() * x * y) - of.obsY[o];
        return true;
    }

    /**
     * Residual and derivatives of observation o.
     *
     * @param basis tangents of the points; @param b where those of its point begin
     * @param e the residual; @param jc by the camera's unknowns, u then v; @param jp by the point's tangent; @param jl
     *     by the lens's
     * @return false when the point is behind the camera
     */
    boolean of(int o, double[] basis, int b, double[] e, double[] jc, double[] jp, double[] jl) {
        Rigid cam = of.cams[of.obsCam[o]];
        double[] p = of.points[of.obsPoint[o]], r = cam.r, c = cam.c;
        if (!residual(o, e)) return false;
        double[] q = cam.toCamera(p);
        double iz = 1 / q[2],
                x = q[0] * iz,
                y = q[1] * iz,
                r2 = x * x + y * y,
                f = of.lens.focalPx() * Math.exp(of.zoom[of.obsCam[o]]),
                p1 = of.lens.p1(),
                p2 = of.lens.p2();
        double d = 1 + r2 * (of.lens.k1() + r2 * (of.lens.k2() + r2 * of.lens.k3())),
                dd = of.lens.k1() + r2 * (2 * of.lens.k2() + 3 * r2 * of.lens.k3());
        double uxx = f * (d + 2 * x * x * dd + 2 * p1 * y + 6 * p2 * x),
                uxy = f * (2 * x * y * dd + 2 * p1 * x + 2 * p2 * y),
                uyy = f * (d + 2 * y * y * dd + 6 * p1 * y + 2 * p2 * x);
        // d(u, v)/dq = [uxx uxy; uxy uyy] times [1 0 -x; 0 1 -y] / z
        double a0 = uxx * iz,
                a1 = uxy * iz,
                a2 = -(uxx * x + uxy * y) * iz,
                b0 = uxy * iz,
                b1 = uyy * iz,
                b2 = -(uxy * x + uyy * y) * iz;
        int B = of.block, L = of.lensSize;
        // dq/dw = -[q]x
        jc[0] = -a1 * q[2] + a2 * q[1];
        jc[1] = a0 * q[2] - a2 * q[0];
        jc[2] = -a0 * q[1] + a1 * q[0];
        jc[B] = -b1 * q[2] + b2 * q[1];
        jc[B + 1] = b0 * q[2] - b2 * q[0];
        jc[B + 2] = -b0 * q[1] + b1 * q[0];
        double t0 = 0, t1 = 0;
        double[] jx = new double[4], jy = new double[4];
        for (int k = 0; k < 3; k++) {
            jx[k] = a0 * r[k] + a1 * r[3 + k] + a2 * r[6 + k];
            jy[k] = b0 * r[k] + b1 * r[3 + k] + b2 * r[6 + k];
            if (of.free.moves()) {
                jc[3 + k] = -p[3] * jx[k];
                jc[B + 3 + k] = -p[3] * jy[k];
            }
            t0 -= jx[k] * c[k];
            t1 -= jy[k] * c[k];
        }
        jx[3] = t0;
        jy[3] = t1;
        for (int k = 0; k < 3; k++) {
            jp[k] = jp[3 + k] = 0;
            for (int i = 0; i < 4; i++) {
                jp[k] += jx[i] * basis[b + 3 * i + k];
                jp[3 + k] += jy[i] * basis[b + 3 * i + k];
            }
        }
        double u = e[0] + of.obsX[o] - of.lens.centreX(), v = e[1] + of.obsY[o] - of.lens.centreY();
        if (of.free.zooms()) {
            jc[B - 1] = u;
            jc[2 * B - 1] = v;
        }
        int l = 0;
        for (int k = 0; k < LENS; k++) {
            if (!of.free.lens()[k]) continue;
            switch (k) {
                case FOCAL -> slope(jl, l, L, u, v);
                case K1 -> slope(jl, l, L, f * x * r2, f * y * r2);
                case K2 -> slope(jl, l, L, f * x * r2 * r2, f * y * r2 * r2);
                case K3 -> slope(jl, l, L, f * x * r2 * r2 * r2, f * y * r2 * r2 * r2);
                case P1 -> slope(jl, l, L, f * 2 * x * y, f * (r2 + 2 * y * y));
                case P2 -> slope(jl, l, L, f * (r2 + 2 * x * x), f * 2 * x * y);
                case CENTRE_X -> slope(jl, l, L, 1, 0);
                default -> slope(jl, l, L, 0, 1);
            }
            l++;
        }
        return true;
    }

    private static void slope(double[] jl, int l, int size, double x, double y) {
        jl[l] = x;
        jl[size + l] = y;
    }

    /**
     * Three directions at right angles to unit 4-vector p: columns 2 to 4 of the Householder reflection that maps p to
     * an axis.
     */
    static void tangent(double[] p, double[] basis, int at) {
        int k = 0;
        for (int i = 1; i < 4; i++) if (Math.abs(p[i]) > Math.abs(p[k])) k = i;
        double sign = p[k] < 0 ? -1 : 1, beta = 1 / (1 + Math.abs(p[k]));
        for (int i = 0; i < 4; i++) {
            double vi = p[i] + (i == k ? sign : 0);
            for (int j = 0, col = 0; j < 4; j++) {
                if (j == k) continue;
                basis[at + 3 * i + col++] = (i == j ? 1 : 0) - beta * vi * p[j];
            }
        }
    }
}
