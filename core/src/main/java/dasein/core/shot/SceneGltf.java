package dasein.core.shot;

import dasein.core.format.Glb;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.lamp.Lamp;
import dasein.core.light.lamp.LampRecipe;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.file.ModelGlb;
import dasein.core.solve.file.CameraGltf;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.node.ObjectNode;

/**
 * A whole shot as binary glTF 2.0 for programs of others: camera and points, performers with every frame baked, the
 * set's pieces, suns and lamps (KHR_lights_punctual), all moved by one clip whose second 0 is the camera's first frame.
 * What glTF has no words for stands in {@code extras}: distortion, the size of a lamp's face. The map that lights the
 * shot, cards and flocks are not in it.
 */
public final class SceneGltf {
    private static final String LIGHTS = "KHR_lights_punctual";

    private final ShotScene scene;
    private final Glb g;
    private final ObjectNode clip;
    private final int first, frames;
    private int time = -1;

    private SceneGltf(ShotScene scene) {
        this.scene = scene;
        first = scene.camera().first();
        frames = scene.camera().last() - first + 1;
        g = ModelGlb.glb(BakedModel.of(scene));
        clip = g.list("animations").isEmpty()
                ? g.clip("shot")
                : (ObjectNode) g.list("animations").get(0);
    }

    public static byte[] of(ShotScene scene) {
        SceneGltf s = new SceneGltf(scene);
        CameraGltf.add(s.g, scene.camera(), s.clip);
        s.lights();
        if (s.clip.path("channels").isEmpty()) s.g.root.remove("animations");
        return s.g.bytes();
    }

    private void lights() {
        List<Lighting> all = new ArrayList<>();
        for (int f = 0; f < frames; f++) all.add(scene.lighting(first + f));
        Lighting now = all.get(0);
        for (int k = 0; k < now.suns().size(); k++) {
            int i = k;
            Sun s = now.suns().get(k);
            ObjectNode light = light("directional", s.irradiance());
            light.putObject("extras").put("degreesAcross", Math.toDegrees(s.angleRadians()));
            stand(
                    "sun " + (k + 1),
                    light,
                    all.stream()
                            .map(l -> i < l.suns().size() ? l.suns().get(i) : s)
                            .map(q -> facing(Vec3.ZERO, q.towards().times(-1)))
                            .toList());
        }
        List<String> names = scene.shot.light().lamps().stream()
                .filter(LampRecipe::on)
                .map(LampRecipe::name)
                .toList();
        for (int k = 0; k < Math.min(names.size(), now.lamps().size()); k++) {
            int i = k;
            Lamp l = now.lamps().get(k);
            stand(
                    names.get(k),
                    lamp(l),
                    all.stream()
                            .map(x -> x.lamps().get(i))
                            .map(q -> facing(q.at(), q.towards()))
                            .toList());
        }
    }

    private ObjectNode lamp(Lamp l) {
        boolean cone = l.kind() == Lamp.Kind.SPOT;
        // A disc or a rectangle shines to one side.
        boolean half = l.kind() == Lamp.Kind.DISC || l.kind() == Lamp.Kind.RECTANGLE;
        ObjectNode light = light(cone || half ? "spot" : "point", l.intensity());
        if (cone || half) {
            double outer = cone ? Math.acos(l.cosCone()) : Math.PI / 2, inner = cone ? Math.acos(l.cosFull()) : 0;
            light.putObject("spot")
                    .put("innerConeAngle", Math.max(0, Math.min(inner, outer - 1e-4)))
                    .put("outerConeAngle", outer);
        }
        light.putObject("extras")
                .put("kind", l.kind().name().toLowerCase(java.util.Locale.ROOT))
                .put("width", l.width())
                .put("height", l.height())
                .put("stoodOnSet", l.real());
        return light;
    }

    /** @param rgb irradiance, of a lamp a metre off, where 1 is what the plate shows as 1 on white */
    private ObjectNode light(String type, float[] rgb) {
        double most = Math.max(rgb[0], Math.max(rgb[1], rgb[2]));
        ObjectNode o = g.object().put("type", type).put("intensity", most);
        var colour = o.putArray("color");
        for (int c = 0; c < 3; c++) colour.add(most > 0 ? rgb[c] / most : 1);
        return o;
    }

    /** Lights shine along -Z of their node. */
    private static Pose facing(Vec3 at, Vec3 towards) {
        Vec3 up = Math.abs(towards.unit().y()) > 0.999 ? Vec3.X : Vec3.Y;
        return Pose.lookAt(at, at.plus(towards), up);
    }

    private void stand(String name, ObjectNode light, List<Pose> way) {
        ObjectNode extensions = g.root.withObject("extensions").withObject(LIGHTS);
        var lights = extensions.withArray("lights");
        lights.add(light.put("name", name));
        g.uses(LIGHTS);
        ObjectNode node = g.object().put("name", name);
        node.putObject("extensions").putObject(LIGHTS).put("light", lights.size() - 1);
        NodeWay keys = new NodeWay(frames);
        for (int f = 0; f < frames; f++) keys.put(f, way.get(f));
        for (float x : keys.first(Model.Property.TRANSLATION))
            node.withArray("translation").add(x);
        for (float x : keys.first(Model.Property.ROTATION))
            node.withArray("rotation").add(x);
        int at = g.add("nodes", node);
        ((ObjectNode) g.list("scenes").get(0)).withArray("nodes").add(at);
        moved(at, "translation", "VEC3", keys, Model.Property.TRANSLATION);
        moved(at, "rotation", "VEC4", keys, Model.Property.ROTATION);
    }

    private void moved(int node, String path, String type, NodeWay keys, Model.Property k) {
        if (!keys.moves(k)) return;
        if (time < 0) time = g.floats(BakedModel.times(scene), "SCALAR", 0);
        g.channel(clip, node, path, time, g.floats(keys.of(k), type, 0), "LINEAR");
    }
}
