package dasein.core.model.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.format.Glb;
import dasein.core.model.Model;
import dasein.core.model.PosedBox;
import dasein.core.model.Texture;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.lwjgl.PointerBuffer;
import org.lwjgl.system.MemoryStack;
import org.lwjgl.system.MemoryUtil;
import org.lwjgl.util.ktx.KTX;
import org.lwjgl.util.ktx.ktxTexture;
import org.lwjgl.util.ktx.ktxTexture2;
import org.lwjgl.util.ktx.ktxTextureCreateInfo;
import tools.jackson.databind.node.ObjectNode;

/**
 * Models packed by the reference encoders of the two mesh formats, against the same model as it was; pictures against
 * what was packed.
 */
class GltfUnpackTest {
    private static final double HALF_WAY = 0.37;

    @TempDir
    Path folder;

    private static Path resource(String name) throws Exception {
        return Path.of(GltfUnpackTest.class.getResource("/" + name).toURI());
    }

    private static double meanUv(Model m) {
        double s = 0, n = 0;
        for (Model.Part p : m.parts())
            for (int i : p.index()) {
                s += p.uv()[2 * i] + 3 * p.uv()[2 * i + 1];
                n++;
            }
        return s / n;
    }

    @ParameterizedTest
    @ValueSource(strings = {"packed-draco.glb", "packed-meshopt.glb"})
    void packedMeshesAreWhatTheyWere(String packed) throws Exception {
        Model was = ModelReader.read(Path.of("demo/models/skimmer.glb"));
        Imported read = ModelReader.imported(resource(packed), new Siblings(List.of()));
        assertThat(read.remarks()).isEmpty();
        Model m = read.model();
        // Skins and clips with it: half way through the flap it is where it was, to a millimetre.
        assertThat(PosedBox.of(m, HALF_WAY))
                .usingComparatorWithPrecision(1e-3f)
                .containsExactly(PosedBox.of(was, HALF_WAY));
        // Encoders leave out triangles without area.
        assertThat(m.triangles()).isBetween(was.triangles() * 95 / 100, was.triangles());
        assertThat(meanUv(m)).isCloseTo(meanUv(was), within(0.03));
        // What the shelf keeps needs no decoder.
        Path plain = folder.resolve("plain.glb");
        Files.write(plain, ModelFile.glb(List.of(resource(packed)), new ModelFile.Read(read, "", 0, false, false)));
        assertThat(new String(Files.readAllBytes(plain), java.nio.charset.StandardCharsets.ISO_8859_1))
                .doesNotContain("draco")
                .doesNotContain("meshopt");
        assertThat(PosedBox.of(ModelReader.read(plain), HALF_WAY)).containsExactly(PosedBox.of(m, HALF_WAY));
    }

    @ParameterizedTest
    @ValueSource(strings = {"packed-draco.glb", "packed-meshopt.glb"})
    void damagedPackedMeshesAreReadOrRefused(String packed) throws Exception {
        byte[] whole = Files.readAllBytes(resource(packed));
        Random r = new Random(3);
        Path p = folder.resolve("damaged.glb");
        int refused = 0;
        for (int k = 0; k < 300; k++) {
            byte[] b = whole.clone();
            for (int i = r.nextInt(8); i >= 0; i--) b[20 + r.nextInt(b.length - 20)] = (byte) r.nextInt();
            Files.write(p, b);
            try {
                GltfPack.unpacked(p, "damaged.glb");
            } catch (BadInput e) {
                assertThat(e.getMessage()).startsWith("damaged.glb");
                refused++;
            } catch (tools.jackson.core.JacksonException e) {
                refused++;
            }
        }
        assertThat(refused).isGreaterThan(100);
    }

    /** @param codec 1: ETC1S, 2: UASTC, 0: not packed */
    private static byte[] ktx2(int side, int[] argb, int codec) {
        try (MemoryStack stack = MemoryStack.stackPush()) {
            ktxTextureCreateInfo info = ktxTextureCreateInfo
                    .calloc(stack)
                    .vkFormat(43)
                    .baseWidth(side)
                    .baseHeight(side)
                    .baseDepth(1)
                    .numDimensions(2)
                    .numLevels(1)
                    .numLayers(1)
                    .numFaces(1);
            PointerBuffer made = stack.mallocPointer(1),
                    bytes = stack.mallocPointer(1),
                    length = stack.mallocPointer(1);
            assertThat(KTX.ktxTexture2_Create(info, KTX.KTX_TEXTURE_CREATE_ALLOC_STORAGE, made))
                    .isEqualTo(KTX.KTX_SUCCESS);
            ktxTexture2 t = ktxTexture2.create(made.get(0));
            ByteBuffer rgba = MemoryUtil.memAlloc(4 * side * side);
            for (int v : argb)
                rgba.put((byte) (v >> 16)).put((byte) (v >> 8)).put((byte) v).put((byte) (v >>> 24));
            assertThat(KTX.ktxTexture_SetImageFromMemory(ktxTexture.create(t.address()), 0, 0, 0, rgba.flip()))
                    .isEqualTo(KTX.KTX_SUCCESS);
            if (codec > 0) {
                var params = org.lwjgl.util.ktx.ktxBasisParams.calloc(stack);
                params.structSize(org.lwjgl.util.ktx.ktxBasisParams.SIZEOF)
                        .codec(codec)
                        .threadCount(1)
                        .qualityLevel(255);
                assertThat(KTX.ktxTexture2_CompressBasisEx(t, params)).isEqualTo(KTX.KTX_SUCCESS);
            }
            assertThat(KTX.ktxTexture2_WriteToMemory(t, bytes, length)).isEqualTo(KTX.KTX_SUCCESS);
            byte[] out = new byte[(int) length.get(0)];
            MemoryUtil.memByteBuffer(bytes.get(0), out.length).get(out);
            KTX.ktxTexture2_Destroy(t);
            MemoryUtil.memFree(rgba);
            return out;
        }
    }

