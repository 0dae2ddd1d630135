package dasein.core.shot;

import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.comp.Variant;
import dasein.core.ground.Piece;
import dasein.core.ground.Shape;
import dasein.core.math.Pose;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.model.Moment;
import dasein.core.model.Posing;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * Performers and set of a shot as one model with one clip: all that moves has a key in every frame, whatever moved it
 * (clips, planted feet, routes, keys, what it is tied to), and what stands has none. Second 0 is the camera's first
 * frame. Cards and flocks are not in it.
 */
final class BakedModel {
    private final ShotScene scene;
    private final int first, frames;
    private final float[] times;
    private final List<Model.Node> nodes = new ArrayList<>();
    private final List<Model.Part> parts = new ArrayList<>();
    private final List<Model.Skin> skins = new ArrayList<>();
    private final List<Model.Channel> channels = new ArrayList<>();
    private final List<Material> materials = new ArrayList<>();

    private BakedModel(ShotScene scene) {
        this.scene = scene;
        first = scene.camera().first();
        frames = scene.camera().last() - first + 1;
        times = times(scene);
    }

    /** Seconds of its frames, from the camera's first. */
    static float[] times(ShotScene scene) {
        float[] t = new float[scene.camera().last() - scene.camera().first() + 1];
        for (int i = 0; i < t.length; i++)
            t[i] = (float) (i / scene.camera().rate().perSecond());
        return t;
    }

    static Model of(ShotScene scene) {
        BakedModel b = new BakedModel(scene);
        for (Performer p : scene.shot.performers()) if (p.card() == null && p.flock() == null) b.performer(p);
        b.set();
        Model.Clip clip = new Model.Clip("shot", b.times[b.frames - 1], b.channels);
        return new Model("shot", b.nodes, b.parts, b.skins, List.of(clip), b.materials.toArray(Material[]::new));
    }

    private void performer(Performer p) {
        Blocking blocking = scene.blocking();
        Model m = blocking.model(p);
        Posing posing = new Posing(m);
        int n = m.nodes().size(), root = nodes.size();
        NodeWay place = new NodeWay(frames);
        List<NodeWay> ways = m.nodes().stream().map(k -> new NodeWay(frames)).toList();
        for (int f = 0; f < frames; f++) {
            Moment at = blocking.at(p.id(), first + f);
            posing.at(at);
            place.put(f, at.toSet());
            for (int i = 0; i < n; i++)
                for (Model.Property k : Model.Property.values()) ways.get(i).put(f, k, posing.local(i, k));
        }
        node(p.name(), -1, place);
        for (int i = 0; i < n; i++) {
            int above = m.nodes().get(i).parent();
            node(m.nodes().get(i).name(), above < 0 ? root : root + 1 + above, ways.get(i));
        }
        int skin = skins.size(), material = materials.size();
        for (Model.Skin s : m.skins())
            skins.add(new Model.Skin(
                    Arrays.stream(s.joints()).map(j -> root + 1 + j).toArray(), s.inverseBind()));
        for (Model.Part k : m.parts()) parts.add(moved(k, root + 1, skin, material));
        materials.addAll(Arrays.asList(blocking.looks(p)));
    }

    private static Model.Part moved(Model.Part k, int node, int skin, int material) {
        return new Model.Part(
                node + k.node(),
                k.skin() < 0 ? -1 : skin + k.skin(),
                k.position(),
                k.normal(),
                k.uv(),
                k.index(),
                material + k.material(),
                k.joints(),
                k.weights(),
                k.morphPosition(),
                k.morphNormal(),
                k.colour());
    }

    private void set() {
        int material = materials.size();
        Mesh ground = scene.pieces.there(first).get(Variant.GROUND);
        if (ground != null)
            piece("ground", new Shape(ground.position0(), ground.index()), new NodeWay(frames), material);
        for (Piece p : scene.shot.set().pieces()) {
            Shape s = scene.pieces.built(p);
            if (s == null || s.index().length == 0) continue;
            NodeWay way = new NodeWay(frames);
            Pose last = Pose.IDENTITY;
            for (int f = 0; f < frames; f++) {
                Pose at = scene.pieces.motion(p, first + f);
                // Where what carries it is not solved it waits.
                if (at != null) last = at;
                way.put(f, last);
            }
            piece(p.name(), s, way, material);
        }
        if (parts.stream().anyMatch(k -> k.material() == material)) materials.add(Material.matt(0.5f, 0.5f, 0.5f));
    }

    private void piece(String name, Shape s, NodeWay way, int material) {
        parts.add(new Model.Part(
                nodes.size(),
                -1,
                s.xyz(),
                new float[0],
                new float[2 * s.xyz().length / 3],
                s.index(),
                material,
                new int[0],
                new float[0],
                new float[0][],
                new float[0][]));
        node(name, -1, way);
    }

    private void node(String name, int parent, NodeWay way) {
        for (Model.Property k : Model.Property.values())
            if (way.moves(k))
                channels.add(
                        new Model.Channel(nodes.size(), k, times, way.of(k), way.width(k), Model.Interpolation.LINEAR));
        nodes.add(new Model.Node(
                name,
                parent,
                way.first(Model.Property.TRANSLATION, 0, 0, 0),
                way.first(Model.Property.ROTATION, 0, 0, 0, 1),
                way.first(Model.Property.SCALE, 1, 1, 1),
                way.first(Model.Property.WEIGHTS)));
    }
}
