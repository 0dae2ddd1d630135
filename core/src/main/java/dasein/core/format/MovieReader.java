package dasein.core.format;

import static org.bytedeco.ffmpeg.global.avcodec.*;
import static org.bytedeco.ffmpeg.global.avformat.*;
import static org.bytedeco.ffmpeg.global.avutil.*;
import static org.bytedeco.ffmpeg.global.swscale.*;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.image.Room;
import java.awt.image.BufferedImage;
import java.awt.image.DataBufferInt;
import java.nio.file.Path;
import java.util.Arrays;
import org.bytedeco.ffmpeg.avcodec.AVCodec;
import org.bytedeco.ffmpeg.avcodec.AVCodecContext;
import org.bytedeco.ffmpeg.avcodec.AVPacket;
import org.bytedeco.ffmpeg.avcodec.AVPacketSideData;
import org.bytedeco.ffmpeg.avformat.AVFormatContext;
import org.bytedeco.ffmpeg.avformat.AVStream;
import org.bytedeco.ffmpeg.avutil.AVDictionary;
import org.bytedeco.ffmpeg.avutil.AVDictionaryEntry;
import org.bytedeco.ffmpeg.avutil.AVFrame;
import org.bytedeco.ffmpeg.avutil.AVPixFmtDescriptor;
import org.bytedeco.ffmpeg.avutil.AVRational;
import org.bytedeco.ffmpeg.swscale.SwsContext;
import org.bytedeco.javacpp.BytePointer;
import org.bytedeco.javacpp.DoublePointer;
import org.bytedeco.javacpp.IntPointer;
import org.bytedeco.javacpp.PointerPointer;

/**
 * A movie file, frame by frame, exact. On opening, the packets are walked once (no decoding) for the true frame count
 * and the time stamps. 4:2:0 8-bit is turned into RGB with the file's own matrix and range, bilinear chroma; other
 * layouts go through swscale to 16-bit RGB with that same matrix. Not thread-safe.
 */
public final class MovieReader implements AutoCloseable {
    /** Larger pictures are refused before anything is allocated. */
    private static final int MAX_SIDE = 16384;

    private static final String CONTAINERS =
            "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mxf,mpegts,mpeg,mpegvideo,h264,hevc,m4v,flv,asf,ogg,dv,gxf,nut,"
                    + "ivf,yuv4mpegpipe,gif,dpx_pipe";

    public final int width;
    public final int height;
    /** Frames per second as a fraction. */
    public final int rateNum;

    public final int rateDen;
    public final int frameCount;
    public final String codec;
    public final MovieFacts facts;
    /** Size as stored, before the rotation flag. */
    private final int storedWidth;

    private final int storedHeight;
    private final AVFormatContext format = new AVFormatContext(null);
    private AVCodecContext decoder;
    private final AVPacket packet = av_packet_alloc();
    private final AVFrame frame = av_frame_alloc();
    private final int stream;
    private final long[] pts;
    private final Path path;
    private SwsContext scaler, clearing;
    private AVFrame rgb, rgba;
    private int next;
    private boolean draining;

    static {
        av_log_set_level(AV_LOG_QUIET);
    }

