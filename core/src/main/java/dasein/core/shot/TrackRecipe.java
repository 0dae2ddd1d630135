package dasein.core.shot;

import dasein.core.BadInput;
import dasein.core.track.DrawnMask;
import dasein.core.track.HandMark;
import dasein.core.track.TrackSettings;
import java.util.List;
import java.util.function.Consumer;

/**
 * How marks are found, and what a person did to them. The four first belong to {@link TrackSettings}.
 *
 * @param mask picture or folder, white = do not look here, empty for none
 * @param file tracks brought in instead of being found; empty to find them
 * @param deleted tracks taken out; @param cuts parts of tracks taken out; @param joins tracks that are one mark; @param
 *     marks put by hand
 * @param groups of tracks that belong together
 */
public record TrackRecipe(
        int count,
        double threshold,
        int region,
        double spacing,
        TrackSettings.Quality quality,
        String mask,
        String file,
        List<Integer> deleted,
        List<Cut> cuts,
        List<Join> joins,
        List<DrawnMask> masks,
        List<HandMark> marks,
        List<TrackGroup> groups) {

    /** Other tracks with the same numbers: what was done to the old ones means nothing to them. */
    public TrackRecipe with(TrackSettings.Quality q) {
        return q == quality ? this : but(o -> o.quality = q).withMasks(masks);
    }

    public TrackRecipe withDeleted(List<Integer> d) {
        return but(o -> o.deleted = List.copyOf(d));
    }

    public TrackRecipe withCuts(List<Cut> c) {
        return but(o -> o.cuts = List.copyOf(c));
    }

    public TrackRecipe withJoins(List<Join> j) {
        return but(o -> o.joins = List.copyOf(j));
    }

    /**
     * Other masks or settings give other tracks under the same numbers: what was done to those means nothing any more.
     */
    public TrackRecipe withMasks(List<DrawnMask> m) {
        return but(o -> {
            o.deleted = List.of();
            o.cuts = List.of();
            o.joins = List.of();
            o.masks = List.copyOf(m);
            o.groups = onlyHand(groups);
        });
    }

    /** Tracks from a file; empty to find them again. */
    public TrackRecipe withFile(String f) {
        return but(o -> {
            o.file = f;
            o.deleted = List.of();
            o.cuts = List.of();
            o.joins = List.of();
            o.groups = onlyHand(groups);
        });
    }

    /** A mask whose marks are gone stands where it was drawn. */
    public TrackRecipe withMarks(List<HandMark> m) {
        List<Integer> ids = m.stream().map(HandMark::id).toList();
        List<DrawnMask> still = masks.stream()
                .map(k -> ids.containsAll(k.marks())
                        ? k
                        : new DrawnMask(
                                k.id(),
                                k.name(),
                                k.feather(),
                                k.carry() == DrawnMask.Carry.MARKS ? DrawnMask.Carry.KEYS : k.carry(),
                                k.keys(),
                                k.use(),
                                List.of(),
                                k.feathers(),
                                k.corners()))
                .toList();
        return but(o -> {
            o.masks = still;
            o.marks = List.copyOf(m);
        });
    }

    public TrackRecipe withGroups(List<TrackGroup> g) {
        return but(o -> o.groups = List.copyOf(g));
    }

    /** Masks that change nothing about what is found. */
    public TrackRecipe withSurfaces(List<DrawnMask> m) {
        return but(o -> o.masks = List.copyOf(m));
    }

    private static List<TrackGroup> onlyHand(List<TrackGroup> groups) {
        return groups.stream()
                .map(g -> g.withTracks(
                        g.tracks().stream().filter(t -> t >= HandMark.FIRST_ID).toList()))
                .filter(g -> !g.tracks().isEmpty())
                .toList();
    }

    /** Those of the tracks that nothing may be done to. */
    public java.util.Set<Integer> locked() {
        return groups.stream()
                .filter(TrackGroup::locked)
                .flatMap(g -> g.tracks().stream())
                .collect(java.util.stream.Collectors.toSet());
    }

    /** Those that move by themselves and say nothing about the camera. */
    public java.util.Set<Integer> moving() {
        return groups.stream()
                .filter(TrackGroup::moving)
                .flatMap(g -> g.tracks().stream())
                .collect(java.util.stream.Collectors.toSet());
    }

    /**
     * Tracks that belong together.
     *
     * @param colour as #rrggbb; @param locked nothing may be done to its tracks; @param moving it moves by itself and
     *     says nothing about the camera
     */
    public record TrackGroup(int id, String name, String colour, boolean locked, boolean moving, List<Integer> tracks) {
        public TrackGroup {
            if (!colour.matches("#[0-9a-fA-F]{6}")) throw new BadInput("\"" + colour + "\" is not a colour");
        }

        public TrackGroup withTracks(List<Integer> t) {
            return new TrackGroup(id, name, colour, locked, moving, List.copyOf(t));
        }
    }

    /** The sightings of a track from one frame to another, both taken out. */
    public record Cut(int track, int from, int to) {}

    /**
     * Two tracks of one mark: the second's sightings go on under the first's number, where the first has none of its
     * own.
     */
    public record Join(int track, int other) {}

    /** A copy while it is changed, so that a change names only what it changes. */
    private static final class Copy {
        private int count;
        private double threshold;
        private int region;
        private double spacing;
        private TrackSettings.Quality quality;
        private String mask;
        private String file;
        private List<Integer> deleted;
        private List<Cut> cuts;
        private List<Join> joins;
        private List<DrawnMask> masks;
        private List<HandMark> marks;
        private List<TrackGroup> groups;
    }

    private TrackRecipe but(Consumer<Copy> change) {
        Copy o = new Copy();
        o.count = count;
        o.threshold = threshold;
        o.region = region;
        o.spacing = spacing;
        o.quality = quality;
        o.mask = mask;
        o.file = file;
        o.deleted = deleted;
        o.cuts = cuts;
        o.joins = joins;
        o.masks = masks;
        o.marks = marks;
        o.groups = groups;
        change.accept(o);
        return new TrackRecipe(
                o.count,
                o.threshold,
                o.region,
                o.spacing,
                o.quality,
                o.mask,
                o.file,
                o.deleted,
                o.cuts,
                o.joins,
                o.masks,
                o.marks,
                o.groups);
    }
}
