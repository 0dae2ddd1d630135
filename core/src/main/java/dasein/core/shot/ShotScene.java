package dasein.core.shot;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.cast.Blocking;
import dasein.core.cast.Footage;
import dasein.core.cast.Performer;
import dasein.core.format.Exr;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Image;
import dasein.core.lens.Aperture;
import dasein.core.lens.Straighten;
import dasein.core.lens.View;
import dasein.core.light.LightRig;
import dasein.core.light.Lighting;
import dasein.core.light.blocker.Blocker;
import dasein.core.light.blocker.BlockerMeshes;
import dasein.core.light.lamp.Lamp;
import dasein.core.light.lamp.LampRecipe;
import dasein.core.light.sun.OutlineSun;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.model.Texture;
import dasein.core.plate.Span;
import dasein.core.render.CatcherLook;
import dasein.core.render.Finish;
import dasein.core.render.Focus;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Keep;
import dasein.core.render.Lit;
import dasein.core.render.Neighbours;
import dasein.core.render.PassesRecipe;
import dasein.core.render.PlateGround;
import dasein.core.render.Probe;
import dasein.core.render.Projection;
import dasein.core.render.Quality;
import dasein.core.render.RenderRoom;
import dasein.core.render.pass.Passes;
import dasein.core.render.ray.Tracer;
import dasein.core.render.temporal.Seen;
import dasein.core.render.temporal.TemporalFilter;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.IntFunction;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * A shot made ready to render: models, lighting and the camera in the set's frame are loaded once, then any frame can
 * be asked for.
 */
public final class ShotScene {
    private static final int PROJECTED = 5, PROJECTED_WIDTH = 480;

    final Shot shot;
    private final SolvedCamera camera;
    private final Lit lit;
    final SetPieces pieces;
    private final Blocking blocking;
    /** Plate frames by number, for what a frame itself does not see; null when only that one is at hand. */
    private final IntFunction<Image> plates;

    /** Of lamps, by their names. */
    private final Map<String, Texture> pictures;

    /** Of blockers, by theirs. */
    private final Map<String, Texture> cutouts;

    private final Map<Integer, Projection> projected = new ConcurrentHashMap<>();

    /**
     * @param camera in the set's frame
     * @param models by the names performers and set pieces use
     * @param environment lat-long picture of the light recipe, or null
     */
    public ShotScene(Shot shot, SolvedCamera camera, Map<String, Model> models, Image environment) {
        this(shot, camera, models, environment, Map.of(), null, List.of(), Map.of());
    }

    /** Without pictures on lamps. */
    public ShotScene(
            Shot shot,
            SolvedCamera camera,
            Map<String, Model> models,
            Image environment,
            Map<Integer, NavigableMap<Integer, Pose>> moved,
            IntFunction<Image> plates,
            List<Track> tracks,
            Map<String, Footage> footage) {
        this(shot, camera, models, environment, moved, plates, tracks, footage, Map.of());
    }

    /**
     * @param moved poses in the set of things that move, by their number and frame; @param plates scene-linear frames
     *     of the plate by number, or null; @param tracks that performers may go along with; @param footage of cards, by
     *     its name; @param pictures of lamps and blockers, by theirs
     */
    public ShotScene(
            Shot shot,
            SolvedCamera camera,
            Map<String, Model> models,
            Image environment,
            Map<Integer, NavigableMap<Integer, Pose>> moved,
            IntFunction<Image> plates,
            List<Track> tracks,
            Map<String, Footage> footage,
            Map<String, Texture> pictures) {
        this(
                shot,
                camera,
                models,
                moved,
                plates,
                blocking(shot, camera, models, moved, tracks, footage),
                new Lit(new LightRig(shot.light(), environment), camera.rate().perSecond()),
                pictures);
    }