    public MovieReader(Path path) {
        this.path = path;
        String name = path.getFileName().toString();
        AVDictionary options = new AVDictionary(null);
        // A playlist names other files, of this machine or of the network: it is none of these kinds, which hold all
        // that they show.
        av_dict_set(options, "protocol_whitelist", "file", 0);
        av_dict_set(options, "format_whitelist", CONTAINERS, 0);
        int opened = avformat_open_input(format, path.toString(), null, options);
        av_dict_free(options);
        if (opened < 0 || avformat_find_stream_info(format, (PointerPointer<?>) null) < 0) {
            close();
            throw new BadInput(
                    name + " is not a movie that can be read; it may be another kind of file or be cut short");
        }
        stream = av_find_best_stream(format, AVMEDIA_TYPE_VIDEO, -1, -1, (AVCodec) null, 0);
        if (stream < 0) {
            close();
            throw new BadInput(name + " holds no moving picture");
        }
        AVStream s = format.streams(stream);
        storedWidth = s.codecpar().width();
        storedHeight = s.codecpar().height();
        int turn = turn(s);
        width = turn % 2 == 0 ? storedWidth : storedHeight;
        height = turn % 2 == 0 ? storedHeight : storedWidth;
        if (width < 16 || height < 16 || width > MAX_SIDE || height > MAX_SIDE) {
            close();
            throw new BadInput(name + " says it is " + width + " x " + height + " pixels; between 16 and " + MAX_SIDE
                    + " can be read");
        }
        try {
            // Codes of 16 bit beside three floats.
            Room.ask(name, width, height, 18);
        } catch (BadInput e) {
            close();
            throw e;
        }
        AVRational r = s.avg_frame_rate().num() > 0 ? s.avg_frame_rate() : s.r_frame_rate();
        AVCodec c = decoder(s);
        codec = c == null || c.isNull() ? "unknown" : c.name().getString();
        if (c == null || c.isNull() || r.num() <= 0) {
            close();
            throw new BadInput(name + " uses a coding that cannot be read here");
        }
        rateNum = r.num();
        rateDen = r.den();
        try {
            openDecoder(c);
            pts = walkPackets();
        } catch (BadInput e) {
            close();
            throw e;
        }
        frameCount = pts.length;
        if (frameCount == 0) {
            close();
            throw new BadInput(name + " holds no frames; the file may be cut short");
        }
        long promised = s.nb_frames();
        if (promised > frameCount) {
            close();
            throw new BadInput(name + " is cut short: it promises " + promised + " frames, but only " + frameCount
                    + " are there; copy it again");
        }
        facts = facts(s, turn);
        seek(0);
    }

    /** The usual one; where the file says that alpha lies beside the picture, one that reads it. */
    private static AVCodec decoder(AVStream s) {
        int id = s.codecpar().codec_id();
        AVDictionaryEntry alpha = av_dict_get(s.metadata(), "alpha_mode", null, 0);
        if (alpha != null
                && !alpha.isNull()
                && alpha.value().getString().equals("1")
                && (id == AV_CODEC_ID_VP8 || id == AV_CODEC_ID_VP9)) {
            AVCodec with = avcodec_find_decoder_by_name(id == AV_CODEC_ID_VP8 ? "libvpx" : "libvpx-vp9");
            if (with != null && !with.isNull()) return with;
        }
        return avcodec_find_decoder(id);
    }

    /** Quarter turns clockwise that the file's display matrix asks for. */
    private static int turn(AVStream s) {
        AVPacketSideData d = av_packet_side_data_get(
                s.codecpar().coded_side_data(), s.codecpar().nb_coded_side_data(), AV_PKT_DATA_DISPLAYMATRIX);
        if (d == null || d.isNull()) return 0;
        double degrees = av_display_rotation_get(new IntPointer(d.data()));
        return Double.isNaN(degrees) ? 0 : Math.floorMod((int) Math.round(-degrees / 90), 4);
    }

    private MovieFacts facts(AVStream s, int turn) {
        AVRational sar = s.codecpar().sample_aspect_ratio().num() > 0
                ? s.codecpar().sample_aspect_ratio()
                : s.sample_aspect_ratio();
        boolean square = sar.num() <= 0 || sar.den() <= 0;
        int order = s.codecpar().field_order();
        AVDictionaryEntry tc = av_dict_get(s.metadata(), "timecode", null, 0);
        if (tc == null || tc.isNull()) tc = av_dict_get(format.metadata(), "timecode", null, 0);
        AVPixFmtDescriptor d = av_pix_fmt_desc_get(s.codecpar().format());
        boolean known = d != null && !d.isNull();
        return new MovieFacts(
                turn,
                square ? 1 : sar.num(),
                square ? 1 : sar.den(),
                order > AV_FIELD_PROGRESSIVE,
                tc == null || tc.isNull() ? "" : tc.value().getString(),
                uneven(s),
                known ? d.comp(0).depth() : 8,
                known ? d.name().getString() : "unknown");
    }

    /** Frames whose time differs from the rate's by more than half a frame, against the frame before. */
    private java.util.List<Integer> uneven(AVStream s) {
        double step =
                (double) rateDen / rateNum * s.time_base().den() / s.time_base().num();
        java.util.List<Integer> out = new java.util.ArrayList<>();
        for (int i = 1; i < pts.length; i++)
            if (pts[i] != AV_NOPTS_VALUE
                    && pts[i - 1] != AV_NOPTS_VALUE
                    && Math.abs(pts[i] - pts[i - 1] - step) > 0.5 * step + 1) out.add(i);
        return out;
    }

