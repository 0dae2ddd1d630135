package dasein.core.format;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.image.Room;
import java.awt.image.BufferedImage;
import java.awt.image.ComponentSampleModel;
import java.awt.image.DataBuffer;
import java.awt.image.DataBufferByte;
import java.awt.image.DataBufferUShort;
import java.awt.image.Raster;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Iterator;
import javax.imageio.IIOImage;
import javax.imageio.ImageIO;
import javax.imageio.ImageReader;
import javax.imageio.ImageWriteParam;
import javax.imageio.ImageWriter;
import javax.imageio.stream.ImageInputStream;

/**
 * Still pictures: PNG and TIFF (8 and 16 bit, float), JPEG, DPX, EXR and Radiance HDR to scene-linear float, and some
 * of them back.
 */
public final class Stills {
    private static final long MAX_PIXELS = 1L << 28;
    /** Of a pixel while it is read: three floats, and codes of up to 16 bit with alpha. */
    private static final int BYTES = 20;

    static {
        ImageIO.setUseCache(false);
    }

    private Stills() {}

    /**
     * Reads any supported still. EXR and HDR are linear whatever the curve of {@code encoding}; its primaries count.
     */
    public static Image read(Path path, Encoding encoding) {
        String n = path.getFileName().toString().toLowerCase(java.util.Locale.ROOT);
        if (n.endsWith(".exr") || n.endsWith(".hdr")) {
            Image im = n.endsWith(".exr") ? Exr.readColour(path) : Hdr.read(path);
            return encoding.linear() ? encoding.primaries.intoRec709(im) : im;
        }
        if (n.endsWith(".dpx")) {
            try (MovieReader r = new MovieReader(path)) {
                return r.read(0, encoding);
            }
        }
        return encoding.primaries.intoRec709(withReader(path, r -> {
            try (Room room = Room.take(path.getFileName().toString(), r.getWidth(0), r.getHeight(0), BYTES)) {
                return fromBuffered(r.read(0), encoding);
            }
        }));
    }

    /** Width and height, from the head of the file. */
    public static int[] size(Path path) {
        String n = path.getFileName().toString().toLowerCase(java.util.Locale.ROOT);
        if (n.endsWith(".exr")) return Exr.size(path);
        if (n.endsWith(".dpx")) {
            try (MovieReader r = new MovieReader(path)) {
                return new int[] {r.width, r.height};
            }
        }
        return withReader(path, r -> new int[] {r.getWidth(0), r.getHeight(0)});
    }

    /** Width of a pixel over its height as the file says; 1 where it does not. */
    public static double aspect(Path path) {
        return path.getFileName().toString().toLowerCase(java.util.Locale.ROOT).endsWith(".exr") ? Exr.aspect(path) : 1;
    }

    private interface Use<T> {
        T of(ImageReader r) throws IOException;
    }

    private static <T> T withReader(Path path, Use<T> use) {
        try (ImageInputStream in = ImageIO.createImageInputStream(path.toFile())) {
            Iterator<ImageReader> readers = in == null ? null : ImageIO.getImageReaders(in);
            if (readers == null || !readers.hasNext())
                throw new BadInput(path.getFileName() + " is not a picture that can be read");
            ImageReader reader = readers.next();
            try {
                reader.setInput(in, true, true);
                if ((long) reader.getWidth(0) * reader.getHeight(0) > MAX_PIXELS) {
                    throw new BadInput(
                            path.getFileName() + " is too large: " + reader.getWidth(0) + " x " + reader.getHeight(0));
                }
                return use.of(reader);
            } finally {
                reader.dispose();
            }
        } catch (BadInput e) {
            throw e;
        } catch (IOException | RuntimeException e) {
            // Readers meet damaged files with exceptions of many kinds.
            throw new BadInput(path.getFileName() + " is damaged or cut short", e);
        }
    }

    /** As it is stored, 8 bit and with its alpha where it has any. @throws BadInput with what is wrong with it */
    public static BufferedImage buffered(Path path) {
        return withReader(path, r -> {
            try (Room room = Room.take(path.getFileName().toString(), r.getWidth(0), r.getHeight(0), 12)) {
                return r.read(0);
            }
        });
    }

