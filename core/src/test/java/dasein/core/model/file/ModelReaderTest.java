package dasein.core.model.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.format.Glb;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.model.Posing;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.node.ObjectNode;

/**
 * A triangle with a skin, a morph target and a clip, laid out as in the examples of the glTF 2.0 specification
 * (sections 3.7.2, 3.7.3, appendix C).
 */
class ModelReaderTest {
    @TempDir
    Path folder;

    private Path file(java.util.function.Consumer<Glb> more) {
        Glb g = new Glb();
        ObjectNode mesh = g.object();
        ObjectNode prim = mesh.putArray("primitives").addObject();
        ObjectNode at = prim.putObject("attributes");
        at.put("POSITION", g.floats(new float[] {0, 0, 0, 1, 0, 0, 0, 2, 0}, "VEC3", 34962));
        at.put("NORMAL", g.floats(new float[] {0, 0, 1, 0, 0, 1, 0, 0, 1}, "VEC3", 34962));
        at.put("JOINTS_0", g.joints(new int[] {0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0}));
        at.put("WEIGHTS_0", g.floats(new float[] {1, 0, 0, 0, 1, 0, 0, 0, 0.5f, 0.5f, 0, 0}, "VEC4", 34962));
        prim.putArray("targets")
                .addObject()
                .put("POSITION", g.floats(new float[] {0, 0, 0, 3, 0, 0, 0, 0, 0}, "VEC3", 34962));
        prim.put("indices", g.indices(new int[] {0, 1, 2}));
        g.add("meshes", mesh);
        g.add("nodes", g.object().put("mesh", 0).put("skin", 0));
        ObjectNode root = g.object().put("name", "root");
        root.putArray("children").add(2);
        g.add("nodes", root);
        ObjectNode tip = g.object().put("name", "tip");
        tip.putArray("translation").add(0).add(1).add(0);
        g.add("nodes", tip);
        ObjectNode skin = g.object()
                .put(
                        "inverseBindMatrices",
                        g.floats(
                                new float[] {
                                    1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0,
                                    0, -1, 0, 1
                                },
                                "MAT4",
                                0));
        skin.putArray("joints").add(1).add(2);
        g.add("skins", skin);
        ObjectNode clip = g.object().put("name", "bend");
        float h = (float) Math.sqrt(0.5);
        int time = g.floats(new float[] {0, 2}, "SCALAR", 0);
        clip.putArray("samplers")
                .addObject()
                .put("input", time)
                .put("output", g.floats(new float[] {0, 0, 0, 1, 0, 0, h, h}, "VEC4", 0));
        clip.withArray("samplers")
                .addObject()
                .put("input", time)
                .put("interpolation", "LINEAR")
                .put("output", g.floats(new float[] {0, 1}, "SCALAR", 0));
        clip.putArray("channels")
                .addObject()
                .put("sampler", 0)
                .putObject("target")
                .put("node", 2)
                .put("path", "rotation");
        clip.withArray("channels")
                .addObject()
                .put("sampler", 1)
                .putObject("target")
                .put("node", 0)
                .put("path", "weights");
        g.add("animations", clip);
        ObjectNode scene = g.object();
        scene.putArray("nodes").add(0).add(1);
        g.add("scenes", scene);
        more.accept(g);
        Path p = folder.resolve("model.glb");
        g.write(p);
        return p;
    }

    @Test
    void skinMorphAndClipGoTogether() {
        Model m = ModelReader.read(file(g -> {}));
        Posing pose = new Posing(m);
        float[] p = new float[9], n = new float[9];
        pose.at(m.clip("bend"), 1);
        pose.place(m.parts().get(0), p, n);
        // Half way: the tip joint has turned 45 degrees about Z at (0, 1, 0), and half of the morph target counts.
        assertThat(p[3]).isCloseTo(1 + 1.5f, within(1e-5f));
        double s = Math.sqrt(0.5);
        assertThat(p[6]).isCloseTo((float) (0.5 * -s), within(1e-5f));
        assertThat(p[7]).isCloseTo((float) (0.5 * 2 + 0.5 * (1 + s)), within(1e-5f));
        assertThat(n[2]).isCloseTo(1, within(1e-5f));
        pose.at(m.clip("bend"), 0);
        pose.place(m.parts().get(0), p, null);
        assertThat(p).containsExactly(0, 0, 0, 1, 0, 0, 0, 2, 0);
    }

