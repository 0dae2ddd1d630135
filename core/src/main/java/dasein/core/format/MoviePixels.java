package dasein.core.format;

import static org.bytedeco.ffmpeg.global.avcodec.*;
import static org.bytedeco.ffmpeg.global.avformat.*;
import static org.bytedeco.ffmpeg.global.avutil.*;
import static org.bytedeco.ffmpeg.global.swscale.*;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.awt.image.BufferedImage;
import java.awt.image.DataBufferInt;
import org.bytedeco.ffmpeg.avutil.AVFrame;
import org.bytedeco.ffmpeg.avutil.AVPixFmtDescriptor;
import org.bytedeco.ffmpeg.swscale.SwsContext;
import org.bytedeco.javacpp.BytePointer;
import org.bytedeco.javacpp.DoublePointer;
import org.bytedeco.javacpp.IntPointer;

/** The frame that was decoded last, as it is stored: as light, as codes for looking at, its brightness, its cover. */
final class MoviePixels implements AutoCloseable {
    private final AVFrame frame;
    private final int width, height;
    private final String name;
    private SwsContext scaler, clearing;
    private AVFrame rgb, rgba;

    /** @param frame into which frames are decoded; @param width as stored, and height; @param name of the file */
    MoviePixels(AVFrame frame, int width, int height, String name) {
        this.frame = frame;
        this.width = width;
        this.height = height;
        this.name = name;
    }

    /**
     * A frame in half size as 8-bit codes for looking at, without the way over light; null when the file's layout has
     * no such short way. Colour samples are taken as they are, one for each pixel.
     */
    BufferedImage half() {
        int f = frame.format();
        if (f != AV_PIX_FMT_YUV420P && f != AV_PIX_FMT_YUVJ420P) return null;
        int cw = (width + 1) / 2, ch = (height + 1) / 2, w = width / 2, h = height / 2;
        byte[] yy = plane(0, width, height), uu = plane(1, cw, ch), vv = plane(2, cw, ch);
        double kr = matrix()[0], kb = matrix()[1], kg = 1 - kr - kb;
        boolean full = fullRange();
        float ys = full ? 0.25f : 0.25f * 255 / 219,
                yo = full ? 0 : 64,
                cs = full ? 1 : 255f / 224,
                rv = (float) (2 * (1 - kr)) * cs,
                bu = (float) (2 * (1 - kb)) * cs;
        float gu = (float) (-2 * (1 - kb) * kb / kg) * cs, gv = (float) (-2 * (1 - kr) * kr / kg) * cs;
        BufferedImage bi = new BufferedImage(w, h, BufferedImage.TYPE_INT_RGB);
        int[] px = ((DataBufferInt) bi.getRaster().getDataBuffer()).getData();
        Image.rows(h, y -> {
            for (int x = 0, i = 2 * y * width, c = y * cw, o = y * w; x < w; x++, i += 2, c++, o++) {
                float l =
                        ((yy[i] & 0xff) + (yy[i + 1] & 0xff) + (yy[i + width] & 0xff) + (yy[i + width + 1] & 0xff) - yo)
                                * ys;
                float u = (uu[c] & 0xff) - 128, v = (vv[c] & 0xff) - 128;
                px[o] = code(l + rv * v) << 16 | code(l + gu * u + gv * v) << 8 | code(l + bu * u);
            }
        });
        return bi;
    }

    private static int code(float v) {
        return v <= 0 ? 0 : v >= 255 ? 255 : (int) (v + 0.5f);
    }

