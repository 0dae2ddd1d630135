package dasein.core.shot;

import dasein.core.BadInput;
import dasein.core.cast.Performer;
import dasein.core.comp.CompRecipe;
import dasein.core.ground.SetRecipe;
import dasein.core.light.LightRecipe;
import dasein.core.plate.Conform;
import dasein.core.render.PassesRecipe;
import dasein.core.solve.CameraMatch;
import dasein.core.solve.Hints;
import dasein.core.solve.file.CameraExchange;
import dasein.core.track.DrawnMask;
import dasein.core.track.HandMark;
import dasein.core.track.TrackSettings;
import java.util.List;

/** Everything a person decided about a shot. Every edit makes a new one; results are pure functions of parts of it. */
public record Shot(
        String schema,
        PlateRecipe plate,
        TrackRecipe tracks,
        CameraRecipe camera,
        SetRecipe set,
        List<Performer> performers,
        LightRecipe light,
        PassesRecipe passes,
        CompRecipe comp) {
    public static final String SCHEMA = "dasein-shot/2";

    /**
     * What was brought in, how to read it, and what was written down on set. Numbers that are 0 and texts that are
     * empty are unknown.
     *
     * @param file movie or folder of frames; @param encoding empty for the usual one; @param rate empty for the file's
     *     own
     * @param first first frame of the range, 0 for the file's own; {@code last} likewise
     * @param sensorWidthMm film back; @param focalMm focal length; @param fStop of the aperture
     * @param focusMetres distance of focus; @param shutterDeg how long the shutter was open, 360 the whole frame
     * @param timecode of the first frame, where the file's own is to be overruled
     * @param table a {@code .cube} file through which the codes go before {@code encoding} reads them; empty for none
     * @param conform how stored frames become even, progressive ones with square pixels
     * @param handles frames on either side of the range that are tracked and solved, too, but not rendered unless asked
     *     for
     * @param distances taped on set; @param photos of chart, ball and place, by their hash
     */
    public record PlateRecipe(
            String file,
            String encoding,
            String rate,
            int first,
            int last,
            double sensorWidthMm,
            double focalMm,
            String notes,
            String camera,
            String lens,
            double fStop,
            double focusMetres,
            double shutterDeg,
            double cameraHeightMetres,
            String timecode,
            String table,
            Conform conform,
            int handles,
            List<Distance> distances,
            List<Photo> photos) {
        public static final PlateRecipe BLANK = new PlateRecipe(
                "", "", "", 0, 0, 0, 0, "", "", "", 0, 0, 0, 0, "", "", Conform.NONE, 0, List.of(), List.of());

        /** Other footage under the same notes, read as it says itself. */
        public PlateRecipe withFile(String other) {
            return new PlateRecipe(
                    other,
                    "",
                    "",
                    0,
                    0,
                    sensorWidthMm,
                    focalMm,
                    notes,
                    camera,
                    lens,
                    fStop,
                    focusMetres,
                    shutterDeg,
                    cameraHeightMetres,
                    "",
                    "",
                    Conform.NONE,
                    handles,
                    distances,
                    photos);
        }

        /** The same footage under another name, read as before. */
        public PlateRecipe named(String other) {
            return new PlateRecipe(
                    other,
                    encoding,
                    rate,
                    first,
                    last,
                    sensorWidthMm,
                    focalMm,
                    notes,
                    camera,
                    lens,
                    fStop,
                    focusMetres,
                    shutterDeg,
                    cameraHeightMetres,
                    timecode,
                    table,
                    conform,
                    handles,
                    distances,
                    photos);
        }

        public PlateRecipe withTable(String t) {
            return new PlateRecipe(
                    file,
                    encoding,
                    rate,
                    first,
                    last,
                    sensorWidthMm,
                    focalMm,
                    notes,
                    camera,
                    lens,
                    fStop,
                    focusMetres,
                    shutterDeg,
                    cameraHeightMetres,
                    timecode,
                    t,
                    conform,
                    handles,
                    distances,
                    photos);
        }

        public PlateRecipe withPhotos(List<Photo> p) {
            return new PlateRecipe(
                    file,
                    encoding,
                    rate,
                    first,
                    last,
                    sensorWidthMm,
                    focalMm,
                    notes,
                    camera,
                    lens,
                    fStop,
                    focusMetres,
                    shutterDeg,
                    cameraHeightMetres,
                    timecode,
                    table,
                    conform,
                    handles,
                    distances,
                    List.copyOf(p));
        }

        public PlateRecipe withDistances(List<Distance> d) {
            return new PlateRecipe(
                    file,
                    encoding,
                    rate,
                    first,
                    last,
                    sensorWidthMm,
                    focalMm,
                    notes,
                    camera,
                    lens,
                    fStop,
                    focusMetres,
                    shutterDeg,
                    cameraHeightMetres,
                    timecode,
                    table,
                    conform,
                    handles,
                    List.copyOf(d),
                    photos);
        }

        public PlateRecipe withConform(Conform c) {
            return new PlateRecipe(
                    file,
                    encoding,
                    rate,
                    first,
                    last,
                    sensorWidthMm,
                    focalMm,
                    notes,
                    camera,
                    lens,
                    fStop,
                    focusMetres,
                    shutterDeg,
                    cameraHeightMetres,
                    timecode,
                    table,
                    c,
                    handles,
                    distances,
                    photos);
        }

        public PlateRecipe read(String enc, String perSecond, int from, int to) {
            return new PlateRecipe(
                    file,
                    enc,
                    perSecond,
                    from,
                    to,
                    sensorWidthMm,
                    focalMm,
                    notes,
                    camera,
                    lens,
                    fStop,
                    focusMetres,
                    shutterDeg,
                    cameraHeightMetres,
                    timecode,
                    table,
                    conform,
                    handles,
                    distances,
                    photos);
        }
    }

    /** Between two things that can be named. */
    public record Distance(String name, double metres) {}

    public record Photo(String hash, String name) {}

    /**
     * How marks are found, and what a person did to them. The four first belong to {@link TrackSettings}.
     *
     * @param mask picture or folder, white = do not look here, empty for none
     * @param file tracks brought in instead of being found; empty to find them
     * @param deleted tracks taken out; @param cuts parts of tracks taken out; @param joins tracks that are one
     *     mark; @param marks put by hand
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

        public TrackRecipe withDeleted(List<Integer> d) {
            return new TrackRecipe(
                    count,
                    threshold,
                    region,
                    spacing,
                    quality,
                    mask,
                    file,
                    List.copyOf(d),
                    cuts,
                    joins,
                    masks,
                    marks,
                    groups);
        }

        public TrackRecipe withCuts(List<Cut> c) {
            return new TrackRecipe(
                    count,
                    threshold,
                    region,
                    spacing,
                    quality,
                    mask,
                    file,
                    deleted,
                    List.copyOf(c),
                    joins,
                    masks,
                    marks,
                    groups);
        }

        public TrackRecipe withJoins(List<Join> j) {
            return new TrackRecipe(
                    count,
                    threshold,
                    region,
                    spacing,
                    quality,
                    mask,
                    file,
                    deleted,
                    cuts,
                    List.copyOf(j),
                    masks,
                    marks,
                    groups);
        }

        /**
         * Other masks or settings give other tracks under the same numbers: what was done to those means nothing any
         * more.
         */
        public TrackRecipe withMasks(List<DrawnMask> m) {
            return new TrackRecipe(
                    count,
                    threshold,
                    region,
                    spacing,
                    quality,
                    mask,
                    file,
                    List.of(),
                    List.of(),
                    List.of(),
                    List.copyOf(m),
                    marks,
                    onlyHand(groups));
        }

        /** Tracks from a file; empty to find them again. */
        public TrackRecipe withFile(String f) {
            return new TrackRecipe(
                    count,
                    threshold,
                    region,
                    spacing,
                    quality,
                    mask,
                    f,
                    List.of(),
                    List.of(),
                    List.of(),
                    masks,
                    marks,
                    onlyHand(groups));
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
                                    List.of()))
                    .toList();
            return new TrackRecipe(
                    count,
                    threshold,
                    region,
                    spacing,
                    quality,
                    mask,
                    file,
                    deleted,
                    cuts,
                    joins,
                    still,
                    List.copyOf(m),
                    groups);
        }

        public TrackRecipe withGroups(List<TrackGroup> g) {
            return new TrackRecipe(
                    count,
                    threshold,
                    region,
                    spacing,
                    quality,
                    mask,
                    file,
                    deleted,
                    cuts,
                    joins,
                    masks,
                    marks,
                    List.copyOf(g));
        }

        /** Masks that change nothing about what is found. */
        public TrackRecipe withSurfaces(List<DrawnMask> m) {
            return new TrackRecipe(
                    count,
                    threshold,
                    region,
                    spacing,
                    quality,
                    mask,
                    file,
                    deleted,
                    cuts,
                    joins,
                    List.copyOf(m),
                    marks,
                    groups);
        }

        private static List<TrackGroup> onlyHand(List<TrackGroup> groups) {
            return groups.stream()
                    .map(g -> g.withTracks(g.tracks().stream()
                            .filter(t -> t >= HandMark.FIRST_ID)
                            .toList()))
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

    public static final Shot BLANK = new Shot(
            SCHEMA,
            PlateRecipe.BLANK,
            new TrackRecipe(
                    400,
                    0.02,
                    7,
                    0,
                    TrackSettings.Quality.STANDARD,
                    "",
                    "",
                    List.of(),
                    List.of(),
                    List.of(),
                    List.of(),
                    List.of(),
                    List.of()),
            new CameraRecipe(
                    "auto",
                    "unknown",
                    true,
                    false,
                    false,
                    false,
                    false,
                    0,
                    "",
                    CameraExchange.Reading.PLAIN,
                    "",
                    List.of(),
                    Hints.NONE,
                    CameraMatch.NONE,
                    List.of(),
                    "",
                    List.of(),
                    0,
                    ""),
            SetRecipe.BLANK,
            List.of(),
            LightRecipe.BLANK,
            PassesRecipe.BLANK,
            CompRecipe.BLANK);

    /** Part of a frame's time for which the shutter is open: as set for the passes, else as noted on set, else half. */
    public double shutter() {
        return (passes.shutterDeg() >= 0 ? passes.shutterDeg() : plate.shutterDeg() > 0 ? plate.shutterDeg() : 180)
                / 360;
    }

    public Shot with(PlateRecipe p) {
        return new Shot(schema, p, tracks, camera, set, performers, light, passes, comp);
    }

    public Shot with(TrackRecipe t) {
        return new Shot(schema, plate, t, camera, set, performers, light, passes, comp);
    }

    public Shot with(CameraRecipe c) {
        return new Shot(schema, plate, tracks, c, set, performers, light, passes, comp);
    }

    public Shot with(SetRecipe s) {
        return new Shot(schema, plate, tracks, camera, s, performers, light, passes, comp);
    }

    public Shot with(List<Performer> p) {
        return new Shot(schema, plate, tracks, camera, set, List.copyOf(p), light, passes, comp);
    }

    public Shot with(LightRecipe l) {
        return new Shot(schema, plate, tracks, camera, set, performers, l, passes, comp);
    }

    public Shot with(PassesRecipe p) {
        return new Shot(schema, plate, tracks, camera, set, performers, light, p, comp);
    }

    public Shot with(CompRecipe c) {
        return new Shot(schema, plate, tracks, camera, set, performers, light, passes, c);
    }
}