    /** The same with lighting and blocking that were made before: both take a while. */
    public static ShotScene lit(
            Shot shot,
            SolvedCamera camera,
            Map<String, Model> models,
            Lit lighting,
            Map<Integer, NavigableMap<Integer, Pose>> moved,
            IntFunction<Image> plates,
            Blocking blocking,
            Map<String, Texture> pictures) {
        return new ShotScene(shot, camera, models, moved, plates, blocking, lighting, pictures);
    }

    private ShotScene(
            Shot shot,
            SolvedCamera camera,
            Map<String, Model> models,
            Map<Integer, NavigableMap<Integer, Pose>> moved,
            IntFunction<Image> plates,
            Blocking blocking,
            Lit lit,
            Map<String, Texture> pictures) {
        this.pictures = pictures;
        cutouts = shot.light().blockers().stream()
                .map(Blocker::picture)
                .filter(pictures::containsKey)
                .distinct()
                .collect(Collectors.toMap(p -> p, p -> pictures.get(p).cutout()));
        this.lit = lit;
        this.plates = plates;
        this.shot = shot;
        this.camera = camera;
        pieces = new SetPieces(shot.set(), camera, models, moved, camera.rate().perSecond());
        this.blocking = blocking;
    }

    public SolvedCamera camera() {
        return camera;
    }

    public Lighting lighting(int frame) {
        return lit.in(frame).lighting().with(lamps(frame));
    }

    /** Those that shine, where they are in that frame, and what cards that add light throw about. */
    private List<Lamp> lamps(int frame) {
        List<Lamp> all = new ArrayList<>();
        for (LampRecipe l : shot.light().lamps()) if (l.on()) all.add(shining(l, frame));
        all.addAll(AddedLight.of(performers(frame)));
        return all;
    }

    private Lamp shining(LampRecipe l, int frame) {
        Lamp lamp = l.at(
                frame,
                camera.rate().perSecond(),
                l.tie() == null ? Pose.IDENTITY : blocking.carrier(l.tie(), l.name(), frame));
        Texture picture = pictures.get(l.shine().picture());
        boolean flat = l.kind() == Lamp.Kind.RECTANGLE || l.kind() == Lamp.Kind.DISC;
        return picture == null || !flat ? lamp : lamp.showing(picture);
    }

    public View view(int frame, double size) {
        return camera.view(frame, shot.shutter(), size);
    }

    /** Where performers are, without anything to render them by. */
    public static Blocking blocking(
            Shot shot,
            SolvedCamera camera,
            Map<String, Model> models,
            Map<Integer, NavigableMap<Integer, Pose>> moved,
            List<Track> tracks,
            Map<String, Footage> footage) {
        return new Blocking(
                shot.performers(),
                models,
                camera.first(),
                camera.rate().perSecond(),
                new OnSet(shot.set(), camera, models, moved, tracks, footage));
    }

    public Blocking blocking() {
        return blocking;
    }

    /** @param plate the frame's plate, any size; @param size part of the plate's size to render at */
    public FrameRenderer.Job job(int frame, Image plate, double size, Quality quality) {
        return job(frame, plate, size, quality, false);
    }

    /** The passes of a frame at a part of the plate's size, only those that every comp needs. */
    public Passes render(int frame, Image plate, double size, Quality quality, Progress progress) {
        return render(frame, plate, size, quality, Keep.PLAIN, null, progress);
    }

    /** As a shot's recipe says: this scene's shot, or one as for {@link #keep}. */
    public Passes render(Shot s, int frame, Image plate, double size, Quality quality, Progress progress) {
        return render(frame, plate, size, quality, keep(s), aperture(s, frame), progress);
    }

