package dasein.core.model.file;

import dasein.core.BadInput;
import java.io.File;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

/**
 * Unpacks a glTF in a process of its own: decoders are native, and damaged input has been seen to end their process or
 * to keep it for ever. It ends with code 3 and a sentence for what it refuses.
 */
final class UnpackApart {
    private static final int REFUSED = 3, MOST_SECONDS = 120;
    private static final String LAUNCHER = "org.springframework.boot.loader.launch.PropertiesLauncher";

    private UnpackApart() {}

    /** @param packed with everything drawn in; gives the plain GLB */
    static GltfPack plain(String name, GltfPack packed) throws IOException {
        Path folder = Files.createTempDirectory("unpack");
        try {
            Path in = folder.resolve("packed.glb"), out = folder.resolve("plain.glb"), said = folder.resolve("said");
            Files.write(in, packed.glb());
            Process p = new ProcessBuilder(command(in, out, name))
                    .directory(folder.toFile())
                    .redirectErrorStream(true)
                    .redirectOutput(said.toFile())
                    .start();
            try {
                if (!p.waitFor(MOST_SECONDS, TimeUnit.SECONDS))
                    throw new BadInput(name + " is damaged: unpacking it did not end in " + MOST_SECONDS + " s");
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new BadInput(name + " was not read: unpacking it was stopped", e);
            } finally {
                p.destroyForcibly();
            }
            if (p.exitValue() == REFUSED)
                throw new BadInput(Files.readString(said).strip());
            if (p.exitValue() != 0) throw new BadInput(name + " is damaged: what is packed in it cannot be unpacked");
            // Not unpacked again, whatever it says of itself.
            return GltfPack.whole(out, name);
        } finally {
            for (File f : folder.toFile().listFiles()) f.delete();
            Files.deleteIfExists(folder);
        }
    }

    /**
     * Of this very program, however it was started: from classes, or from one jar that holds others, which then needs
     * its launcher.
     */
    private static List<String> command(Path in, Path out, String name) {
        List<String> c = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-Xmx1500m",
                "-XX:+UseSerialGC",
                "-XX:TieredStopAtLevel=1",
                "-XX:-CreateCoredumpOnCrash",
                "-XX:ErrorFile=/dev/null"));
        // Newer ones say a word on what decoders do, which would stand before ours.
        if (Runtime.version().feature() >= 24)
            c.addAll(List.of("--enable-native-access=ALL-UNNAMED", "--sun-misc-unsafe-memory-access=allow"));
        String libraries = System.getProperty("org.lwjgl.system.SharedLibraryExtractPath");
        if (libraries != null)
            c.add("-Dorg.lwjgl.system.SharedLibraryExtractPath="
                    + Path.of(libraries).toAbsolutePath());
        boolean nested = ClassLoader.getSystemResource(LAUNCHER.replace('.', '/') + ".class") != null;
        if (nested) c.add("-Dloader.main=" + UnpackApart.class.getName());
        c.addAll(List.of(
                "-cp",
                absolute(System.getProperty("java.class.path")),
                nested ? LAUNCHER : UnpackApart.class.getName(),
                in.toString(),
                out.toString(),
                name));
        return c;
    }

    private static String absolute(String path) {
        List<String> out = new ArrayList<>();
        for (String p : path.split(File.pathSeparator))
            out.add(Path.of(p).toAbsolutePath().toString());
        return String.join(File.pathSeparator, out);
    }

    /** @param args the packed file, where the plain one goes, and the name it has for people */
    public static void main(String[] args) throws IOException {
        try {
            Files.write(Path.of(args[1]), GltfPack.unpacked(Path.of(args[0]), args[2]));
        } catch (BadInput e) {
            System.out.write(e.getMessage().getBytes(StandardCharsets.UTF_8));
            System.out.flush();
            System.exit(REFUSED);
        }
    }
}