    /** Luma codes of a frame scaled to 0..255, row by row; null when the file's layout keeps no luma apart. */
    float[] luma() {
        AVPixFmtDescriptor d = av_pix_fmt_desc_get(frame.format());
        boolean planarLuma = (d.flags()
                                & (AV_PIX_FMT_FLAG_RGB
                                        | AV_PIX_FMT_FLAG_BE
                                        | AV_PIX_FMT_FLAG_PAL
                                        | AV_PIX_FMT_FLAG_FLOAT
                                        | AV_PIX_FMT_FLAG_BITSTREAM))
                        == 0
                && (d.flags() & AV_PIX_FMT_FLAG_PLANAR) != 0
                && d.comp(0).shift() == 0;
        int depth = d.comp(0).depth();
        if (!planarLuma || d.comp(0).step() != (depth > 8 ? 2 : 1)) return null;
        float[] out = new float[width * height];
        int bytes = depth > 8 ? 2 : 1, stride = frame.linesize(0);
        float scale = 255f / ((1 << depth) - 1);
        BytePointer p = frame.data(0);
        java.nio.ByteBuffer all =
                p.capacity((long) stride * height).asByteBuffer().order(java.nio.ByteOrder.LITTLE_ENDIAN);
        byte[] row = new byte[width * bytes];
        for (int y = 0, o = 0; y < height; y++) {
            all.position(y * stride);
            all.get(row);
            if (bytes == 1) for (int x = 0; x < width; x++, o++) out[o] = row[x] & 0xff;
            else
                for (int x = 0; x < width; x++, o++)
                    out[o] = scale * ((row[2 * x] & 0xff) | (row[2 * x + 1] & 0xff) << 8);
        }
        return out;
    }

    /** How much of a frame covers, 0 to 1, row by row; null when the movie has no alpha. */
    float[] alpha() {
        AVPixFmtDescriptor d = av_pix_fmt_desc_get(frame.format());
        if ((d.flags() & AV_PIX_FMT_FLAG_ALPHA) == 0) return null;
        if (clearing == null) {
            clearing = sws_getContext(
                    width,
                    height,
                    frame.format(),
                    width,
                    height,
                    AV_PIX_FMT_RGBA64LE,
                    SWS_POINT,
                    null,
                    null,
                    (DoublePointer) null);
            if (clearing == null) return null;
            rgba = blank(AV_PIX_FMT_RGBA64LE);
        }
        sws_scale(clearing, frame.data(), frame.linesize(), 0, height, rgba.data(), rgba.linesize());
        float[] out = new float[width * height];
        byte[] row = new byte[width * 8];
        BytePointer p = rgba.data(0);
        for (int y = 0, i = 0; y < height; y++) {
            p.position((long) y * rgba.linesize(0)).get(row);
            for (int x = 0; x < width; x++, i++)
                out[i] = ((row[8 * x + 6] & 0xff) | (row[8 * x + 7] & 0xff) << 8) / 65535f;
        }
        p.position(0);
        return out;
    }

    /** To be scaled into. */
    private AVFrame blank(int layout) {
        AVFrame f = av_frame_alloc();
        f.width(width).height(height).format(layout);
        av_frame_get_buffer(f, 0);
        return f;
    }

    /**
     * Kr and Kb of the file's matrix; pictures that do not say are BT.709 from 720 lines up and BT.601 below (common
     * practice).
     */
    private double[] matrix() {
        int m = frame.colorspace();
        if (m == AVCOL_SPC_UNSPECIFIED) m = height >= 720 ? AVCOL_SPC_BT709 : AVCOL_SPC_SMPTE170M;
        if (m == AVCOL_SPC_BT709) return new double[] {0.2126, 0.0722};
        if (m == AVCOL_SPC_BT2020_NCL) return new double[] {0.2627, 0.0593};
        return new double[] {0.299, 0.114};
    }

    private boolean fullRange() {
        return frame.color_range() == AVCOL_RANGE_JPEG || frame.format() == AV_PIX_FMT_YUVJ420P;
    }

    Image image(Encoding encoding) {
        int f = frame.format();
        return f == AV_PIX_FMT_YUV420P || f == AV_PIX_FMT_YUVJ420P ? from420(encoding) : fromAny(encoding);
    }

