package dasein.core.solve;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.solve.file.LensFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/** A lens from a folder of photographs of a chessboard. */
public final class BoardPhotographs {
    /** Corners are as exact in pictures of this width; larger ones are halved until they are narrower. */
    private static final int WIDEST = 2400;

    private static final int MOST = 200;

    private BoardPhotographs() {}

    /**
     * @param found photographs in which the board was found whole, of {@code all}; {@code used} of them agree
     * @param said the lens's terms, and why
     */
    public record Result(LensFile.Calibrated lens, int all, int found, int used, String said) {}

    /**
     * @param columns inner corners along one side of the board, {@code rows} along the other; @param terms of the lens
     */
    public static Result calibrate(Path folder, int columns, int rows, LensTerms terms, Progress progress) {
        if (columns < 3 || rows < 3 || columns > 60 || rows > 60)
            throw new BadInput("a board has from 3 to 60 inner corners along each side; " + columns + " x " + rows
                    + " were given");
        List<Path> files;
        try (Stream<Path> all = Files.list(folder)) {
            files = all.filter(p -> p.getFileName()
                            .toString()
                            .toLowerCase(java.util.Locale.ROOT)
                            .matches("[^.].*\\.(png|jpe?g|tiff?)"))
                    .sorted()
                    .toList();
        } catch (IOException e) {
            throw new BadInput("the folder " + folder + " cannot be read", e);
        }
        if (files.isEmpty())
            throw new BadInput("there are no photographs (PNG, JPEG or TIFF) in " + folder.getFileName());
        if (files.size() > MOST) throw new BadInput("more than " + MOST + " photographs are not needed");
        List<double[][]> boards = new ArrayList<>();
        int w = 0, h = 0;
        for (int i = 0; i < files.size(); i++) {
            progress.at(
                    0.9 * i / files.size(),
                    "looking for the board in " + files.get(i).getFileName());
            Image im = Stills.read(files.get(i), Encoding.SRGB);
            while (im.width > WIDEST) im = im.half();
            if (w == 0) {
                w = im.width;
                h = im.height;
            }
            if (im.width != w || im.height != h)
                throw new BadInput(files.get(i).getFileName() + " has another size than the first photograph");
            float[] l = im.luminance();
            for (int k = 0; k < l.length; k++) l[k] = 255 * (float) Encoding.SRGB.encode(l[k]);
            double[][] b = Chessboard.find(l, w, h, columns, rows);
            if (b != null) boards.add(b);
        }
        if (boards.isEmpty())
            throw new NoSolution("no board of " + columns + " x " + rows + " inner corners was found in " + files.size()
                    + " photographs; count the corners between the squares, and show the whole board");
        Calibration.Result r = Calibration.solve(boards, columns, w, h, terms);
        return new Result(
                new LensFile.Calibrated(r.lens(), w, h, r.rmsPx()), files.size(), boards.size(), r.used(), r.said());
    }
}
