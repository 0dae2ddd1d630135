package dasein.core.cast;

import dasein.core.BadInput;
import dasein.core.key.Curve;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.stream.Stream;

/**
 * A placed model over time. Every number may have a {@link Curve}, which then takes its place.
 *
 * @param id number within the shot, from 1; also the value of the identity pass
 * @param model name of the model on the shelf or of the file
 * @param x metres to the right of the set's origin; {@code y} lift above the ground; {@code z} towards the start of the
 *     heading
 * @param headingDeg turn about the vertical, counter-clockwise from above; 0 faces +Z
 * @param pitchDeg nose up; @param rollDeg to its left side up
 * @param heightMetres height at rest; sets the size
 * @param clips played one after the other, rising by their first frame; empty for the rest position
 * @param curves by channel: one of {@link #CHANNELS}, or that of a part
 * @param route it takes, or null; then x and z are offsets from it
 * @param tie what it goes along with, or null
 * @param feet what stands at its height; @param onGround its height is over whatever ground or set piece lies below it
 * @param parts nodes turned about their own pivots; @param looks changes of its materials
 * @param flock that it is many, or null; @param card that it is footage on a card instead of a model, or null
 */
public record Performer(
        int id,
        String name,
        String model,
        double x,
        double y,
        double z,
        double headingDeg,
        double pitchDeg,
        double rollDeg,
        double heightMetres,
        List<ClipUse> clips,
        Map<String, Curve> curves,
        Route route,
        Tie tie,
        Feet feet,
        boolean onGround,
        List<PartTurn> parts,
        List<Look> looks,
        Flock flock,
        Card card) {

    /**
     * Numbers that can be keyed: place, turn and size, the way along the route in metres, and the second into the clip.
     */
    public static final List<String> CHANNELS =
            List.of("x", "y", "z", "heading", "pitch", "roll", "height", "way", "clip");

    private static final int MOST_CLIPS = 100, MOST_PARTS = 200;

    public enum Feet {
        /** Its lowest point at rest. */
        REST,
        /** The lowest over the clip. */
        CLIP,
        /** The lowest in each frame. */
        ALWAYS
    }

    public Performer {
        if (clips == null) clips = List.of();
        if (curves == null) curves = Map.of();
        if (feet == null) feet = Feet.REST;
        if (parts == null) parts = List.of();
        if (looks == null) looks = List.of();
        if (clips.size() > MOST_CLIPS || parts.size() > MOST_PARTS || looks.size() > MOST_PARTS)
            throw new BadInput(name + " has more clips or parts than can be kept");
        for (int i = 1; i < clips.size(); i++)
            if (clips.get(i).at() < clips.get(i - 1).at())
                throw new BadInput("the clips of " + name + " must rise by their first frame");
        // In order, so that the same decisions have the same fingerprint.
        curves = new TreeMap<>(curves);
    }

    /**
     * One that stands, with a clip or without. @param clip empty for the rest position; @param clipStart seconds into
     * it at the first frame
     */
    public Performer(
            int id,
            String name,
            String model,
            double x,
            double y,
            double z,
            double headingDeg,
            double heightMetres,
            String clip,
            double clipStart,
            double clipSpeed,
            boolean loop) {
        this(
                id,
                name,
                model,
                x,
                y,
                z,
                headingDeg,
                0,
                0,
                heightMetres,
                clip.isEmpty()
                        ? List.of()
                        : List.of(new ClipUse(
                                clip,
                                0,
                                0,
                                0,
                                clipStart,
                                clipSpeed,
                                loop ? ClipUse.Repeat.LOOP : ClipUse.Repeat.HOLD,
                                0)),
                Map.of(),
                null,
                null,
                Feet.REST,
                false,
                List.of(),
                List.of(),
                null,
                null);
    }

    /** Names of the footage it shows or is masked by. */
    public List<String> footage() {
        return Stream.concat(
                        Stream.ofNullable(card).map(Card::footage),
                        looks.stream().map(Look::picture).filter(Objects::nonNull))
                .toList();
    }

    public Curve curve(String channel) {
        return curves.getOrDefault(channel, Curve.NONE);
    }

    public Performer at(double nx, double ny, double nz) {
        return new Performer(
                id,
                name,
                model,
                nx,
                ny,
                nz,
                headingDeg,
                pitchDeg,
                rollDeg,
                heightMetres,
                clips,
                curves,
                route,
                tie,
                feet,
                onGround,
                parts,
                looks,
                flock,
                card);
    }

    public Performer turned(double heading, double pitch, double roll) {
        return new Performer(
                id,
                name,
                model,
                x,
                y,
                z,
                heading,
                pitch,
                roll,
                heightMetres,
                clips,
                curves,
                route,
                tie,
                feet,
                onGround,
                parts,
                looks,
                flock,
                card);
    }

    public Performer sized(double metres) {
        return new Performer(
                id,
                name,
                model,
                x,
                y,
                z,
                headingDeg,
                pitchDeg,
                rollDeg,
                metres,
                clips,
                curves,
                route,
                tie,
                feet,
                onGround,
                parts,
                looks,
                flock,
                card);
    }

    /** Another number and name, for a copy. */
    public Performer as(int newId, String newName) {
        return new Performer(
                newId,
                newName,
                model,
                x,
                y,
                z,
                headingDeg,
                pitchDeg,
                rollDeg,
                heightMetres,
                clips,
                curves,
                route,
                tie,
                feet,
                onGround,
                parts,
                looks,
                flock,
                card);
    }

    /** Another model in its place; what it plays and how it looks stays as far as the model has it. */
    public Performer withModel(String other) {
        return new Performer(
                id,
                name,
                other,
                x,
                y,
                z,
                headingDeg,
                pitchDeg,
                rollDeg,
                heightMetres,
                clips,
                curves,
                route,
                tie,
                feet,
                onGround,
                parts,
                looks,
                flock,
                card);
    }

    public Performer withClips(List<ClipUse> c) {
        List<ClipUse> all = new ArrayList<>(c);
        all.sort(Comparator.comparingInt(ClipUse::at));
        return new Performer(
                id,
                name,
                model,
                x,
                y,
                z,
                headingDeg,
                pitchDeg,
                rollDeg,
                heightMetres,
                List.copyOf(all),
                curves,
                route,
                tie,
                feet,
                onGround,
                parts,
                looks,
                flock,
                card);
    }

    public Performer with(String channel, Curve c) {
        Map<String, Curve> all = new TreeMap<>(curves);
        if (c.empty()) all.remove(channel);
        else all.put(channel, c);
        return new Performer(
                id,
                name,
                model,
                x,
                y,
                z,
                headingDeg,
                pitchDeg,
                rollDeg,
                heightMetres,
                clips,
                all,
                route,
                tie,
                feet,
                onGround,
                parts,
                looks,
                flock,
                card);
    }

    public Performer with(Route r) {
        return new Performer(
                id,
                name,
                model,
                x,
                y,
                z,
                headingDeg,
                pitchDeg,
                rollDeg,
                heightMetres,
                clips,
                curves,
                r,
                tie,
                feet,
                onGround,
                parts,
                looks,
                flock,
                card);
    }

    public Performer with(Tie t) {
        return new Performer(
                id,
                name,
                model,
                x,
                y,
                z,
                headingDeg,
                pitchDeg,
                rollDeg,
                heightMetres,
                clips,
                curves,
                route,
                t,
                feet,
                onGround,
                parts,
                looks,
                flock,
                card);
    }

    public Performer standing(Feet f, boolean ground) {
        return new Performer(
                id,
                name,
                model,
                x,
                y,
                z,
                headingDeg,
                pitchDeg,
                rollDeg,
                heightMetres,
                clips,
                curves,
                route,
                tie,
                f,
                ground,
                parts,
                looks,
                flock,
                card);
    }

    public Performer withParts(List<PartTurn> p) {
        return new Performer(
                id,
                name,
                model,
                x,
                y,
                z,
                headingDeg,
                pitchDeg,
                rollDeg,
                heightMetres,
                clips,
                curves,
                route,
                tie,
                feet,
                onGround,
                List.copyOf(p),
                looks,
                flock,
                card);
    }

    public Performer withLooks(List<Look> l) {
        return new Performer(
                id,
                name,
                model,
                x,
                y,
                z,
                headingDeg,
                pitchDeg,
                rollDeg,
                heightMetres,
                clips,
                curves,
                route,
                tie,
                feet,
                onGround,
                parts,
                List.copyOf(l),
                flock,
                card);
    }

    public Performer with(Flock f) {
        return new Performer(
                id,
                name,
                model,
                x,
                y,
                z,
                headingDeg,
                pitchDeg,
                rollDeg,
                heightMetres,
                clips,
                curves,
                route,
                tie,
                feet,
                onGround,
                parts,
                looks,
                f,
                card);
    }

    public Performer with(Card c) {
        return new Performer(
                id,
                name,
                model,
                x,
                y,
                z,
                headingDeg,
                pitchDeg,
                rollDeg,
                heightMetres,
                clips,
                curves,
                route,
                tie,
                feet,
                onGround,
                parts,
                looks,
                flock,
                c);
    }
}