    private Passes render(
            int frame, Image plate, double size, Quality quality, Keep keep, Aperture aperture, Progress progress) {
        boolean straight = shot.passes().straight();
        View view = straight ? null : view(frame, size);
        Straighten s = straight ? straighten(frame, size) : null;
        int w = straight ? s.wide : view.width(), h = straight ? s.high : view.height();
        // Asked for before the scene of the frame is built.
        try (RenderRoom room = RenderRoom.take(w, h, keep, lightsApart(), blocking.triangles(), progress)) {
            FrameRenderer.Job job =
                    job(frame, plate, size, quality, straight).keeping(keep).focused(aperture);
            if (keep.ways()) job = job.between(neighbours(frame, size, s));
            Passes p = FrameRenderer.render(job, progress, null);
            for (Passes of : p.raw == null ? List.of(p) : List.of(p, p.raw)) {
                if (straight) of.overscan(s);
                of.attributes.put(Exr.RATE, camera.rate().toString());
                of.attributes.put(Exr.COUNTER, Integer.toString(frame));
            }
            return p;
        }
    }

    /**
     * The passes of a frame, filtered over its neighbours.
     *
     * @param s as for {@link #keep}; @param raw reads the raw passes of a frame; @param window the frames it is
     *     filtered over, rising, itself among them; @param size part of the plate's that they were rendered at
     */
    public Passes filtered(
            Shot s, int frame, List<Integer> window, IntFunction<Passes> raw, double size, Progress progress) {
        IntFunction<Seen> seen = f -> {
            Passes p = raw.apply(f);
            return new Seen(p, seen(f, size, p.straight() ? straighten(f, size) : null));
        };
        Seen now = seen.apply(frame);
        Passes p = now.passes();
        try (RenderRoom room = RenderRoom.take(p.width, p.height, keep(s), lightsApart(), 0, progress)) {
            int at = window.indexOf(frame);
            List<Supplier<Seen>> before = new ArrayList<>(), after = new ArrayList<>();
            for (int k = at - 1; k >= 0; k--) before.add(asked(seen, window.get(k)));
            for (int k = at + 1; k < window.size(); k++) after.add(asked(seen, window.get(k)));
            Passes less = TemporalFilter.filter(now, before, after);
            return Finish.of(less, s.passes().denoise(), keep(s));
        }
    }

    private static Supplier<Seen> asked(IntFunction<Seen> seen, int frame) {
        return () -> seen.apply(frame);
    }

    /**
     * The frames over which one is filtered: neighbours that are solved. Of what is delivered only such as are
     * delivered, too: handles are seldom rendered.
     */
    public static List<Integer> window(Shot s, SolvedCamera camera, int frame, Span plate) {
        PassesRecipe r = s.passes();
        int first = ShotSteps.cutFirst(s.plate(), plate), last = ShotSteps.cutLast(s.plate(), plate);
        if (frame < first || frame > last) {
            first = ShotSteps.first(s.plate(), plate);
            last = ShotSteps.last(s.plate(), plate);
        }
        int from = frame, to = frame;
        while (frame - from < r.overFrames() && from > first && camera.has(from - 1)) from--;
        while (to - frame < r.overFrames() && to < last && camera.has(to + 1)) to++;
        return IntStream.rangeClosed(from, to).boxed().toList();
    }

    /** @param s what straightens the frame itself, null for its own lens */
    private Neighbours neighbours(int frame, double size, Straighten s) {
        boolean before = camera.has(frame - 1), after = camera.has(frame + 1);
        return new Neighbours(
                before ? blocking.meshes(frame - 1, frame - 1, lit.sun(frame - 1)) : null,
                after ? blocking.meshes(frame + 1, frame + 1, lit.sun(frame + 1)) : null,
                before ? seen(frame - 1, size, s) : null,
                after ? seen(frame + 1, size, s) : null);
    }

    private View seen(int frame, double size, Straighten s) {
        return s == null ? view(frame, size) : camera.straightView(frame, shot.shutter(), size, s);
    }

    /** As many as may be: of the map, the sun, every lamp that is on, and what glows. */
    private int lightsApart() {
        return 3 + (int) shot.light().lamps().stream().filter(LampRecipe::on).count();
    }

