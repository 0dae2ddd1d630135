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
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
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
import org.bytedeco.ffmpeg.avutil.AVFrameSideData;
import org.bytedeco.ffmpeg.avutil.AVPixFmtDescriptor;
import org.bytedeco.ffmpeg.avutil.AVRational;
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

    static final String CONTAINERS =
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
    private MoviePixels pixels;
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
        pixels = new MoviePixels(frame, storedWidth, storedHeight, name);
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
        show(index);
        Image im = encoding.primaries.intoRec709(pixels.image(encoding));
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
        show(index);
        return facts.turn() == 0 ? pixels.half() : null;
    }

    /** Luma codes of a frame scaled to 0..255, row by row; null when the file's layout keeps no luma apart. */
    public float[] luma(int index) {
        show(index);
        float[] out = pixels.luma();
        return out == null || facts.turn() == 0 ? out : turned(out);
    }

    /**
     * How coarsely a frame was coded: the mean step of its quantiser in codes of its samples' depth, as its decoder
     * tells it; no number where it does not. ITU-T H.264, 8.5.9: the step of parameter 4 is 1 and doubles with every 6.
     */
    public double quantiser(int index) {
        if (!codec.equals("h264")) return Double.NaN;
        if ((decoder.export_side_data() & AV_CODEC_EXPORT_DATA_VIDEO_ENC_PARAMS) == 0) {
            decoder.export_side_data(decoder.export_side_data() | AV_CODEC_EXPORT_DATA_VIDEO_ENC_PARAMS);
            // The one that is there was decoded without.
            next = -1;
        }
        show(index);
        AVFrameSideData told = av_frame_get_side_data(frame, AV_FRAME_DATA_VIDEO_ENC_PARAMS);
        if (told == null || told.isNull()) return Double.NaN;
        // struct AVVideoEncParams: count, offset and size of its blocks, kind, parameter of the frame; then the blocks,
        // each with place, size and what is added to the parameter there.
        ByteBuffer b = told.data().capacity(told.size()).asByteBuffer().order(ByteOrder.nativeOrder());
        int count = b.getInt(0), at = (int) b.getLong(8), size = (int) b.getLong(16), whole = b.getInt(28);
        double sum = 0, surface = 0;
        for (int k = 0; k < count; k++) {
            int o = at + k * size;
            if (o < 0 || o + 20 > b.capacity()) return Double.NaN;
            double here = (double) b.getInt(o + 8) * b.getInt(o + 12);
            sum += here * b.getInt(o + 16);
            surface += here;
        }
        double parameter = whole + (surface > 0 ? sum / surface : 0);
        return Math.pow(2, (parameter - 4) / 6);
    }

    /** How much of a frame covers, 0 to 1, row by row; null when the movie has no alpha. */
    public float[] alpha(int index) {
        show(index);
        float[] out = pixels.alpha();
        return out == null || facts.turn() == 0 ? out : turned(out);
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

    /** Decodes a frame, whose picture is of the movie's size. */
    private void show(int index) {
        decode(index);
        if (frame.width() != storedWidth || frame.height() != storedHeight) {
            throw new BadInput(
                    path.getFileName() + " changes its picture size on the way; cut it into one file a size");
        }
    }

    @Override
    public void close() {
        if (pixels != null) pixels.close();
        if (decoder != null && !decoder.isNull()) avcodec_free_context(decoder);
        av_frame_free(frame);
        av_packet_free(packet);
        if (!format.isNull()) avformat_close_input(format);
    }
}
