package dasein.core.format;

import static org.bytedeco.ffmpeg.global.avcodec.*;
import static org.bytedeco.ffmpeg.global.avformat.*;
import static org.bytedeco.ffmpeg.global.avutil.*;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.nio.file.Path;
import org.bytedeco.ffmpeg.avcodec.AVCodec;
import org.bytedeco.ffmpeg.avcodec.AVCodecContext;
import org.bytedeco.ffmpeg.avcodec.AVPacket;
import org.bytedeco.ffmpeg.avformat.AVFormatContext;
import org.bytedeco.ffmpeg.avformat.AVIOContext;
import org.bytedeco.ffmpeg.avformat.AVStream;
import org.bytedeco.ffmpeg.avutil.AVDictionary;
import org.bytedeco.ffmpeg.avutil.AVFrame;
import org.bytedeco.ffmpeg.avutil.AVRational;
import org.bytedeco.javacpp.BytePointer;

/**
 * Movies of all {@link MovieKind kinds}: BT.709 primaries, tagged so, with the curve of their encoding. Where colour is
 * sampled more coarsely than brightness the sides are even: of a picture with an odd one the last row or column comes
 * twice. Not thread-safe.
 */
public final class MovieWriter implements AutoCloseable {
    /** Of the movie; {@code shown} is that of its pictures. */
    private final int width, height, shownWidth, shownHeight;

    private final MovieKind kind;
    private final MoviePlanes planes;
    private final AVFormatContext format = new AVFormatContext(null);
    private final AVCodecContext encoder;
    private final AVStream stream;
    private final AVFrame frame = av_frame_alloc();
    private final AVPacket packet = av_packet_alloc();
    private final SoundWriter sound;
    private long count;
    private boolean finished;

    static {
        av_log_set_level(AV_LOG_QUIET);
    }

    /** H.264 without sound. */
    public MovieWriter(
            Path path, int width, int height, int rateNum, int rateDen, Encoding encoding, long bitsPerSecond) {
        this(path, new MovieSpec(MovieKind.H264, width, height, rateNum, rateDen, encoding, "", false), bitsPerSecond);
    }

    public MovieWriter(Path path, MovieSpec spec) {
        this(path, spec, spec.bitsPerSecond());
    }

    private MovieWriter(Path path, MovieSpec spec, long bitsPerSecond) {
        kind = spec.kind();
        shownWidth = spec.width();
        shownHeight = spec.height();
        if (shownWidth < kind.leastWidth() || shownHeight < kind.leastHeight())
            throw new BadInput(kind.label + " begins at " + kind.leastWidth() + " x " + kind.leastHeight()
                    + " pixels; this is " + shownWidth + " x " + shownHeight);
        width = kind.across() * ((shownWidth + kind.across() - 1) / kind.across());
        height = kind.down() * ((shownHeight + kind.down() - 1) / kind.down());
        planes = new MoviePlanes(kind, spec.encoding(), width, height);
        check(avformat_alloc_output_context2(format, null, kind.container, path.toString()));
        AVCodec c = avcodec_find_encoder_by_name(kind.codec);
        encoder = avcodec_alloc_context3(c);
        AVRational base = new AVRational().num(spec.rateDen()).den(spec.rateNum());
        encoder.width(width).height(height).pix_fmt(kind.pixels()).time_base(base);
        encoder.framerate(new AVRational().num(spec.rateNum()).den(spec.rateDen()));
        boolean rgb = kind.colour == MovieKind.Colour.RGB;
        encoder.colorspace(rgb ? AVCOL_SPC_RGB : AVCOL_SPC_BT709)
                .color_primaries(AVCOL_PRI_BT709)
                .color_trc(curve(spec.encoding()))
                .color_range(rgb ? AVCOL_RANGE_JPEG : AVCOL_RANGE_MPEG);
        if (kind.byRate()) {
            encoder.bit_rate(bitsPerSecond).gop_size(12).max_b_frames(0);
            encoder.rc_max_rate(bitsPerSecond * 2);
            encoder.thread_count(1);
        } else encoder.bit_rate(0).thread_count(2);
        if ((format.oformat().flags() & AVFMT_GLOBALHEADER) != 0)
            encoder.flags(encoder.flags() | AV_CODEC_FLAG_GLOBAL_HEADER);
        AVDictionary options = new AVDictionary(null);
        kind.options().forEach((k, v) -> av_dict_set(options, k, v, 0));
        check(avcodec_open2(encoder, c, options));
        av_dict_free(options);
        stream = avformat_new_stream(format, c);
        stream.time_base(base);
        stream.avg_frame_rate(encoder.framerate());
        check(avcodec_parameters_from_context(stream.codecpar(), encoder));
        sound = spec.sound() ? new SoundWriter(format, kind.sound) : null;
        AVIOContext io = new AVIOContext(null);
        check(avio_open(io, path.toString(), AVIO_FLAG_WRITE));
        format.pb(io);
        AVDictionary mux = new AVDictionary(null), said = new AVDictionary(null);
        if (kind.container.startsWith("m") && !kind.container.equals("matroska"))
            av_dict_set(mux, "movflags", "+faststart+write_colr", 0);
        if (!spec.timecode().isEmpty()) {
            av_dict_set(said, "timecode", spec.timecode(), 0);
            format.metadata(said);
            if (kind.container.equals("mp4")) av_dict_set(mux, "write_tmcd", "1", 0);
        }
        check(avformat_write_header(format, mux));
        av_dict_free(mux);
        frame.width(width).height(height).format(kind.pixels());
        frame.colorspace(encoder.colorspace()).color_range(encoder.color_range());
        check(av_frame_get_buffer(frame, 0));
    }

