package dasein.core.format;

import com.twelvemonkeys.imageio.plugins.hdr.HDRImageReadParam;
import com.twelvemonkeys.imageio.plugins.hdr.tonemap.NullToneMapper;
import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.image.Room;
import java.awt.image.Raster;
import java.io.IOException;
import java.nio.file.Path;
import javax.imageio.ImageIO;
import javax.imageio.ImageReader;
import javax.imageio.stream.ImageInputStream;

/** Radiance .hdr to scene-linear float, without the library's tone mapping. */
final class Hdr {
    private Hdr() {}

    static Image read(Path path) {
        ImageReader reader = ImageIO.getImageReadersByFormatName("HDR").next();
        try (ImageInputStream in = ImageIO.createImageInputStream(path.toFile())) {
            reader.setInput(in);
            Room.ask(path.getFileName().toString(), reader.getWidth(0), reader.getHeight(0), 28);
            HDRImageReadParam param = (HDRImageReadParam) reader.getDefaultReadParam();
            param.setToneMapper(new NullToneMapper());
            Raster r = reader.read(0, param).getRaster();
            int w = r.getWidth(), h = r.getHeight();
            Image out = new Image(w, h, 3);
            float[] row = new float[w * r.getNumBands()];
            for (int y = 0; y < h; y++) {
                r.getPixels(0, y, w, 1, row);
                for (int x = 0; x < w; x++)
                    for (int c = 0; c < 3; c++) out.planes[c][y * w + x] = row[x * r.getNumBands() + c];
            }
            return out;
        } catch (BadInput e) {
            throw e;
        } catch (IOException | RuntimeException e) {
            throw new BadInput(path.getFileName() + " is not a Radiance HDR picture that can be read", e);
        } finally {
            reader.dispose();
        }
    }
}