    private void openDecoder(AVCodec c) {
        decoder = avcodec_alloc_context3(c);
        avcodec_parameters_to_context(decoder, format.streams(stream).codecpar());
        decoder.thread_count(2);
        decoder.thread_type(AVCodecContext.FF_THREAD_SLICE);
        if (avcodec_open2(decoder, c, (AVDictionary) null) < 0)
            throw new BadInput(path.getFileName() + " cannot be decoded");
    }

    private long[] walkPackets() {
        long[] found = new long[256];
        int n = 0;
        while (av_read_frame(format, packet) >= 0) {
            if (packet.stream_index() == stream && (packet.flags() & AV_PKT_FLAG_DISCARD) == 0) {
                if (n == found.length) found = Arrays.copyOf(found, 2 * n);
                found[n++] = packet.pts() != AV_NOPTS_VALUE ? packet.pts() : packet.dts();
            }
            av_packet_unref(packet);
        }
        long[] all = Arrays.copyOf(found, n);
        Arrays.sort(all);
        return all;
    }

    private void seek(int index) {
        av_seek_frame(format, stream, pts[index], AVSEEK_FLAG_BACKWARD);
        avcodec_flush_buffers(decoder);
        draining = false;
        next = -1;
    }

    /** When a frame begins, seconds from the first. */
    public double seconds(int index) {
        AVRational b = format.streams(stream).time_base();
        return pts[index] == AV_NOPTS_VALUE || pts[0] == AV_NOPTS_VALUE
                ? index * (double) rateDen / rateNum
                : (pts[index] - pts[0]) * (double) b.num() / b.den();
    }

    /** How long the whole lasts, seconds; the last frame stands as long as the rate says. */
    public double length() {
        return seconds(frameCount - 1) + (double) rateDen / rateNum;
    }

    /** Frame by its place in the file, from 0, as scene-linear RGB by the given encoding. */
    public Image read(int index, Encoding encoding) {
        decode(index);
        Image im = encoding.primaries.intoRec709(convert(encoding));
        if (facts.turn() == 0) return im;
        float[][] planes = new float[3][];
        for (int c = 0; c < 3; c++) planes[c] = turned(im.planes[c]);
        return new Image(width, height, planes);
    }