    private static int[] picture(int side) {
        int[] argb = new int[side * side];
        for (int y = 0; y < side; y++)
            for (int x = 0; x < side; x++)
                argb[y * side + x] = (255 - y / 2) << 24 | 4 * x << 16 | 3 * y << 8 | (x + y);
        return argb;
    }

    @ParameterizedTest
    @CsvSource({"0, 0", "1, 14", "2, 6"})
    void packedPicturesAreWhatTheyWere(int codec, int most) throws Exception {
        int side = 64;
        int[] argb = picture(side);
        byte[] file = ktx2(side, argb, codec);
        var read = Ktx2.read("a model", file).image();
        double worst = 0;
        for (int c = 0; c < 32; c += 8) {
            double sum = 0;
            for (int i = 0; i < argb.length; i++)
                sum += Math.abs((argb[i] >>> c & 255) - (read.getRGB(i % side, i / side) >>> c & 255));
            worst = Math.max(worst, sum / argb.length);
        }
        assertThat(worst).isLessThanOrEqualTo(most);
    }

    private Path model(byte[] ktx2) {
        Glb g = new Glb();
        ObjectNode mesh = g.object(),
                prim = mesh.putArray("primitives").addObject().put("material", 0),
                at = prim.putObject("attributes");
        at.put("POSITION", g.floats(new float[] {0, 0, 0, 1, 0, 0, 0, 2, 0}, "VEC3", 34962));
        at.put("TEXCOORD_0", g.floats(new float[] {0, 0, 1, 0, 0, 1}, "VEC2", 34962));
        g.add("meshes", mesh);
        g.add("nodes", g.object().put("mesh", 0));
        ObjectNode scene = g.object();
        scene.putArray("nodes").add(0);
        g.add("scenes", scene);
        ObjectNode texture = (ObjectNode) g.list("textures").get(g.texture(ktx2, "image/ktx2"));
        texture.remove("source");
        texture.putObject("extensions").putObject("KHR_texture_basisu").put("source", 0);
        ObjectNode material = g.object();
        material.putObject("pbrMetallicRoughness").putObject("baseColorTexture").put("index", 0);
        g.add("materials", material);
        g.root.putArray("extensionsUsed").add("KHR_texture_basisu");
        g.root.putArray("extensionsRequired").add("KHR_texture_basisu");
        Path p = folder.resolve("basis.glb");
        g.write(p);
        return p;
    }

    @Test
    void aModelWithAPackedPictureKeepsItAsPng() {
        Texture t =
                ModelReader.read(model(ktx2(64, picture(64), 2))).materials()[0].baseTexture();
        assertThat(t.width()).isEqualTo(64);
        assertThat(t.image().getRGB(40, 20) >> 16 & 255).isCloseTo(160, within(8));
    }

    /** What still says that it is packed once it is unpacked is not unpacked for ever. */
    @Test
    void isUnpackedOnce() throws Exception {
        Path p = folder.resolve("again.glb");
        GltfPack lies = GltfPack.whole(resource("packed-draco.glb"), "again.glb");
        // An object where a list should be.
        lies.json.putObject("extensionsUsed").put("", "KHR_draco_mesh_compression");
        Files.write(p, lies.glb());
        assertThat(ModelReader.imported(p, new Siblings(List.of())).model().triangles())
                .isGreaterThan(1000);
    }

    /** The decoder has been seen to end its process on damaged codebooks; this one goes on. */
    @Test
    void aDecoderThatEndsItsProcessTakesNothingWithIt() {
        byte[] file = ktx2(64, picture(64), 1);
        Random r = new Random(2);
        for (int k = 0; k < 3; k++) {
            byte[] b = file.clone();
            for (int i = 224; i < 360; i++) b[i] = (byte) r.nextInt();
            assertThatThrownBy(() -> ModelReader.read(model(b)))
                    .isInstanceOf(BadInput.class)
                    .hasMessageStartingWith("basis.glb is damaged");
        }
    }
}