    @Test
    void heightAndPlaceAreAsTyped() {
        Model m = ModelReader.read(file(g -> {}));
        Mesh placed = Blocking.alone(new Performer(1, "it", "it", 5, 0.25, -3, 90, 3, "", 0, 1, true), m, 24)
                .meshes(1, 1)
                .get(0);
        // Turned by 90 degrees about +Y, +X goes to -Z; 2 units high become 3 m.
        assertThat(placed.position0())
                .usingComparatorWithPrecision(1e-5f)
                .containsExactly(5f, 0.25f, -3f, 5f, 0.25f, -4.5f, 5f, 3.25f, -3f);
    }

    @Test
    void whatIsMissingOrNotUnderstoodIsSaid() throws Exception {
        assertThatThrownBy(() ->
                        ModelReader.read(file(g -> g.add("images", g.object().put("uri", "skin_colour.png")))))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("skin_colour.png");
        assertThatThrownBy(() -> ModelReader.read(
                        file(g -> g.root.putArray("extensionsRequired").add("KHR_draco_mesh_compression"))))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("draco");
        Path whole = file(g -> {});
        byte[] all = Files.readAllBytes(whole);
        Files.write(folder.resolve("cut.glb"), java.util.Arrays.copyOf(all, all.length / 2));
        assertThatThrownBy(() -> ModelReader.read(folder.resolve("cut.glb")))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("cut short");
        Files.write(folder.resolve("text.glb"), "hello, this is no model at all".getBytes(StandardCharsets.UTF_8));
        assertThatThrownBy(() -> ModelReader.read(folder.resolve("text.glb")))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("not a GLB");
        // Brought in, it stands with a chequered picture and says what it lacks; with the picture beside it, it is
        // whole.
        Path lacks = file(g -> {
            g.add("images", g.object().put("uri", "skins/skin_colour.png"));
            g.add("textures", g.object().put("source", 0));
            ObjectNode m = g.object().put("name", "hide");
            m.putObject("pbrMetallicRoughness").putObject("baseColorTexture").put("index", 0);
            m.putObject("extensions")
                    .putObject("KHR_materials_clearcoat")
                    .put("clearcoatFactor", 0.7)
                    .put("clearcoatRoughnessFactor", 0.1)
                    .putObject("clearcoatTexture")
                    .put("index", 0);
            ((ObjectNode) m.get("extensions")).putObject("KHR_materials_ior").put("ior", 1.8);
            ((ObjectNode) m.get("extensions"))
                    .putObject("KHR_materials_sheen")
                    .put("sheenRoughnessFactor", 0.4)
                    .putArray("sheenColorFactor")
                    .add(0.5)
                    .add(0)
                    .add(1);
            ((ObjectNode) m.get("extensions"))
                    .putObject("KHR_materials_transmission")
                    .put("transmissionFactor", 1);
            ((ObjectNode) m.get("extensions"))
                    .putObject("KHR_materials_volume")
                    .put("thicknessFactor", 0.2)
                    .put("attenuationDistance", 0.5)
                    .putArray("attenuationColor")
                    .add(1)
                    .add(0.5)
                    .add(0.25);
            g.add("materials", m);
            ((ObjectNode) g.list("meshes").get(0).path("primitives").get(0)).put("material", 0);
            g.root.putArray("extensionsUsed").add("KHR_materials_clearcoat").add("KHR_lights_punctual");
            ObjectNode x = (ObjectNode) m.get("extensions");
            x.putObject("KHR_materials_anisotropy")
                    .put("anisotropyStrength", 0.6)
                    .put("anisotropyRotation", 0.5);
            x.putObject("KHR_materials_iridescence")
                    .put("iridescenceFactor", 0.9)
                    .put("iridescenceIor", 1.4)
                    .put("iridescenceThicknessMaximum", 520)
                    .putObject("iridescenceThicknessTexture")
                    .put("index", 0)
                    .put("texCoord", 1);
            x.putObject("KHR_materials_diffuse_transmission").put("diffuseTransmissionFactor", 0.3);
        });
        Imported i = ModelFile.read(java.util.List.of(lacks), ModelFile.Reading.GUESS)
                .imported();
        assertThat(i.missing()).containsExactly("skin_colour.png");
        assertThat(i.remarks()).contains("Its lights are left out.");
        Material m = i.model().materials()[0];
        assertThat(m.layers().fine().brushed()).isEqualTo(new Material.Brushed(0.6f, 0.5f));
        assertThat(m.layers().fine().film()).isEqualTo(new Material.Iridescent(0.9f, 1.4f, 100, 520));
        assertThat(m.layers().fine().leaf().part()).isEqualTo(0.3f);
        assertThat(m.layers().pictures().filmThickness()).isNotNull();
        assertThat(m.layers().coat()).isEqualTo(0.7f);
        assertThat(m.layers().pictures().coat().width()).isEqualTo(8);
        assertThat(m.layers().pictures().sheen()).isNull();
        // ((1.8 - 1) / (1.8 + 1))^2, KHR_materials_ior.
        assertThat(m.layers().f0()[1]).isCloseTo(0.0816f, within(1e-4f));
        assertThat(m.layers().sheen().colour()).containsExactly(0.5f, 0, 1);
        assertThat(m.layers().sheen().roughness()).isEqualTo(0.4f);
        // Half is left after half a metre, and a quarter: ln 2 / 0.5 and twice that.
        assertThat(m.layers().glass().ior()).isEqualTo(1.8f);
        assertThat(m.layers().glass().absorbs())
                .usingComparatorWithPrecision(1e-4f)
                .containsExactly(0, 1.3863f, 2.7726f);
        Path picture = folder.resolve("Skin_Colour.png");
        javax.imageio.ImageIO.write(
                new java.awt.image.BufferedImage(4, 2, java.awt.image.BufferedImage.TYPE_INT_RGB),
                "png",
                picture.toFile());
        i = ModelFile.read(java.util.List.of(lacks, picture), ModelFile.Reading.GUESS)
                .imported();
        assertThat(i.missing()).isEmpty();
        assertThat(i.model().materials()[0].baseTexture().width()).isEqualTo(4);
    }