    private static int curve(Encoding e) {
        return switch (e) {
            case SRGB -> AVCOL_TRC_IEC61966_2_1;
            case GAMMA22 -> AVCOL_TRC_GAMMA22;
            default -> AVCOL_TRC_BT709;
        };
    }

    /** Appends a scene-linear RGB frame. */
    public void write(Image image) {
        if (image.width != shownWidth || image.height != shownHeight)
            throw new IllegalArgumentException("frame of another size");
        planes.set(even(image));
        check(av_frame_make_writable(frame));
        for (int k = 0; k < 3; k++) put(k);
        frame.pts(count++);
        check(avcodec_send_frame(encoder, frame));
        drain();
    }

    /** Appends what is heard, at {@link Sound#RATE}. @param both channels, of which {@code samples} count from there */
    public void write(float[][] both, int from, int samples) {
        if (sound != null) sound.write(both, from, samples);
    }

    private Image even(Image im) {
        if (im.width == width && im.height == height) return im;
        Image out = new Image(width, height, im.channels());
        for (int c = 0; c < im.channels(); c++)
            for (int y = 0; y < height; y++)
                for (int x = 0; x < width; x++)
                    out.planes[c][y * width + x] = im.get(Math.min(x, im.width - 1), Math.min(y, im.height - 1), c);
        return out;
    }

    private void put(int k) {
        BytePointer p = frame.data(k);
        int w = planes.wide[k], bytes = kind.bits == 8 ? 1 : 2;
        byte[] row = new byte[bytes * w];
        for (int y = 0; y < planes.high[k]; y++) {
            for (int x = 0, i = y * w; x < w; x++, i++) {
                short v = planes.codes[k][i];
                row[bytes * x] = (byte) v;
                if (bytes == 2) row[2 * x + 1] = (byte) (v >> 8);
            }
            p.position((long) y * frame.linesize(k)).put(row, 0, row.length);
        }
        p.position(0);
    }

    private void drain() {
        while (avcodec_receive_packet(encoder, packet) >= 0) {
            av_packet_rescale_ts(packet, encoder.time_base(), stream.time_base());
            packet.stream_index(0);
            packet.duration(av_rescale_q(1, encoder.time_base(), stream.time_base()));
            check(av_interleaved_write_frame(format, packet));
        }
    }

    static void check(int code) {
        if (code < 0) throw new IllegalStateException("the movie could not be written (library code " + code + ")");
    }

    /**
     * Writes what is still to come and the trailer. Without it the file is none: call it when all frames are written.
     *
     * @throws IllegalStateException when the trailer could not be written, for example on a full disk
     */
    public void finish() {
        check(avcodec_send_frame(encoder, (AVFrame) null));
        drain();
        if (sound != null) sound.finish();
        check(av_write_trailer(format));
        check(avio_closep(format.pb()));
        finished = true;
    }

    /** Lets go of everything; a file that was not {@link #finish finished} is left cut short. */
    @Override
    public void close() {
        if (!finished) avio_closep(format.pb());
        if (sound != null) sound.close();
        avcodec_free_context(encoder);
        av_frame_free(frame);
        av_packet_free(packet);
        avformat_free_context(format);
    }
}