    /**
     * A frame in half size as 8-bit codes for looking at, without the way over light; null when the file's layout has
     * no such short way. Colour samples are taken as they are, one for each pixel.
     */
    public BufferedImage half(int index) {
        decode(index);
        checkSize();
        int f = frame.format();
        if (f != AV_PIX_FMT_YUV420P && f != AV_PIX_FMT_YUVJ420P || facts.turn() != 0) return null;
        int cw = (storedWidth + 1) / 2, ch = (storedHeight + 1) / 2, w = storedWidth / 2, h = storedHeight / 2;
        byte[] yy = plane(0, storedWidth, storedHeight), uu = plane(1, cw, ch), vv = plane(2, cw, ch);
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
            for (int x = 0, i = 2 * y * storedWidth, c = y * cw, o = y * w; x < w; x++, i += 2, c++, o++) {
                float l = ((yy[i] & 0xff)
                                + (yy[i + 1] & 0xff)
                                + (yy[i + storedWidth] & 0xff)
                                + (yy[i + storedWidth + 1] & 0xff)
                                - yo)
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
    public float[] luma(int index) {
        decode(index);
        checkSize();
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
        float[] out = new float[storedWidth * storedHeight];
        int bytes = depth > 8 ? 2 : 1, stride = frame.linesize(0);
        float scale = 255f / ((1 << depth) - 1);
        BytePointer p = frame.data(0);
        java.nio.ByteBuffer all =
                p.capacity((long) stride * storedHeight).asByteBuffer().order(java.nio.ByteOrder.LITTLE_ENDIAN);
        byte[] row = new byte[storedWidth * bytes];
        for (int y = 0, o = 0; y < storedHeight; y++) {
            all.position(y * stride);
            all.get(row);
            if (bytes == 1) for (int x = 0; x < storedWidth; x++, o++) out[o] = row[x] & 0xff;
            else
                for (int x = 0; x < storedWidth; x++, o++)
                    out[o] = scale * ((row[2 * x] & 0xff) | (row[2 * x + 1] & 0xff) << 8);
        }
        return facts.turn() == 0 ? out : turned(out);
    }

    /** How much of a frame covers, 0 to 1, row by row; null when the movie has no alpha. */
    public float[] alpha(int index) {
        decode(index);
        checkSize();
        AVPixFmtDescriptor d = av_pix_fmt_desc_get(frame.format());
        if ((d.flags() & AV_PIX_FMT_FLAG_ALPHA) == 0) return null;
        if (clearing == null) {
            clearing = sws_getContext(
                    storedWidth,
                    storedHeight,
                    frame.format(),
                    storedWidth,
                    storedHeight,
                    AV_PIX_FMT_RGBA64LE,
                    SWS_POINT,
                    null,
                    null,
                    (DoublePointer) null);
            if (clearing == null) return null;
            rgba = blank(AV_PIX_FMT_RGBA64LE);
        }
        sws_scale(clearing, frame.data(), frame.linesize(), 0, storedHeight, rgba.data(), rgba.linesize());
        float[] out = new float[storedWidth * storedHeight];
        byte[] row = new byte[storedWidth * 8];
        BytePointer p = rgba.data(0);
        for (int y = 0, i = 0; y < storedHeight; y++) {
            p.position((long) y * rgba.linesize(0)).get(row);
            for (int x = 0; x < storedWidth; x++, i++)
                out[i] = ((row[8 * x + 6] & 0xff) | (row[8 * x + 7] & 0xff) << 8) / 65535f;
        }
        p.position(0);
        return facts.turn() == 0 ? out : turned(out);
    }

    /** To be scaled into. */
    private AVFrame blank(int layout) {
        AVFrame f = av_frame_alloc();
        f.width(storedWidth).height(storedHeight).format(layout);
        av_frame_get_buffer(f, 0);
        return f;
    }

    /** A stored plane turned upright. */
    private float[] turned(float[] s) {
        float[] d = new float[s.length];
        int w = storedWidth, h = storedHeight, t = facts.turn();
        for (int y = 0; y < h; y++) {
            for (int x = 0, i = y * w; x < w; x++, i++) {
                int o = t == 1 ? x * h + h - 1 - y : t == 2 ? (h - 1 - y) * w + w - 1 - x : (w - 1 - x) * h + y;
                d[o] = s[i];
            }
        }
        return d;
    }

    /** Decodes up to the wanted frame, which then is the present one. */
    private void decode(int index) {
        // The one decoded last is still there.
        if (next == index + 1) return;
        if (index < 0 || index >= frameCount) throw new BadInput(path.getFileName() + " has no frame " + index);
        // Decoding on is cheaper than seeking when the frame is near.
        if (next < 0 || index < next || index > next + 24) {
            if (!(next == index)) seek(index);
        }
        while (true) {
            if (!receive()) {
                throw new BadInput("frame " + (index + 1) + " of " + path.getFileName()
                        + " cannot be decoded; the file is damaged or cut short");
            }
            long t = frame.best_effort_timestamp();
            int at = Arrays.binarySearch(pts, t);
            if (at < 0) at = -at - 1;
            next = at + 1;
            if (at >= index) return;
        }
    }

    private boolean receive() {
        while (true) {
            int got = avcodec_receive_frame(decoder, frame);
            if (got >= 0) return true;
            if (draining) return false;
            int read = av_read_frame(format, packet);
            if (read < 0) {
                draining = true;
                avcodec_send_packet(decoder, (AVPacket) null);
            } else {
                if (packet.stream_index() == stream) avcodec_send_packet(decoder, packet);
                av_packet_unref(packet);
            }
        }
    }

    private void checkSize() {
        if (frame.width() != storedWidth || frame.height() != storedHeight) {
            throw new BadInput(
                    path.getFileName() + " changes its picture size on the way; cut it into one file a size");
        }
    }

    private Image convert(Encoding encoding) {
        checkSize();
        int f = frame.format();
        return f == AV_PIX_FMT_YUV420P || f == AV_PIX_FMT_YUVJ420P ? from420(encoding) : fromAny(encoding);
    }

    /**
     * Kr and Kb of the file's matrix; pictures that do not say are BT.709 from 720 lines up and BT.601 below (common
     * practice).
     */
    private double[] matrix() {
        int m = frame.colorspace();
        if (m == AVCOL_SPC_UNSPECIFIED) m = storedHeight >= 720 ? AVCOL_SPC_BT709 : AVCOL_SPC_SMPTE170M;
        if (m == AVCOL_SPC_BT709) return new double[] {0.2126, 0.0722};
        if (m == AVCOL_SPC_BT2020_NCL) return new double[] {0.2627, 0.0593};
        return new double[] {0.299, 0.114};
    }

    private boolean fullRange() {
        return frame.color_range() == AVCOL_RANGE_JPEG || frame.format() == AV_PIX_FMT_YUVJ420P;
    }

    private Image from420(Encoding encoding) {
        int cw = (storedWidth + 1) / 2, ch = (storedHeight + 1) / 2;
        byte[] yy = plane(0, storedWidth, storedHeight), uu = plane(1, cw, ch), vv = plane(2, cw, ch);
        double kr = matrix()[0], kb = matrix()[1], kg = 1 - kr - kb;
        boolean full = fullRange();
        float ys = full ? 1 / 255f : 1 / 219f, yo = full ? 0 : 16, cs = full ? 1 / 255f : 1 / 224f;
        float rv = (float) (2 * (1 - kr)), bu = (float) (2 * (1 - kb));
        float gu = (float) (-2 * (1 - kb) * kb / kg), gv = (float) (-2 * (1 - kr) * kr / kg);
        Image out = new Image(storedWidth, storedHeight, 3);
        float[] r = out.planes[0], g = out.planes[1], b = out.planes[2];
        float[] table = DecodeTable.of(encoding);
        Image.rows(storedHeight, y -> {
            // Chroma sits at the left luma column and midway between rows (MPEG-2 siting, the default of H.264).
            float fy = Math.min(Math.max((y - 0.5f) / 2, 0), ch - 1);
            int c0 = (int) fy, c1 = Math.min(c0 + 1, ch - 1);
            float wy = fy - c0;
            for (int x = 0; x < storedWidth; x++) {
                int x0 = x >> 1, x1 = (x & 1) == 0 ? x0 : Math.min(x0 + 1, cw - 1);
                float u = mix(uu, c0 * cw, c1 * cw, x0, x1, wy) * cs, v = mix(vv, c0 * cw, c1 * cw, x0, x1, wy) * cs;
                float l = ((yy[y * storedWidth + x] & 0xff) - yo) * ys;
                int i = y * storedWidth + x;
                r[i] = DecodeTable.get(table, l + rv * v);
                g[i] = DecodeTable.get(table, l + gu * u + gv * v);
                b[i] = DecodeTable.get(table, l + bu * u);
            }
        });
        return out;
    }

    private static float mix(byte[] p, int r0, int r1, int x0, int x1, float wy) {
        float top = 0.5f * ((p[r0 + x0] & 0xff) + (p[r0 + x1] & 0xff)),
                low = 0.5f * ((p[r1 + x0] & 0xff) + (p[r1 + x1] & 0xff));
        return top + (low - top) * wy - 128;
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
                    storedWidth,
                    storedHeight,
                    frame.format(),
                    storedWidth,
                    storedHeight,
                    AV_PIX_FMT_RGB48LE,
                    SWS_BILINEAR | SWS_FULL_CHR_H_INT | SWS_ACCURATE_RND,
                    null,
                    null,
                    (DoublePointer) null);
            if (scaler == null)
                throw new BadInput(path.getFileName() + " has a pixel layout that cannot be " + "read here");
            AVPixFmtDescriptor d = av_pix_fmt_desc_get(frame.format());
            if ((d.flags() & AV_PIX_FMT_FLAG_RGB) == 0) {
                double kr = matrix()[0];
                int m = kr == 0.2126 ? SWS_CS_ITU709 : kr == 0.2627 ? SWS_CS_BT2020 : SWS_CS_ITU601;
                IntPointer table = sws_getCoefficients(m);
                sws_setColorspaceDetails(scaler, table, fullRange() ? 1 : 0, table, 1, 0, 1 << 16, 1 << 16);
            }
            rgb = blank(AV_PIX_FMT_RGB48LE);
        }
        sws_scale(scaler, frame.data(), frame.linesize(), 0, storedHeight, rgb.data(), rgb.linesize());
        Image out = new Image(storedWidth, storedHeight, 3);
        byte[] row = new byte[storedWidth * 6];
        BytePointer p = rgb.data(0);
        for (int y = 0; y < storedHeight; y++) {
            p.position((long) y * rgb.linesize(0)).get(row);
            for (int x = 0, i = y * storedWidth, k = 0; x < storedWidth; x++, i++) {
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
        if (decoder != null && !decoder.isNull()) avcodec_free_context(decoder);
        av_frame_free(frame);
        av_packet_free(packet);
        if (!format.isNull()) avformat_close_input(format);
    }
}
