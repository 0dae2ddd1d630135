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
 * What native libraries read, in a process of its own: damaged input has been seen to end their process or to keep it
 * for ever. It ends with code 3 and a sentence for what it refuses.
 */
final class Apart {
    private static final int REFUSED = 3, MOST_SECONDS = 120;
    private static final String LAUNCHER = "org.springframework.boot.loader.launch.PropertiesLauncher";

    /** What is done there, from the bytes of one file to those of a plain GLB. */
    enum Work {
        /** A GLB whose meshes or pictures are packed. */
        UNPACK,
        /** COLLADA; Y up and metres by what it says itself. */
        COLLADA,
        /** The same with its numbers and axes as they are. */
        COLLADA_RAW
    }

    /** @param said what there is to say, each a sentence */
    record Made(GltfPack plain, List<String> said) {}

    private Apart() {}

    /** @param name of the file, for people; gives the plain GLB */
    static Made run(Work work, byte[] file, String name) throws IOException {
        Path folder = Files.createTempDirectory("apart");
        try {
            Path in = folder.resolve("in"), out = folder.resolve("plain.glb"), said = folder.resolve("said");
            Files.write(in, file);
            Process p = new ProcessBuilder(command(work, in, out, name))
                    .directory(folder.toFile())
                    .redirectErrorStream(true)
                    .redirectOutput(said.toFile())
                    .start();
            try {
                if (!p.waitFor(MOST_SECONDS, TimeUnit.SECONDS))
                    throw new BadInput(name + " is damaged: reading it did not end in " + MOST_SECONDS + " s");
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new BadInput(name + " was not read: it was stopped", e);
            } finally {
                p.destroyForcibly();
            }
            if (p.exitValue() == REFUSED)
                throw new BadInput(Files.readString(said).strip());
            if (p.exitValue() != 0)
                throw new BadInput(name + " is damaged: what is " + (work == Work.UNPACK ? "packed " : "")
                        + "in it cannot be " + (work == Work.UNPACK ? "unpacked" : "read"));
            // Not unpacked again, whatever it says of itself.
            return new Made(
                    GltfPack.whole(out, name),
                    Files.readString(said).lines().filter(l -> !l.isBlank()).toList());
        } finally {
            for (File f : folder.toFile().listFiles()) f.delete();
            Files.deleteIfExists(folder);
        }
    }

    /**
     * Of this very program, however it was started: from classes, or from one jar that holds others, which then needs
     * its launcher.
     */
    private static List<String> command(Work work, Path in, Path out, String name) {
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
        if (nested) c.add("-Dloader.main=" + Apart.class.getName());
        c.addAll(List.of(
                "-cp",
                absolute(System.getProperty("java.class.path")),
                nested ? LAUNCHER : Apart.class.getName(),
                work.name(),
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

    /** @param args the work, the file, where the plain one goes, and the name it has for people */
    public static void main(String[] args) throws IOException {
        Work work = Work.valueOf(args[0]);
        Path in = Path.of(args[1]);
        List<String> said = new ArrayList<>();
        int code = 0;
        try {
            Files.write(
                    Path.of(args[2]),
                    work == Work.UNPACK
                            ? GltfPack.unpacked(in, args[3])
                            : Collada.glb(Files.readAllBytes(in), args[3], work == Work.COLLADA_RAW, said));
        } catch (BadInput e) {
            said = List.of(e.getMessage());
            code = REFUSED;
        }
        System.out.write(String.join("\n", said).getBytes(StandardCharsets.UTF_8));
        System.out.flush();
        System.exit(code);
    }
}