    public static Image fromBuffered(BufferedImage bi, Encoding encoding) {
        int w = bi.getWidth(), h = bi.getHeight();
        Raster raster = bi.getRaster();
        int bands = raster.getNumBands();
        boolean indexed = bi.getColorModel() instanceof java.awt.image.IndexColorModel;
        boolean ushort = raster.getDataBuffer().getDataType() == DataBuffer.TYPE_USHORT
                && !indexed
                && bi.getType() != BufferedImage.TYPE_USHORT_565_RGB
                && bi.getType() != BufferedImage.TYPE_USHORT_555_RGB;
        Image out = new Image(w, h, 3);
        if (raster.getDataBuffer().getDataType() == DataBuffer.TYPE_FLOAT) {
            float[] px = new float[w * bands];
            for (int y = 0; y < h; y++) {
                raster.getPixels(0, y, w, 1, px);
                // Float pictures hold light, not codes.
                for (int x = 0; x < w; x++)
                    for (int c = 0; c < 3; c++) out.planes[c][y * w + x] = px[x * bands + (bands < 3 ? 0 : c)];
            }
            return out;
        }
        if (ushort && raster.getSampleModel() instanceof ComponentSampleModel) {
            int[] px = new int[w * bands];
            for (int y = 0; y < h; y++) {
                raster.getPixels(0, y, w, 1, px);
                for (int x = 0; x < w; x++)
                    for (int c = 0; c < 3; c++)
                        out.planes[c][y * w + x] = encoding.decode16(px[x * bands + (bands < 3 ? 0 : c)]);
            }
        } else if (raster.getNumBands() == 1 && !indexed && raster.getDataBuffer() instanceof DataBufferByte) {
            // Read grey codes as they are: getRGB would pass them through a colour conversion of its own.
            int[] px = new int[w];
            for (int y = 0; y < h; y++) {
                raster.getPixels(0, y, w, 1, px);
                for (int x = 0; x < w; x++)
                    for (int c = 0; c < 3; c++) out.planes[c][y * w + x] = encoding.decode8(px[x]);
            }
        } else {
            int[] px = new int[w];
            for (int y = 0; y < h; y++) {
                bi.getRGB(0, y, w, 1, px, 0, w);
                for (int x = 0; x < w; x++) {
                    int p = px[x], i = y * w + x;
                    out.planes[0][i] = encoding.decode8(p >> 16 & 0xff);
                    out.planes[1][i] = encoding.decode8(p >> 8 & 0xff);
                    out.planes[2][i] = encoding.decode8(p & 0xff);
                }
            }
        }
        return out;
    }

    /** 8-bit RGB picture of a scene-linear image. */
    public static BufferedImage toBuffered(Image scene, Encoding encoding) {
        Image im = scene.channels() < 3 ? scene : encoding.primaries.outOfRec709(scene);
        // In bytes: the library packs these sooner than whole numbers.
        BufferedImage bi = new BufferedImage(im.width, im.height, BufferedImage.TYPE_3BYTE_BGR);
        byte[] px = ((DataBufferByte) bi.getRaster().getDataBuffer()).getData();
        Image.bands(im.height, (from, to) -> {
            int[] code = new int[im.width];
            for (int c = 0; c < 3; c++) {
                float[] plane = im.planes[im.channels() < 3 ? 0 : c];
                for (int y = from; y < to; y++) {
                    encoding.encode8(plane, y * im.width, code);
                    for (int x = 0, o = 3 * y * im.width + 2 - c; x < im.width; x++, o += 3) px[o] = (byte) code[x];
                }
            }
        });
        return bi;
    }

    public static void writePng(Path path, Image im, Encoding encoding) {
        SafeWrite.to(path, tmp -> ImageIO.write(toBuffered(im, encoding), "png", tmp.toFile()));
    }

    /** 16-bit RGB PNG. */
    public static void writePng16(Path path, Image scene, Encoding encoding) {
        write16(path, scene, encoding, "png");
    }

    /** 16-bit RGB TIFF. */
    public static void writeTiff16(Path path, Image scene, Encoding encoding) {
        write16(path, scene, encoding, "tiff");
    }

    private static void write16(Path path, Image scene, Encoding encoding, String kind) {
        Image im = encoding.primaries.outOfRec709(scene);
        java.awt.image.ComponentColorModel model = new java.awt.image.ComponentColorModel(
                java.awt.color.ColorSpace.getInstance(java.awt.color.ColorSpace.CS_sRGB),
                false,
                false,
                java.awt.Transparency.OPAQUE,
                DataBuffer.TYPE_USHORT);
        java.awt.image.WritableRaster raster = model.createCompatibleWritableRaster(im.width, im.height);
        short[] d = ((DataBufferUShort) raster.getDataBuffer()).getData();
        for (int i = 0; i < im.width * im.height; i++)
            for (int c = 0; c < 3; c++) d[3 * i + c] = (short) encoding.encode16(im.planes[c][i]);
        BufferedImage bi = new BufferedImage(model, raster, false, null);
        SafeWrite.to(path, tmp -> ImageIO.write(bi, kind, tmp.toFile()));
    }

    public static void writeJpeg(Path path, BufferedImage bi, float quality) {
        SafeWrite.to(path, tmp -> {
            try (OutputStream out = Files.newOutputStream(tmp)) {
                writeJpeg(out, bi, quality);
            }
        });
    }

    public static void writeJpeg(OutputStream out, BufferedImage bi, float quality) throws IOException {
        ImageWriter w = ImageIO.getImageWritersByFormatName("jpeg").next();
        ImageWriteParam p = w.getDefaultWriteParam();
        p.setCompressionMode(ImageWriteParam.MODE_EXPLICIT);
        p.setCompressionQuality(quality);
        try (var stream = ImageIO.createImageOutputStream(out)) {
            w.setOutput(stream);
            w.write(null, new IIOImage(bi, null, null), p);
        } finally {
            w.dispose();
        }
    }
}
