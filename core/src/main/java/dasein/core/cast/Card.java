package dasein.core.cast;

import dasein.core.BadInput;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.Texture;
import java.util.ArrayList;
import java.util.List;

/**
 * Footage on a card that stands in the set. It stands on its lower edge, faces +Z, and is as high as its performer is
 * said to be.
 *
 * @param footage name or hash of the movie or the frames
 * @param cut how what is not to be seen is taken out
 * @param bendDeg by which it is curved about the vertical, hollow towards the viewer; 0 is flat
 * @param faces it turns about the vertical so that it always faces the camera
 * @param seen by the camera; @param shadow it casts one; @param mirrored it is seen in reflections and gives light
 *     back; added light falls on what is near
 * @param shadowTurnDeg by which what casts the shadow is turned against what is seen: light from the side would meet
 *     its edge
 * @param added its light is added to what lies behind instead of covering that
 * @param lit by the set's light; else it shows its footage as it is, times {@code level}; @param shaded then it still
 *     gets darker where other performers keep light from it
 * @param offset frames of the footage by which it is further on; @param rate of the footage, frames a second, 0 for its
 *     own; @param again it begins again at its end
 * @param shadowToSun what casts the shadow turns so that the sun meets it from its front or its back, besides that
 * @param matte what is done to its edge
 */