    /** The rendered frame, then some spread over the shot, nearest first. They may be small: given light is soft. */
    private List<Projection> projections(int frame, Image plate, View view, List<Mesh> meshes) {
        List<Mesh>
                catchers =
                        meshes.stream()
                                .filter(m -> m.role() == Mesh.Role.CATCHER)
                                .toList(),
                hiding = catchers.size() > 1 ? catchers : null;
        List<Integer> chosen = shot.set().colours().stream()
                .map(SetRecipe.ColourFrame::frame)
                .filter(camera::has)
                .toList();
        List<Projection> out = new ArrayList<>();
        // Chosen frames come before the rendered one, which may show what is not to be given back.
        if (chosen.isEmpty() || plates == null) out.add(new Projection(plate, view, hiding));
        if (plates == null) return out;
        (chosen.isEmpty()
                        ? IntStream.range(0, PROJECTED)
                                .mapToObj(k -> camera.first() + (camera.last() - camera.first()) * k / (PROJECTED - 1))
                                .filter(f -> f != frame && camera.has(f))
                        : chosen.stream())
                .distinct()
                .sorted(Comparator.comparingInt(f -> Math.abs(f - frame)))
                .forEach(f -> out.add(projected.computeIfAbsent(f, n -> {
                    Image whole = plates.apply(n);
                    double s = Math.min(1, (double) PROJECTED_WIDTH / whole.width);
                    // Pieces that are carried stand elsewhere then: they are left to the frame itself.
                    return new Projection(
                            whole.resize((int) Math.round(whole.width * s), (int) Math.round(whole.height * s)),
                            view(n, s),
                            hiding == null ? null : pieces.at(n, n));
                })));
        if (!chosen.isEmpty()) out.add(new Projection(plate, view, hiding));
        return out;
    }

    private double half() {
        return (shot.shutter() + Math.abs(camera.readout())) / 2;
    }

    private List<Mesh> performers(int frame) {
        return blocking.meshes(frame - half(), frame + half(), lit.sun(frame));
    }

    private List<Mesh> meshes(int frame) {
        double half = half();
        List<Mesh> meshes = new ArrayList<>(performers(frame));
        meshes.addAll(pieces.at(frame - half, frame + half));
        meshes.addAll(BlockerMeshes.of(
                shot.light().blockers(),
                cutouts,
                frame - half,
                frame + half,
                camera.rate().perSecond()));
        return meshes;
    }

    /** A piece of the set as what throws a shadow in that frame. @throws BadInput when it is not there */
    public OutlineSun.Caster caster(int piece, int frame) {
        Tracer t = Tracer.of(List.of(pieces.piece(piece, frame)));
        return (p, d) -> t.nearest(
                (float) p.x(), (float) p.y(), (float) p.z(), (float) d.x(), (float) d.y(), (float) d.z(), 1e30f, 0, 0);
    }

    /** What is seen of performers at a place of the plate; null where there is none. */
    public Probe.Hit seen(int frame, double x, double y) {
        List<Mesh> cast = meshes(frame).stream()
                .filter(m -> m.role() == Mesh.Role.PERFORMER)
                .toList();
        return Probe.of(cast, view(frame, 1), x, y);
    }

    /**
     * One light alone.
     *
     * @param which "map", "sun", or the number of a lamp, which need not be switched on
     */
    public Lighting alone(int frame, String which) {
        Lighting all = lit.in(frame).lighting();
        return switch (which) {
            case "map" -> new Lighting(all.environment(), List.of());
            case "sun" -> new Lighting(null, all.suns());
            default ->
                new Lighting(
                        null,
                        List.of(),
                        shot.light().lamps().stream()
                                .filter(l -> which.equals(String.valueOf(l.id())))
                                .map(l -> shining(l, frame))
                                .toList());
        };
    }

    /** What straightens a frame at a part of its size. */
    public Straighten straighten(int frame, double size) {
        View v = view(frame, size);
        return new Straighten(v.lens(), v.width(), v.height());
    }

