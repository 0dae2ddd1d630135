package dasein.core.model.file;

import dasein.core.BadInput;
import dasein.core.format.Glb;
import dasein.core.model.Material;
import dasein.core.model.Model;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.lwjgl.assimp.AIAnimation;
import org.lwjgl.assimp.AIBone;
import org.lwjgl.assimp.AIColor4D;
import org.lwjgl.assimp.AIFace;
import org.lwjgl.assimp.AIMatrix4x4;
import org.lwjgl.assimp.AIMesh;
import org.lwjgl.assimp.AINode;
import org.lwjgl.assimp.AINodeAnim;
import org.lwjgl.assimp.AIPropertyStore;
import org.lwjgl.assimp.AIScene;
import org.lwjgl.assimp.AIVector3D;
import org.lwjgl.assimp.AIVertexWeight;
import org.lwjgl.assimp.Assimp;
import org.lwjgl.system.MemoryUtil;

/**
 * Reads COLLADA (1.4 and 1.5, ISO 17506) through the library; to be called where its end does no harm, see
 * {@link Apart}. Pictures are not looked for: the GLB names them, as a glTF does.
 */
final class Collada {
    private static final int HOW = Assimp.aiProcess_Triangulate
            | Assimp.aiProcess_JoinIdenticalVertices
            | Assimp.aiProcess_LimitBoneWeights
            | Assimp.aiProcess_SortByPType;
    private static final int MOST_BYTES = 512 << 20, MOST_DEPTH = 1000;

    private final String name;
    private final AIScene scene;
    private final Set<String> remarks = new LinkedHashSet<>();
    private final List<Model.Node> nodes = new ArrayList<>();
    private final List<Model.Part> parts = new ArrayList<>();
    private final List<Model.Skin> skins = new ArrayList<>();
    private final Map<String, Integer> number = new HashMap<>();
    private final List<int[]> hung = new ArrayList<>();

    private Collada(String name, AIScene scene) {
        this.name = name;
        this.scene = scene;
    }

    /**
     * @param raw numbers and axes as they are; otherwise metres and Y up, by what the file says of itself
     * @param said gets a sentence for all that is left out
     * @throws BadInput when it is no COLLADA, is damaged, or holds no triangles
     */
    static byte[] glb(byte[] file, String name, boolean raw, List<String> said) {
        if (file.length > MOST_BYTES)
            throw new BadInput(name + " is " + (file.length >> 20) + " MB; at most " + (MOST_BYTES >> 20)
                    + " MB can be brought in");
        ByteBuffer all = MemoryUtil.memAlloc(file.length).put(file).flip();
        AIPropertyStore how = Assimp.aiCreatePropertyStore();
        AIScene scene = null;
        try {
            if (raw) {
                Assimp.aiSetImportPropertyInteger(how, Assimp.AI_CONFIG_IMPORT_COLLADA_IGNORE_UNIT_SIZE, 1);
                Assimp.aiSetImportPropertyInteger(how, Assimp.AI_CONFIG_IMPORT_COLLADA_IGNORE_UP_DIRECTION, 1);
            }
            scene = Assimp.aiImportFileFromMemoryWithProperties(all, HOW, "dae", how);
            if (scene == null || scene.mRootNode() == null)
                throw new BadInput(name + " is damaged: " + reason(Assimp.aiGetErrorString()));
            Collada c = new Collada(name, scene);
            byte[] out = c.glb();
            // Curves are kept by their ends alone.
            if (scene.mNumAnimations() > 0 && new String(file, StandardCharsets.ISO_8859_1).contains("BEZIER"))
                c.remarks.add("Between the keys of its clips it moves evenly, not by their curves.");
            said.addAll(c.remarks);
            return out;
        } finally {
            if (scene != null) Assimp.aiReleaseImport(scene);
            Assimp.aiReleasePropertyStore(how);
            MemoryUtil.memFree(all);
        }
    }

    private static String reason(String said) {
        return said == null || said.isBlank()
                ? "it cannot be read as COLLADA"
                : said.replaceFirst("(?i)^collada:?[^-]*- *", "").strip();
    }