    private Image from420(Encoding encoding) {
        int cw = (width + 1) / 2, ch = (height + 1) / 2;
        byte[] yy = plane(0, width, height), uu = plane(1, cw, ch), vv = plane(2, cw, ch);
        double kr = matrix()[0], kb = matrix()[1], kg = 1 - kr - kb;
        boolean full = fullRange();
        float ys = full ? 1 / 255f : 1 / 219f, yo = full ? 0 : 16, cs = full ? 1 / 255f : 1 / 224f;
        float rv = (float) (2 * (1 - kr)), bu = (float) (2 * (1 - kb));
        float gu = (float) (-2 * (1 - kb) * kb / kg), gv = (float) (-2 * (1 - kr) * kr / kg);
        Image out = new Image(width, height, 3);
        float[] r = out.planes[0], g = out.planes[1], b = out.planes[2];
        float[] table = DecodeTable.of(encoding);
        Image.bands(height, (from, to) -> {
            float[] us = new float[width], vs = new float[width];
            for (int y = from; y < to; y++) {
                // Chroma sits at the left luma column and midway between rows (MPEG-2 siting, the default of H.264).
                float fy = Math.min(Math.max((y - 0.5f) / 2, 0), ch - 1);
                int c0 = (int) fy, c1 = Math.min(c0 + 1, ch - 1);
                between(uu, c0 * cw, c1 * cw, cw, fy - c0, cs, us);
                between(vv, c0 * cw, c1 * cw, cw, fy - c0, cs, vs);
                for (int x = 0, i = y * width; x < width; x++, i++) {
                    float u = us[x], v = vs[x], l = ((yy[i] & 0xff) - yo) * ys;
                    r[i] = DecodeTable.get(table, l + rv * v);
                    g[i] = DecodeTable.get(table, l + gu * u + gv * v);
                    b[i] = DecodeTable.get(table, l + bu * u);
                }
            }
        });
        return out;
    }

    /** Colour samples of a row of pixels, {@code w} of the way from one row of samples to the next. */
    private static void between(byte[] p, int r0, int r1, int samples, float w, float scale, float[] out) {
        float last = 0;
        for (int x = samples - 1; x >= 0; x--) {
            float top = p[r0 + x] & 0xff, low = p[r1 + x] & 0xff, v = (top + (low - top) * w - 128) * scale;
            out[2 * x] = v;
            if (2 * x + 1 < out.length) out[2 * x + 1] = x == samples - 1 ? v : 0.5f * (v + last);
            last = v;
        }
    }

    private byte[] plane(int k, int w, int h) {
        byte[] out = new byte[w * h];
        BytePointer p = frame.data(k);
        int stride = frame.linesize(k);
        for (int y = 0; y < h; y++) p.position((long) y * stride).get(out, y * w, w);
        p.position(0);
        return out;
    }

    private Image fromAny(Encoding encoding) {
        if (scaler == null) {
            scaler = sws_getContext(
                    width,
                    height,
                    frame.format(),
                    width,
                    height,
                    AV_PIX_FMT_RGB48LE,
                    SWS_BILINEAR | SWS_FULL_CHR_H_INT | SWS_ACCURATE_RND,
                    null,
                    null,
                    (DoublePointer) null);
            if (scaler == null) throw new BadInput(name + " has a pixel layout that cannot be " + "read here");
            AVPixFmtDescriptor d = av_pix_fmt_desc_get(frame.format());
            if ((d.flags() & AV_PIX_FMT_FLAG_RGB) == 0) {
                double kr = matrix()[0];
                int m = kr == 0.2126 ? SWS_CS_ITU709 : kr == 0.2627 ? SWS_CS_BT2020 : SWS_CS_ITU601;
                IntPointer table = sws_getCoefficients(m);
                sws_setColorspaceDetails(scaler, table, fullRange() ? 1 : 0, table, 1, 0, 1 << 16, 1 << 16);
            }
            rgb = blank(AV_PIX_FMT_RGB48LE);
        }
        sws_scale(scaler, frame.data(), frame.linesize(), 0, height, rgb.data(), rgb.linesize());
        Image out = new Image(width, height, 3);
        byte[] row = new byte[width * 6];
        BytePointer p = rgb.data(0);
        for (int y = 0; y < height; y++) {
            p.position((long) y * rgb.linesize(0)).get(row);
            for (int x = 0, i = y * width, k = 0; x < width; x++, i++) {
                for (int c = 0; c < 3; c++, k += 2) {
                    out.planes[c][i] = encoding.decode16((row[k] & 0xff) | (row[k + 1] & 0xff) << 8);
                }
            }
        }
        p.position(0);
        return out;
    }

    @Override
    public void close() {
        if (scaler != null) sws_freeContext(scaler);
        if (clearing != null) sws_freeContext(clearing);
        if (rgb != null) av_frame_free(rgb);
        if (rgba != null) av_frame_free(rgba);
    }
}
