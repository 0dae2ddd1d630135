package dasein.core.track;

import dasein.core.BadInput;
import dasein.core.format.SafeWrite;
import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.TreeMap;

/**
 * Tracks as text: a head line, then {@code track,frame,x,y} in continuous pixels from the top-left corner; a fifth column
 * {@code match} may follow.
 */
public final class TrackFile {
    private static final String HEAD = "track,frame,x,y", HEAD_MATCH = HEAD + ",match";
    private static final int MOST_LINES = 20_000_000;

    private TrackFile() {}

    public static void write(Path path, List<Track> tracks) { write(path, tracks, false); }

    public static void write(Path path, List<Track> tracks, boolean match) {
        SafeWrite.to(path, tmp -> {
            try (BufferedWriter w = Files.newBufferedWriter(tmp)) {
                w.write((match ? HEAD_MATCH : HEAD) + "\n");
                for (Track t : tracks) {
                    for (int i = 0; i < t.length(); i++) {
                        w.write(String.format(Locale.ROOT, "%d,%d,%.4f,%.4f", t.id(), t.frames()[i], t.x()[i], t.y()[i]));
                        w.write(match ? String.format(Locale.ROOT, ",%.4f%n", t.match()[i]) : "\n");
                    }
                }
            }
        });
    }

    public static List<Track> read(Path path) {
        TreeMap<Integer, TreeMap<Integer, double[]>> rows = new TreeMap<>();
        int line = 1;
        try (BufferedReader r = Files.newBufferedReader(path)) {
            String head = r.readLine();
            boolean match = head != null && head.trim().equals(HEAD_MATCH);
            if (head == null || !match && !head.trim().equals(HEAD)) throw new BadInput(path.getFileName() + " is not a track file: its first line must be " + HEAD);
            for (String s = r.readLine(); s != null; s = r.readLine()) {
                if (++line > MOST_LINES) throw new BadInput(path.getFileName() + " has too many lines");
                if (s.isBlank()) continue;
                String[] f = s.split(",");
                double x = Double.parseDouble(f[2].trim()), y = Double.parseDouble(f[3].trim());
                if (f.length != (match ? 5 : 4) || !Double.isFinite(x) || !Double.isFinite(y)) throw new NumberFormatException();
                rows.computeIfAbsent(Integer.parseInt(f[0].trim()), k -> new TreeMap<>()).put(Integer.parseInt(f[1].trim()), new double[] {x, y, match ? Double.parseDouble(f[4].trim()) : Double.NaN});
            }
        } catch (NumberFormatException | ArrayIndexOutOfBoundsException e) {
            throw new BadInput("line " + line + " of " + path.getFileName() + " is not track,frame,x,y");
        } catch (IOException e) {
            throw new BadInput("the track file " + path + " cannot be read", e);
        }
        List<Track> out = new ArrayList<>();
        rows.forEach((id, m) -> {
            int n = m.size(), i = 0;
            int[] frames = new int[n];
            double[] x = new double[n], y = new double[n];
            float[] how = new float[n];
            for (var e : m.entrySet()) {
                frames[i] = e.getKey();
                x[i] = e.getValue()[0];
                y[i] = e.getValue()[1];
                how[i++] = (float) e.getValue()[2];
            }
            out.add(new Track(id, frames, x, y, how));
        });
        return out;
    }
}