    private byte[] glb() {
        walk(scene.mRootNode(), -1, 0);
        ColladaMaterials read = new ColladaMaterials(scene, remarks);
        // Joints are named by nodes that may stand behind the meshes.
        for (int[] h : hung) part(h[0], AIMesh.create(scene.mMeshes().get(h[1])));
        if (parts.isEmpty()) throw new BadInput(name + " holds no triangles");
        if (scene.mNumCameras() > 0) remarks.add("Its cameras are left out.");
        if (scene.mNumLights() > 0) remarks.add("Its lights are left out.");
        Glb out = ModelGlb.glb(
                new Model(name, nodes, parts, skins, clips(), read.materials().toArray(Material[]::new)));
        read.pictures(out);
        return out.bytes();
    }

    private void walk(AINode n, int parent, int depth) {
        if (depth > MOST_DEPTH) throw new BadInput(name + " is damaged: its nodes stand within each other too deep");
        int me = nodes.size();
        String called = n.mName().dataString();
        number.putIfAbsent(called, me);
        Trs t = Trs.of(affine(n.mTransformation()));
        nodes.add(new Model.Node(
                called.isEmpty() ? "node " + me : called, parent, t.move(), t.turn(), t.size(), new float[0]));
        for (int i = 0; i < n.mNumMeshes(); i++)
            hung.add(new int[] {me, n.mMeshes().get(i)});
        for (int i = 0; i < n.mNumChildren(); i++)
            walk(AINode.create(n.mChildren().get(i)), me, depth + 1);
    }

    private static double[] affine(AIMatrix4x4 m) {
        double[] a = {m.a1(), m.a2(), m.a3(), m.a4(), m.b1(), m.b2(), m.b3(), m.b4(), m.c1(), m.c2(), m.c3(), m.c4()};
        for (double v : a) if (!Double.isFinite(v)) return new double[] {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0};
        return a;
    }

    private void part(int node, AIMesh m) {
        if ((m.mPrimitiveTypes() & Assimp.aiPrimitiveType_TRIANGLE) == 0) {
            remarks.add("Points and lines are left out.");
            return;
        }
        int n = m.mNumVertices();
        int[] index = new int[3 * m.mNumFaces()];
        AIFace.Buffer faces = m.mFaces();
        int count = 0;
        for (int f = 0; f < m.mNumFaces(); f++) {
            AIFace face = faces.get(f);
            if (face.mNumIndices() != 3) continue;
            for (int k = 0; k < 3; k++) index[count++] = face.mIndices().get(k);
        }
        if (count == 0) return;
        if (m.mNumAnimMeshes() > 0) remarks.add("Its morph targets are left out.");
        boolean skinned = m.mNumBones() > 0;
        int[] joints = new int[skinned ? 4 * n : 0];
        float[] weights = new float[joints.length];
        int skin = skinned ? skin(m, joints, weights) : -1;
        AIColor4D.Buffer colours = m.mColors(0);
        float[] colour = new float[colours == null ? 0 : 4 * n];
        if (colours != null) MemoryUtil.memFloatBuffer(colours.address(), 4 * n).get(colour);
        for (int i = 0; i < colour.length; i++) colour[i] = Math.max(0, Math.min(1, colour[i]));
        parts.add(new Model.Part(
                node,
                skin,
                Vectors.xyz(m.mVertices(), n),
                m.mNormals() == null ? new float[3 * n] : Vectors.xyz(m.mNormals(), n),
                places(m, n),
                Arrays.copyOf(index, count),
                m.mMaterialIndex(),
                skin < 0 ? new int[0] : joints,
                skin < 0 ? new float[0] : weights,
                new float[0][],
                new float[0][],
                colour));
    }

    /** In pictures; the second set behind the first. */
    private static float[] places(AIMesh m, int n) {
        int sets = m.mTextureCoords(1) != null ? 2 : 1;
        float[] out = new float[2 * n * sets];
        for (int s = 0; s < sets; s++) {
            AIVector3D.Buffer uv = m.mTextureCoords(s);
            if (uv != null) Vectors.uv(uv, n, out, 2 * n * s);
        }
        return out;
    }