    /** @param straight for the undistorted plate, overscan included; the plate is given as it is */
    public FrameRenderer.Job job(int frame, Image plate, double size, Quality quality, boolean straight) {
        if (!camera.has(frame))
            throw new BadInput("frame " + frame + " is not solved; the camera has frames " + camera.first() + " to "
                    + camera.last() + (camera.gaps().isEmpty() ? "" : " without " + camera.gaps()));
        List<Mesh> meshes = meshes(frame);
        View view = view(frame, size),
                seen = straight ? camera.straightView(frame, shot.shutter(), size, straighten(frame, size)) : view;
        FrameRenderer.Job job = new FrameRenderer.Job(
                meshes,
                lighting(frame),
                seen,
                new PlateGround(projections(frame, plate, view, meshes), lit.in(frame), PlateGround.middle(meshes)),
                new CatcherLook(shot.set().wet(), shot.set().wetRoughness(), pieces.beyond()),
                quality,
                false,
                shot.shutter(),
                frame);
        // A straight picture lies elsewhere.
        return straight ? job : job.over(plate);
    }

    /**
     * What a shot's recipe wants kept besides.
     *
     * @param s this scene's, or one that differs in names and in how it is rendered alone
     */
    private Keep keep(Shot s) {
        PassesRecipe p = s.passes();
        List<String> lamps = s.light().lamps().stream()
                .filter(LampRecipe::on)
                .map(l -> "lamp" + l.id())
                .collect(Collectors.toCollection(ArrayList::new));
        // Lamps that follow are the light of cards, which glow.
        lamps.addAll(java.util.Collections.nCopies(s.performers().size(), "glow"));
        Map<Integer, Keep.Name> names =
                s.performers().stream().collect(Collectors.toMap(Performer::id, this::name, (a, b) -> a));
        return new Keep(p.lights(), lamps, p.kept(), p.contactCm() / 100, names);
    }

    /**
     * The opening through which a frame is seen; null where all is sharp.
     *
     * @param s as for {@link #keep}
     * @throws BadInput when neither the recipe nor the notes say what it needs
     */
    public Aperture aperture(Shot s, int frame) {
        Focus f = s.passes().focus();
        if (!f.on()) return null;
        double stop = f.fStop() > 0 ? f.fStop() : s.plate().fStop(),
                metres = f.metres() > 0 ? f.metres() : s.plate().focusMetres(),
                sensor = s.plate().sensorWidthMm();
        if (!(stop > 0)) throw new BadInput("depth of field needs the f-stop: note it with the plate, or type it");
        if (!(sensor > 0)) throw new BadInput("depth of field needs the width of the sensor: note it with the plate");
        if (f.performer() > 0) metres = inFocus(f.performer(), frame);
        if (!(metres > 0)) throw new BadInput("depth of field needs the distance of focus: note it, or type it");
        View v = view(frame, 1);
        return Aperture.of(v.lens().focalPx() * sensor / v.width(), stop, metres, f.blades(), f.catsEye());
    }

    /** How far a performer's middle is along the view axis; at least a hand's breadth before the lens. */
    private double inFocus(int performer, int frame) {
        Pose eye = view(frame, 1).at(0.5);
        double near = Double.POSITIVE_INFINITY, far = 0;
        for (Mesh m : blocking.meshes(frame, frame)) {
            if (m.performer() != performer) continue;
            float[] p = m.position0();
            for (int i = 0; i < p.length; i += 3) {
                double z = -eye.toLocal(new Vec3(p[i], p[i + 1], p[i + 2])).z();
                near = Math.min(near, z);
                far = Math.max(far, z);
            }
        }
        if (near > far) throw new BadInput("the performer that is to be in focus is not in frame " + frame);
        return Math.max(0.1, (Math.max(0, near) + far) / 2);
    }

    private Keep.Name name(Performer p) {
        Model m = blocking.model(p);
        int[] first = new int[m.parts().size()];
        for (int i = 1; i < first.length; i++)
            first[i] = first[i - 1] + m.parts().get(i - 1).index().length / 3;
        return new Keep.Name(
                p.name(),
                m.parts().stream().map(k -> m.nodes().get(k.node()).name()).toList(),
                first);
    }
}
