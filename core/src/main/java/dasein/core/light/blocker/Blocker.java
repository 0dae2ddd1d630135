package dasein.core.light.blocker;

import dasein.core.BadInput;

/**
 * Keeps light away and is not seen itself: a flag, whole or cut out by a picture, or a layer of leaves.
 *
 * @param on whether it is there; @param real it stood on set, so that the plate shows its shadow already and only
 *     performers get it
 * @param x middle, metres; @param y; @param z; @param headingDeg which way it faces, 0 along +Z and 90 along +X; @param
 *     tiltDeg 90 straight up, -90 down
 * @param width metres; @param height metres
 * @param cover part of the light that leaves keep away, 0.05 to 0.95
 * @param leaf length of a leaf, metres
 * @param drift how far wind moves it to either side, metres; @param seconds of about one sway
 * @param picture name of what cuts a flag out: it keeps away what its alpha covers, or what is dark where it has none;
 *     empty for a whole flag
 */
public record Blocker(
        int id,
        String name,
        Kind kind,
        boolean on,
        boolean real,
        double x,
        double y,
        double z,
        double headingDeg,
        double tiltDeg,
        double width,
        double height,
        double cover,
        double leaf,
        double drift,
        double seconds,
        String picture) {
    public enum Kind {
        FLAG,
        LEAVES
    }

    public Blocker {
        if (picture == null) picture = "";
        if (!(Math.abs(x) <= 1e4 && Math.abs(y) <= 1e4 && Math.abs(z) <= 1e4))
            throw new BadInput("a blocker must stand within 10 km");
        if (!(width >= 0.02 && width <= 200 && height >= 0.02 && height <= 200))
            throw new BadInput("a blocker is between 0.02 and 200 metres wide and high");
        if (!(cover >= 0.05 && cover <= 0.95 && leaf >= 0.01 && leaf <= 5))
            throw new BadInput("leaves cover 5 to 95 %, and are 0.01 to 5 metres long");
        if (!(drift >= 0 && drift <= 20 && seconds >= 0.1 && seconds <= 1000))
            throw new BadInput("leaves drift by at most 20 metres, in 0.1 to 1000 seconds");
    }

    public Blocker named(String other) {
        return as(other, x, y, z, picture);
    }

    /** @param other name of a picture; empty for none */
    public Blocker cutBy(String other) {
        return as(name, x, y, z, other);
    }

    public Blocker at(double toX, double toY, double toZ) {
        return as(name, toX, toY, toZ, picture);
    }

    private Blocker as(String called, double atX, double atY, double atZ, String cut) {
        return new Blocker(
                id,
                called,
                kind,
                on,
                real,
                atX,
                atY,
                atZ,
                headingDeg,
                tiltDeg,
                width,
                height,
                cover,
                leaf,
                drift,
                seconds,
                cut);
    }

    /** Level over a place: leaves a tree's height up, a flag on a stand. */
    public static Blocker fresh(int id, Kind kind, double x, double z) {
        boolean leaves = kind == Kind.LEAVES;
        return new Blocker(
                id,
                (leaves ? "leaves " : "flag ") + id,
                kind,
                true,
                leaves,
                x,
                leaves ? 5 : 3,
                z,
                0,
                90,
                leaves ? 6 : 1.2,
                leaves ? 6 : 1,
                0.5,
                0.18,
                leaves ? 0.08 : 0,
                2.5,
                "");
    }
}