    /** @return its number, -1 when a joint is missing */
    private int skin(AIMesh m, int[] joints, float[] weights) {
        int bones = m.mNumBones();
        int[] of = new int[bones];
        double[][] inverse = new double[bones][];
        for (int b = 0; b < bones; b++) {
            AIBone bone = AIBone.create(m.mBones().get(b));
            Integer node = number.get(bone.mName().dataString());
            if (node == null) {
                remarks.add("Its skin is left out: a joint of it is not there.");
                return -1;
            }
            of[b] = node;
            inverse[b] = affine(bone.mOffsetMatrix());
            AIVertexWeight.Buffer w = bone.mWeights();
            for (int i = 0; i < bone.mNumWeights(); i++) {
                int v = w.get(i).mVertexId();
                if (v < 0 || v >= weights.length / 4) continue;
                int free = 4 * v;
                while (free < 4 * v + 3 && weights[free] != 0) free++;
                joints[free] = b;
                weights[free] = w.get(i).mWeight();
            }
        }
        for (int i = 0; i < weights.length; i += 4) {
            float sum = weights[i] + weights[i + 1] + weights[i + 2] + weights[i + 3];
            // What follows nothing follows the first.
            if (!(sum > 0)) weights[i] = sum = 1;
            for (int k = 0; k < 4; k++) weights[i + k] /= sum;
        }
        skins.add(new Model.Skin(of, inverse));
        return skins.size() - 1;
    }

    private List<Model.Clip> clips() {
        List<Model.Clip> out = new ArrayList<>();
        for (int a = 0; a < scene.mNumAnimations(); a++) {
            AIAnimation clip = AIAnimation.create(scene.mAnimations().get(a));
            double second = clip.mTicksPerSecond() > 0 ? clip.mTicksPerSecond() : 1;
            List<Model.Channel> channels = new ArrayList<>();
            for (int c = 0; c < clip.mNumChannels(); c++) {
                AINodeAnim k = AINodeAnim.create(clip.mChannels().get(c));
                Integer node = number.get(k.mNodeName().dataString());
                if (node != null) channels(k, node, second, channels);
            }
            double end = 0;
            for (Model.Channel k : channels) end = Math.max(end, k.times()[k.times().length - 1]);
            String called = clip.mName().dataString();
            if (end > 0) out.add(new Model.Clip(called.isBlank() ? "clip " + (a + 1) : called, end, channels));
        }
        return out;
    }

    private static void channels(AINodeAnim k, int node, double second, List<Model.Channel> to) {
        double[] at = new double[k.mNumPositionKeys()];
        float[] v = new float[3 * at.length];
        for (int i = 0; i < at.length; i++) {
            var key = k.mPositionKeys().get(i);
            at[i] = key.mTime() / second;
            put(v, 3 * i, key.mValue().x(), key.mValue().y(), key.mValue().z());
        }
        add(to, node, Model.Property.TRANSLATION, at, v, 3);
        at = new double[k.mNumRotationKeys()];
        v = new float[4 * at.length];
        for (int i = 0; i < at.length; i++) {
            var key = k.mRotationKeys().get(i);
            at[i] = key.mTime() / second;
            put(
                    v,
                    4 * i,
                    key.mValue().x(),
                    key.mValue().y(),
                    key.mValue().z(),
                    key.mValue().w());
        }
        add(to, node, Model.Property.ROTATION, at, v, 4);
        at = new double[k.mNumScalingKeys()];
        v = new float[3 * at.length];
        for (int i = 0; i < at.length; i++) {
            var key = k.mScalingKeys().get(i);
            at[i] = key.mTime() / second;
            put(v, 3 * i, key.mValue().x(), key.mValue().y(), key.mValue().z());
        }
        add(to, node, Model.Property.SCALE, at, v, 3);
    }

    private static void put(float[] to, int at, float... v) {
        System.arraycopy(v, 0, to, at, v.length);
    }

    /** Keys in the order of their times, none before the clip's beginning. */
    private static void add(List<Model.Channel> to, int node, Model.Property p, double[] at, float[] v, int wide) {
        int n = 0;
        float[] times = new float[at.length];
        for (int i = 0; i < at.length; i++) {
            if (!(at[i] >= 0 && at[i] < 1e5) || n > 0 && at[i] <= times[n - 1]) continue;
            times[n] = (float) at[i];
            System.arraycopy(v, wide * i, v, wide * n++, wide);
        }
        if (n > 0)
            to.add(new Model.Channel(
                    node, p, Arrays.copyOf(times, n), Arrays.copyOf(v, wide * n), wide, Model.Interpolation.LINEAR));
    }
}