    /** Bytes changed at random: whatever comes in, it is read or refused with a sentence, and soon. */
    @Test
    void damagedFilesNeitherHangNorCrash() throws Exception {
        byte[] whole = Files.readAllBytes(file(g -> {}));
        java.util.Random r = new java.util.Random(11);
        int read = 0, refused = 0;
        Path p = folder.resolve("damaged.glb");
        for (int k = 0; k < 1500; k++) {
            byte[] b = whole.clone();
            for (int n = 1 + r.nextInt(4); n > 0; n--) {
                // Digits of the description more often than all else: those are sizes and numbers of things.
                int at = r.nextInt(b.length);
                for (int tries = 0; tries < 40 && k % 3 > 0 && !Character.isDigit(b[at]); tries++)
                    at = 20 + r.nextInt(Math.min(b.length - 20, 2000));
                b[at] = k % 3 > 0 && Character.isDigit(b[at]) ? (byte) ('0' + r.nextInt(10)) : (byte) r.nextInt(256);
            }
            if (k % 17 == 0) b = java.util.Arrays.copyOf(b, r.nextInt(b.length));
            Files.write(p, b);
            try {
                Model m = ModelFile.read(java.util.List.of(p), ModelFile.Reading.GUESS)
                        .imported()
                        .model();
                m.bounds();
                Posing pose = new Posing(m);
                for (Model.Clip c : m.clips()) pose.at(c, 0.7);
                for (Model.Part part : m.parts())
                    pose.place(part, new float[part.position().length], new float[part.position().length]);
                read++;
            } catch (BadInput e) {
                assertThat(e.getMessage()).isNotBlank();
                refused++;
            }
        }
        System.out.printf("damaged models: %d read all the same, %d refused%n", read, refused);
        assertThat(refused).isGreaterThan(500);
    }
}