public record Card(
        String footage,
        Cut cut,
        double bendDeg,
        boolean faces,
        boolean seen,
        boolean shadow,
        boolean mirrored,
        double shadowTurnDeg,
        boolean added,
        boolean lit,
        Boolean shaded,
        double level,
        double offset,
        double rate,
        boolean again,
        Boolean shadowToSun,
        Matte matte) {
    private static final int COLUMNS = 24;

    public enum Cut {
        /** All of the picture is seen. */
        NONE,
        /** By the footage's own alpha, colours as they are. */
        ALPHA,
        /** By its alpha, which the colours are multiplied by already. */
        PREMULTIPLIED,
        /**
         * Black is clear. Shown as it is, what lies behind a grey of c then shows 1 - (1 - c) (1 - b): screen. Of a
         * colour all of it covers as its brightest channel does, so that no colour of what lies behind shines through
         * the others.
         */
        BLACK,
        /** White is clear. */
        WHITE
    }

    public Card {
        // Cards of earlier documents were not.
        shaded = shaded != null && shaded;
        shadowToSun = shadowToSun != null && shadowToSun;
        if (matte == null) matte = Matte.NONE;
        if (!(Math.abs(bendDeg) <= 300
                && level >= 0
                && level <= 1000
                && rate >= 0
                && rate <= 1000
                && Math.abs(offset) < 1e7))
            throw new BadInput("a card's bend must lie within 300 degrees, its level and rate below 1000");
    }

    /** One whose shadow is cast by itself, with its matte as it is. */
    public Card(
            String footage,
            Cut cut,
            double bendDeg,
            boolean faces,
            boolean seen,
            boolean shadow,
            boolean mirrored,
            double shadowTurnDeg,
            boolean added,
            boolean lit,
            Boolean shaded,
            double level,
            double offset,
            double rate,
            boolean again) {
        this(
                footage,
                cut,
                bendDeg,
                faces,
                seen,
                shadow,
                mirrored,
                shadowTurnDeg,
                added,
                lit,
                shaded,
                level,
                offset,
                rate,
                again,
                false,
                Matte.NONE);
    }

    public static Card of(String footage, Cut cut) {
        return new Card(
                footage, cut, 0, true, true, true, true, 0, false, false, true, 1, 0, 0, true, true, Matte.NONE);
    }

    /**
     * By how much what casts the shadow is turned, degrees.
     *
     * @param headingDeg of the card; @param sun towards it; null where there is none
     */
    public double shadowTurn(double headingDeg, Vec3 sun) {
        if (!shadowToSun || sun == null || Math.hypot(sun.x(), sun.z()) < 1e-3) return shadowTurnDeg;
        double turn = Math.toDegrees(Math.atan2(sun.x(), sun.z())) - headingDeg;
        // Front or back, whichever is nearer: left stays left.
        return shadowTurnDeg + turn - 180 * Math.rint(turn / 180);
    }

    /** The same card with other footage. */
    public Card showing(String other) {
        return new Card(
                other,
                cut,
                bendDeg,
                faces,
                seen,
                shadow,
                mirrored,
                shadowTurnDeg,
                added,
                lit,
                shaded,
                level,
                offset,
                rate,
                again,
                shadowToSun,
                matte);
    }

    /** Number of the footage's frame, from 0, at some seconds since the shot began. */
    public int frame(double seconds, int count, double own) {
        long k = (long) Math.floor(seconds * (rate > 0 ? rate : own) + offset + 1e-6);
        return (int) (again ? Math.floorMod(k, (long) count) : Math.max(0, Math.min(count - 1, k)));
    }

    /**
     * A sentence where the footage ends before the shot does; empty where it lasts.
     *
     * @param count frames of the footage; @param own its frames a second; @param shot frames of the shot, of which
     *     there are {@code perSecond}
     */
    public String ends(int count, double own, int shot, double perSecond) {
        // A picture stands for as long as it is wanted.
        if (count == 1) return "";
        int last = shot - 1;
        if (offset + last / perSecond * (rate > 0 ? rate : own) < count) return "";
        int whole = (int) Math.max(0, Math.ceil((count - offset) / (rate > 0 ? rate : own) * perSecond - 1e-6));
        String much = whole + " of the shot's " + shot + " frames; ";
        return "The footage lasts " + much + (again ? "then it begins again." : "then its last frame stands still.");
    }

    /** One unit high, with one material that has no texture yet. @param aspect width over height */
    public static Model model(double aspect, double bendDeg) {
        int columns = bendDeg == 0 ? 1 : COLUMNS, n = 2 * (columns + 1);
        float[] p = new float[3 * n], normal = new float[3 * n], uv = new float[2 * n];
        double bend = Math.toRadians(bendDeg);
        for (int i = 0; i <= columns; i++) {
            double t = (double) i / columns, x = aspect * (t - 0.5), z = 0, nx = 0, nz = 1;
            if (bend != 0) {
                // An arc as long as the card is wide.
                double r = aspect / bend, a = bend * (t - 0.5);
                x = r * Math.sin(a);
                z = r * (1 - Math.cos(a));
                nx = -Math.sin(a);
                nz = Math.cos(a);
            }
            for (int j = 0; j < 2; j++) {
                int k = 2 * i + j;
                p[3 * k] = (float) x;
                p[3 * k + 1] = j;
                p[3 * k + 2] = (float) z;
                normal[3 * k] = (float) nx;
                normal[3 * k + 2] = (float) nz;
                uv[2 * k] = (float) t;
                uv[2 * k + 1] = 1 - j;
            }
        }
        List<Integer> index = new ArrayList<>();
        for (int i = 0; i < columns; i++)
            index.addAll(List.of(2 * i, 2 * i + 2, 2 * i + 1, 2 * i + 2, 2 * i + 3, 2 * i + 1));
        Model.Node node =
                new Model.Node("card", -1, new float[3], new float[] {0, 0, 0, 1}, new float[] {1, 1, 1}, new float[0]);
        return new Model(
                "card",
                List.of(node),
                List.of(new Model.Part(
                        0,
                        -1,
                        p,
                        normal,
                        uv,
                        index.stream().mapToInt(v -> v).toArray(),
                        0,
                        new int[0],
                        new float[0],
                        new float[0][],
                        new float[0][])),
                List.of(),
                List.of(),
                new Material[] {
                    new Material(
                            "card",
                            new float[] {1, 1, 1, 1},
                            null,
                            0,
                            1,
                            null,
                            null,
                            1,
                            new float[3],
                            null,
                            0,
                            false,
                            true)
                });
    }

    /** Its material with a frame on it. */
    public Material material(Texture frame) {
        float k = (float) level;
        boolean whole = cut == Cut.NONE || added;
        if (lit && !added)
            return new Material(
                    "card",
                    new float[] {k, k, k, 1},
                    frame,
                    0,
                    0.9f,
                    null,
                    null,
                    1,
                    new float[3],
                    null,
                    0,
                    !whole,
                    true);
        return new Material(
                        "card",
                        new float[] {k, k, k, 1},
                        frame,
                        0,
                        1,
                        null,
                        null,
                        1,
                        new float[3],
                        null,
                        0,
                        !whole,
                        true)
                .with(new Material.Layers(new float[3], 0, 0, 0, true));
    }
}
