package dasein.app.command;

import dasein.core.plate.Plate;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.shot.TrackRecipe;
import dasein.core.track.Masks;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import dasein.core.track.TrackSettings;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

@Command(name = "track", description = "Follow marks through a plate and write them as track,frame,x,y.")
public final class TrackCommand implements Callable<Integer> {
    @Mixin
    PlateOptions plate;

    @Option(names = "--count", defaultValue = "400", description = "marks wanted in every frame")
    int count;

    @Option(names = "--out", required = true)
    Path out;

    @Override
    public Integer call() {
        try (Plate p = plate.open(true)) {
            List<Track> tracks = plate.tracks(p, count, Console.progress());
            TrackFile.write(out, tracks);
            System.err.println(tracks.size() + " tracks written to " + out);
            return 0;
        }
    }

    /** A plate and how to read it, as several commands take it. */
    static final class PlateOptions {
        @Option(names = "--plate", description = "movie file or folder of numbered frames")
        Path path;

        @Option(names = "--mask", description = "picture or folder; white = do not look here")
        Path mask;

        @Option(names = "--rate", defaultValue = "", description = "frames a second, for example 24 or 24000/1001")
        String rate;

        @Option(
                names = "--encoding",
                defaultValue = "",
                description = "REC709, BT1886, SRGB, GAMMA22, LINEAR, ACESCG, ACES2065, ACESCCT, PQ, HLG or DENSITY")
        String encoding;

        @Option(
                names = "--quality",
                defaultValue = "STANDARD",
                description = "DRAFT, STANDARD, or THOROUGH for shaky and blurred footage")
        TrackSettings.Quality quality;

        @Option(names = "--first", defaultValue = "0")
        int first;

        @Option(names = "--last", defaultValue = "0")
        int last;

        PlateRecipe recipe() {
            return PlateRecipe.BLANK
                    .withFile(path == null ? "" : path.toString())
                    .read(encoding, rate, first, last);
        }

        Plate open(boolean needed) {
            if (path == null && needed) throw new dasein.core.BadInput("--plate is missing");
            if (path == null) return null;
            Plate p = ShotSteps.plate(recipe(), path, null);
            Console.warnOfRate(p);
            return p;
        }

        List<Track> tracks(Plate p, int count, dasein.core.Progress progress) {
            Shot shot = Shot.BLANK.with(recipe());
            TrackRecipe t = shot.tracks();
            shot = shot.with(new TrackRecipe(
                    count,
                    t.threshold(),
                    t.region(),
                    0,
                    quality,
                    "",
                    "",
                    List.of(),
                    List.of(),
                    List.of(),
                    List.of(),
                    List.of(),
                    List.of()));
            return ShotSteps.tracks(shot, p, mask == null ? null : Masks.open(mask, p.width(), p.height()), progress);
        }
    }
}
