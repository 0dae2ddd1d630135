package dasein.core.format;

import static org.bytedeco.ffmpeg.global.avcodec.*;
import static org.bytedeco.ffmpeg.global.avformat.*;
import static org.bytedeco.ffmpeg.global.avutil.*;

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
 * H.264 in MP4: 8-bit 4:2:0, BT.709 matrix and limited range, tagged so. Colour samples stand for two by two pixels, so
 * the movie's sides are even: of a picture with an odd one the last row or column comes twice. Not thread-safe.
 */
public final class MovieWriter implements AutoCloseable {
    /** Of the movie; {@code shown} is that of its pictures. */
    private final int width, height, shownWidth, shownHeight;

    private final Encoding encoding;
    private final AVFormatContext format = new AVFormatContext(null);
    private final AVCodecContext encoder;
    private final AVStream stream;
    private final AVFrame frame = av_frame_alloc();
    private final AVPacket packet = av_packet_alloc();
    private final byte[] luma;
    private final byte[][] chroma;
    private long count;
    private boolean finished;

    static {
        av_log_set_level(AV_LOG_QUIET);
    }

    public MovieWriter(
            Path path, int width, int height, int rateNum, int rateDen, Encoding encoding, long bitsPerSecond) {
        shownWidth = width;
        shownHeight = height;
        this.width = width += width % 2;
        this.height = height += height % 2;
        this.encoding = encoding;
        luma = new byte[width * height];
        chroma = new byte[2][width * height / 4];
        check(avformat_alloc_output_context2(format, null, "mp4", path.toString()));
        AVCodec c = avcodec_find_encoder(AV_CODEC_ID_H264);
        encoder = avcodec_alloc_context3(c);
        AVRational base = new AVRational().num(rateDen).den(rateNum);
        encoder.width(width)
                .height(height)
                .pix_fmt(AV_PIX_FMT_YUV420P)
                .time_base(base)
                .bit_rate(bitsPerSecond)
                .gop_size(12)
                .max_b_frames(0);
        encoder.framerate(new AVRational().num(rateNum).den(rateDen));
        encoder.colorspace(AVCOL_SPC_BT709)
                .color_primaries(AVCOL_PRI_BT709)
                .color_trc(AVCOL_TRC_BT709)
                .color_range(AVCOL_RANGE_MPEG);
        encoder.rc_max_rate(bitsPerSecond * 2);
        encoder.thread_count(1);
        if ((format.oformat().flags() & AVFMT_GLOBALHEADER) != 0)
            encoder.flags(encoder.flags() | AV_CODEC_FLAG_GLOBAL_HEADER);
        AVDictionary options = new AVDictionary(null);
        av_dict_set(options, "rc_mode", "bitrate", 0);
        av_dict_set(options, "allow_skip_frames", "0", 0);
        check(avcodec_open2(encoder, c, options));
        av_dict_free(options);
        stream = avformat_new_stream(format, c);
        stream.time_base(base);
        stream.avg_frame_rate(encoder.framerate());
        check(avcodec_parameters_from_context(stream.codecpar(), encoder));
        AVIOContext io = new AVIOContext(null);
        check(avio_open(io, path.toString(), AVIO_FLAG_WRITE));
        format.pb(io);
        AVDictionary mux = new AVDictionary(null);
        av_dict_set(mux, "movflags", "+faststart", 0);
        check(avformat_write_header(format, mux));
        av_dict_free(mux);
        frame.width(width).height(height).format(AV_PIX_FMT_YUV420P);
        frame.colorspace(AVCOL_SPC_BT709).color_range(AVCOL_RANGE_MPEG);
        check(av_frame_get_buffer(frame, 0));
    }

    /** Appends a scene-linear RGB frame. */
    public void write(Image image) {
        if (image.width != shownWidth || image.height != shownHeight)
            throw new IllegalArgumentException("frame of another size");
        toYuv(even(image));
        check(av_frame_make_writable(frame));
        put(0, luma, width, height);
        put(1, chroma[0], width / 2, height / 2);
        put(2, chroma[1], width / 2, height / 2);
        frame.pts(count++);
        check(avcodec_send_frame(encoder, frame));
        drain();
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

    /** 8-bit codes, what a still of the same frame would show, as brightness and two colour differences. */
    private void toYuv(Image im) {
        float kr = 0.2126f,
                kb = 0.0722f,
                kg = 1 - kr - kb,
                u = 224 / 255f / (2 * (1 - kb)),
                v = 224 / 255f / (2 * (1 - kr));
        Image.bands(height / 2, (from, to) -> {
            int[][] code = new int[3][width];
            float[][] blue = new float[2][width], red = new float[2][width];
            for (int pair = from; pair < to; pair++) {
                for (int k = 0; k < 2; k++) {
                    int first = (2 * pair + k) * width;
                    for (int c = 0; c < 3; c++) encoding.encode8(im.planes[c], first, code[c]);
                    for (int x = 0; x < width; x++) {
                        float l = kr * code[0][x] + kg * code[1][x] + kb * code[2][x];
                        luma[first + x] = (byte) (int) (16.5f + 219 / 255f * l);
                        blue[k][x] = u * (code[2][x] - l);
                        red[k][x] = v * (code[0][x] - l);
                    }
                }
                mean(blue, chroma[0], pair * width / 2);
                mean(red, chroma[1], pair * width / 2);
            }
        });
    }

    /** Colour sits at the left of two pixels: 1-2-1 across, the mean of two rows. */
    private void mean(float[][] s, byte[] out, int at) {
        for (int x = 0; x < width; x += 2) {
            int l = Math.max(x - 1, 0), n = x + 1;
            float v = (s[0][l] + 2 * s[0][x] + s[0][n] + s[1][l] + 2 * s[1][x] + s[1][n]) / 8;
            out[at + x / 2] = (byte) (int) (128.5f + v);
        }
    }

    private void put(int k, byte[] data, int w, int h) {
        BytePointer p = frame.data(k);
        for (int y = 0; y < h; y++) p.position((long) y * frame.linesize(k)).put(data, y * w, w);
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

    private static void check(int code) {
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
        check(av_write_trailer(format));
        check(avio_closep(format.pb()));
        finished = true;
    }

    /** Lets go of everything; a file that was not {@link #finish finished} is left cut short. */
    @Override
    public void close() {
        if (!finished) avio_closep(format.pb());
        avcodec_free_context(encoder);
        av_frame_free(frame);
        av_packet_free(packet);
        avformat_free_context(format);
    }
}
