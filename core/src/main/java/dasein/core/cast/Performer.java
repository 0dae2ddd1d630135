package dasein.core.cast;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import dasein.core.BadInput;
import dasein.core.key.Curve;
import dasein.core.key.Keyed;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.stream.Stream;

/**
 * A placed model over time. Every number may have a {@link Curve}, which then takes its place.
 *
 * @param id number within the shot, from 1; also the value of the identity pass
 * @param model name of the model on the shelf or of the file
 * @param stance where it stands, and how large; in documents its numbers stand among the others
 * @param clips played one after the other, rising by their first frame; empty for the rest position
 * @param curves by channel: one of {@link #CHANNELS}, or that of a part
 * @param route it takes, or null; then x and z are offsets from it
 * @param tie what it goes along with, or null
 * @param feet what stands at its height; @param onGround its height is over whatever ground or set piece lies below it
 * @param parts nodes turned about their own pivots; @param wheels numbers of those of them that are wheels
 * @param looks changes of its materials
 * @param flock that it is many, or null; @param card that it is footage on a card instead of a model, or null
 */
public record Performer(
        int id,
        String name,
        String model,
        @JsonUnwrapped Stance stance,
        List<ClipUse> clips,
        Map<String, Curve> curves,
        Route route,
        Tie tie,
        Feet feet,
        boolean onGround,
        List<PartTurn> parts,
        Wheels wheels,
        List<Look> looks,
        Flock flock,
        Card card)
        implements Keyed<Performer> {

    /**
     * Numbers that can be keyed: place, turn and size, the way along the route in metres, the second into the clip, and
     * what its wheels do besides.
     */
    public static final List<String> CHANNELS =
            List.of("x", "y", "z", "heading", "pitch", "roll", "height", "way", "clip", "steer", "spin");
    /** Those that are called otherwise. */
    private static final Map<String, String> CALLED =
            Map.of("y", "lift", "way", "way gone", "clip", "clip's time", "steer", "all steer", "spin", "all spin");

    /**
     * @param x metres to the right of the set's origin; {@code y} lift above the ground; {@code z} towards the start of
     *     the heading
     * @param headingDeg turn about the vertical, counter-clockwise from above; 0 faces +Z
     * @param pitchDeg nose up; @param rollDeg to its left side up
     * @param heightMetres height at rest; sets the size
     */
    public record Stance(
            double x, double y, double z, double headingDeg, double pitchDeg, double rollDeg, double heightMetres) {}

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
        if (wheels == null) wheels = Wheels.NONE;
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
                new Stance(x, y, z, headingDeg, 0, 0, heightMetres),
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
                null,
                List.of(),
                null,
                null);
    }

    public double x() {
        return stance.x;
    }

    public double y() {
        return stance.y;
    }

    public double z() {
        return stance.z;
    }

    public double headingDeg() {
        return stance.headingDeg;
    }

    public double pitchDeg() {
        return stance.pitchDeg;
    }

    public double rollDeg() {
        return stance.rollDeg;
    }

    public double heightMetres() {
        return stance.heightMetres;
    }

    /** Names of the footage it shows or is masked by. */
    public List<String> footage() {
        return Stream.concat(
                        Stream.ofNullable(card).map(Card::footage),
                        looks.stream().map(Look::picture).filter(Objects::nonNull))
                .toList();
    }

    @Override
    public Curve curve(String channel) {
        return curves.getOrDefault(channel, Curve.NONE);
    }

    @Override
    public boolean has(String channel) {
        return CHANNELS.contains(channel)
                || parts.stream().anyMatch(t -> t.channel().equals(channel));
    }

    @Override
    public String called(String channel) {
        return parts.stream()
                .filter(t -> t.channel().equals(channel))
                .map(t -> t.node() + " " + t.axis())
                .findFirst()
                .orElse(CALLED.getOrDefault(channel, channel));
    }

    /** What each channel is without a curve; the way and the clip's second follow from route and clips. */
    public Map<String, Double> rests() {
        Map<String, Double> v = new LinkedHashMap<>();
        v.put("x", stance.x);
        v.put("y", stance.y);
        v.put("z", stance.z);
        v.put("heading", stance.headingDeg);
        v.put("pitch", stance.pitchDeg);
        v.put("roll", stance.rollDeg);
        v.put("height", stance.heightMetres);
        v.put("steer", wheels.steerDeg());
        v.put("spin", wheels.spinDeg());
        for (PartTurn t : parts) v.put(t.channel(), t.deg());
        return v;
    }

    @Override
    public double rest(String channel) {
        return rests().getOrDefault(channel, 0.0);
    }

    @Override
    public Performer resting(String channel, double v) {
        return switch (channel) {
            case "x" -> at(v, y(), z());
            case "y" -> at(x(), v, z());
            case "z" -> at(x(), y(), v);
            case "heading" -> turned(v, pitchDeg(), rollDeg());
            case "pitch" -> turned(headingDeg(), v, rollDeg());
            case "roll" -> turned(headingDeg(), pitchDeg(), v);
            case "height" -> sized(v);
            case "steer" -> with(new Wheels(v, wheels.spinDeg()));
            case "spin" -> with(new Wheels(wheels.steerDeg(), v));
            default ->
                withParts(parts.stream()
                        .map(t -> t.channel().equals(channel) ? t.at(v) : t)
                        .toList());
        };
    }

    public Performer at(double nx, double ny, double nz) {
        return but(o -> o.stance = new Stance(nx, ny, nz, headingDeg(), pitchDeg(), rollDeg(), heightMetres()));
    }

    public Performer turned(double heading, double pitch, double roll) {
        return but(o -> o.stance = new Stance(x(), y(), z(), heading, pitch, roll, heightMetres()));
    }

    public Performer sized(double metres) {
        return but(o -> o.stance = new Stance(x(), y(), z(), headingDeg(), pitchDeg(), rollDeg(), metres));
    }

    /** Another number and name, for a copy. */
    public Performer as(int newId, String newName) {
        return but(o -> {
            o.id = newId;
            o.name = newName;
        });
    }

    /** Another model in its place; what it plays and how it looks stays as far as the model has it. */
    public Performer withModel(String other) {
        return but(o -> o.model = other);
    }

    public Performer withClips(List<ClipUse> c) {
        List<ClipUse> all = new ArrayList<>(c);
        all.sort(Comparator.comparingInt(ClipUse::at));
        return but(o -> o.clips = List.copyOf(all));
    }

    @Override
    public Performer with(String channel, Curve c) {
        Map<String, Curve> all = new TreeMap<>(curves);
        if (c.empty()) all.remove(channel);
        else all.put(channel, c);
        return but(o -> o.curves = all);
    }

    public Performer with(Route r) {
        return but(o -> o.route = r);
    }

    public Performer with(Tie t) {
        return but(o -> o.tie = t);
    }

    public Performer standing(Feet f, boolean ground) {
        return but(o -> {
            o.feet = f;
            o.onGround = ground;
        });
    }

    public Performer withParts(List<PartTurn> p) {
        return but(o -> o.parts = List.copyOf(p));
    }

    public Performer with(Wheels w) {
        return but(o -> o.wheels = w);
    }

    public Performer withLooks(List<Look> l) {
        return but(o -> o.looks = List.copyOf(l));
    }

    public Performer with(Flock f) {
        return but(o -> o.flock = f);
    }

    public Performer with(Card c) {
        return but(o -> o.card = c);
    }

    /** A copy while it is changed, so that a change names only what it changes. */
    private static final class Copy {
        private int id;
        private String name;
        private String model;
        private Stance stance;
        private List<ClipUse> clips;
        private Map<String, Curve> curves;
        private Route route;
        private Tie tie;
        private Feet feet;
        private boolean onGround;
        private List<PartTurn> parts;
        private Wheels wheels;
        private List<Look> looks;
        private Flock flock;
        private Card card;
    }

    private Performer but(Consumer<Copy> change) {
        Copy o = new Copy();
        o.id = id;
        o.name = name;
        o.model = model;
        o.stance = stance;
        o.clips = clips;
        o.curves = curves;
        o.route = route;
        o.tie = tie;
        o.feet = feet;
        o.onGround = onGround;
        o.parts = parts;
        o.wheels = wheels;
        o.looks = looks;
        o.flock = flock;
        o.card = card;
        change.accept(o);
        return new Performer(
                o.id,
                o.name,
                o.model,
                o.stance,
                o.clips,
                o.curves,
                o.route,
                o.tie,
                o.feet,
                o.onGround,
                o.parts,
                o.wheels,
                o.looks,
                o.flock,
                o.card);
    }
}
