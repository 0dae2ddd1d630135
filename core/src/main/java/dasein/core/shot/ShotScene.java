package dasein.core.shot;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.ground.Shape;
import dasein.core.ground.Terrain;
import dasein.core.image.Image;
import dasein.core.lens.Straighten;
import dasein.core.lens.View;
import dasein.core.light.Lighting;
import dasein.core.render.CatcherLook;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Irradiance;
import dasein.core.render.Passes;
import dasein.core.render.PlateGround;
import dasein.core.render.Quality;
import dasein.core.scene.Material;
import dasein.core.scene.Mesh;
import dasein.core.scene.Model;
import dasein.core.scene.Performer;
import dasein.core.scene.Placement;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** A shot made ready to render: models, lighting and the camera in the set's frame are loaded once, then any frame can be asked for. */
public final class ShotScene {
    private final Shot shot;
    private final SolvedCamera camera;
    private final Map<String, Model> models;
    private final Lighting lighting;
    private final Irradiance irradiance;
    private final List<Mesh> pieces;

    /**
     * @param camera in the set's frame
     * @param models by the names the performers use
     * @param environment lat-long picture of the light recipe, or null
     */
    public ShotScene(Shot shot, SolvedCamera camera, Map<String, Model> models, Image environment) {
        this.shot = shot;
        this.camera = camera;
        this.models = models;
        for (Performer p : shot.performers()) {
            Model m = models.get(p.model());
            if (m == null) throw new BadInput(p.name() + " has no model " + p.model());
            if (!p.clip().isEmpty() && m.clip(p.clip()) == null) throw new BadInput(p.name() + " has no clip " + p.clip() + "; its model has " + m.clips().stream().map(Model.Clip::name).toList());
            if (!(p.heightMetres() > 0)) throw new BadInput(p.name() + " must be higher than zero");
        }
        lighting = shot.light().build(environment);
        irradiance = new Irradiance(lighting);
        pieces = pieces(shot, camera);
    }

    public SolvedCamera camera() { return camera; }

    public Lighting lighting() { return lighting; }

    /** Seconds of the shot at a (fractional) frame. */
    private double seconds(double frame) { return (frame - camera.first()) / camera.rate().perSecond(); }

    public View view(int frame, double size) { return camera.view(frame, shot.shutter(), size); }

    public List<Mesh> performers(double open, double close) {
        List<Mesh> out = new ArrayList<>();
        for (Performer p : shot.performers()) out.add(Placement.mesh(p, models.get(p.model()), seconds(open), seconds(close)));
        return out;
    }

    /** @param plate the frame's plate, any size; @param size part of the plate's size to render at */
    public FrameRenderer.Job job(int frame, Image plate, double size, Quality quality) { return job(frame, plate, size, quality, false); }

    /** The passes of a frame as the shot's recipe says, at a part of the plate's size. */
    public Passes render(int frame, Image plate, double size, Quality quality, Progress progress) {
        boolean straight = shot.passes().straight();
        Passes p = FrameRenderer.render(job(frame, plate, size, quality, straight), progress, null);
        if (straight) p.overscan(straighten(frame, size));
        return p;
    }

    /** What straightens a frame at a part of its size. */
    public Straighten straighten(int frame, double size) {
        View v = view(frame, size);
        return new Straighten(v.lens(), v.width(), v.height());
    }

    /** @param straight for the undistorted plate, overscan included; the plate is given as it is */
    public FrameRenderer.Job job(int frame, Image plate, double size, Quality quality, boolean straight) {
        if (!camera.has(frame)) throw new BadInput("frame " + frame + " is not solved; the camera has frames " + camera.first() + " to " + camera.last() + (camera.gaps().isEmpty() ? "" : " without " + camera.gaps()));
        double half = (shot.shutter() + Math.abs(camera.readout())) / 2;
        List<Mesh> meshes = new ArrayList<>(performers(frame - half, frame + half));
        meshes.addAll(pieces);
        View view = view(frame, size), seen = straight ? camera.straightView(frame, shot.shutter(), size, straighten(frame, size)) : view;
        return new FrameRenderer.Job(meshes, lighting, seen, new PlateGround(plate, view, irradiance), new CatcherLook(shot.set().wet(), shot.set().wetRoughness()),
            quality, false, shot.shutter(), frame);
    }

    /** Stand-ins for what was really there: the flat ground, unless it is laid through the points, and the set pieces. */
    private static List<Mesh> pieces(Shot shot, SolvedCamera camera) {
        List<Mesh> out = new ArrayList<>();
        SetRecipe set = shot.set();
        if (set.pieces().stream().noneMatch(p -> p.kind() == Piece.Kind.TERRAIN && p.does(Piece.Role.SHADOW))) out.add(catcher(set.catcher()));
        for (Piece p : set.pieces()) {
            Shape s = shape(p, camera);
            if (p.roles().isEmpty() || s.index().length == 0) continue;
            int n = s.index().length / 3;
            float[] none = new float[s.xyz().length];
            out.add(new Mesh(s.xyz(), s.xyz(), none, none, new float[2 * s.xyz().length / 3], s.index(), new int[n], new Material[] {Material.matt(0.5f, 0.5f, 0.5f)}, 0, Mesh.Role.CATCHER,
                new Mesh.Catch(p.does(Piece.Role.SHADOW), p.does(Piece.Role.BOUNCE), p.does(Piece.Role.HIDE), p.does(Piece.Role.REFLECTION) ? p.strength() : 0, Math.max(0.02, p.roughness()))));
        }
        return out;
    }

    /** A piece's triangles. @param camera in the set's frame, whose points a terrain runs through */
    public static Shape shape(Piece p, SolvedCamera camera) {
        return Shape.of(p, p.kind() == Piece.Kind.TERRAIN ? Terrain.through(camera.points().stream().map(SolvedCamera.Point::position).toList(), p) : null);
    }

    private static Mesh catcher(SetRecipe.Catcher c) {
        float x0 = (float) (c.x() - c.width() / 2), x1 = (float) (c.x() + c.width() / 2), z0 = (float) (c.z() - c.depth() / 2), z1 = (float) (c.z() + c.depth() / 2);
        float[] p = {x0, 0, z0, x0, 0, z1, x1, 0, z1, x1, 0, z0}, n = {0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0};
        return new Mesh(p, p, n, n, new float[8], new int[] {0, 1, 2, 0, 2, 3}, new int[2], new Material[] {Material.matt(0.5f, 0.5f, 0.5f)}, 0, Mesh.Role.CATCHER);
    }
}
