package dasein.core.format;

import static dasein.core.format.MovieWriter.check;
import static org.bytedeco.ffmpeg.global.avcodec.*;
import static org.bytedeco.ffmpeg.global.avformat.*;
import static org.bytedeco.ffmpeg.global.avutil.*;
import static org.bytedeco.ffmpeg.global.swresample.*;

import org.bytedeco.ffmpeg.avcodec.AVCodec;
import org.bytedeco.ffmpeg.avcodec.AVCodecContext;
import org.bytedeco.ffmpeg.avcodec.AVPacket;
import org.bytedeco.ffmpeg.avformat.AVFormatContext;
import org.bytedeco.ffmpeg.avformat.AVStream;
import org.bytedeco.ffmpeg.avutil.AVChannelLayout;
import org.bytedeco.ffmpeg.avutil.AVFrame;
import org.bytedeco.ffmpeg.swresample.SwrContext;
import org.bytedeco.javacpp.FloatPointer;
import org.bytedeco.javacpp.PointerPointer;

/** The sound of a movie that is written: two channels at {@link Sound#RATE}. */
final class SoundWriter implements AutoCloseable {
    /** Of codings that take any number of samples at a time. */
    private static final int SOME = 1024;

    private static final long BITS_PER_SECOND = 192_000;

    private final AVFormatContext format;
    private final AVCodecContext encoder;
    private final AVStream stream;
    private final AVFrame frame = av_frame_alloc();
    private final AVPacket packet = av_packet_alloc();
    private final SwrContext convert = new SwrContext(null);
    private final FloatPointer[] in = new FloatPointer[2];
    private final float[][] waiting = new float[2][];
    private final int size;
    private int held;
    private long count;

    /** Adds a stream of sound, before the movie's head is written. */
    SoundWriter(AVFormatContext format, String codec) {
        this.format = format;
        AVCodec c = avcodec_find_encoder_by_name(codec);
        encoder = avcodec_alloc_context3(c);
        AVChannelLayout two = new AVChannelLayout();
        av_channel_layout_default(two, 2);
        encoder.sample_rate(Sound.RATE).sample_fmt(c.sample_fmts().get(0)).bit_rate(BITS_PER_SECOND);
        encoder.time_base().num(1).den(Sound.RATE);
        av_channel_layout_copy(encoder.ch_layout(), two);
        if ((format.oformat().flags() & AVFMT_GLOBALHEADER) != 0)
            encoder.flags(encoder.flags() | AV_CODEC_FLAG_GLOBAL_HEADER);
        check(avcodec_open2(encoder, c, (PointerPointer<?>) null));
        stream = avformat_new_stream(format, c);
        stream.time_base(encoder.time_base());
        check(avcodec_parameters_from_context(stream.codecpar(), encoder));
        size = encoder.frame_size() > 0 ? encoder.frame_size() : SOME;
        frame.nb_samples(size).format(encoder.sample_fmt()).sample_rate(Sound.RATE);
        av_channel_layout_copy(frame.ch_layout(), two);
        check(av_frame_get_buffer(frame, 0));
        check(swr_alloc_set_opts2(
                convert, two, encoder.sample_fmt(), Sound.RATE, two, AV_SAMPLE_FMT_FLTP, Sound.RATE, 0, null));
        check(swr_init(convert));
        for (int k = 0; k < 2; k++) {
            in[k] = new FloatPointer(size);
            waiting[k] = new float[size];
        }
    }

    void write(float[][] both, int from, int samples) {
        for (int i = from; i < from + samples; i++) {
            for (int k = 0; k < 2; k++) waiting[k][held] = both[k][i];
            if (++held == size) send(size);
        }
    }

    private void send(int samples) {
        check(av_frame_make_writable(frame));
        for (int k = 0; k < 2; k++) in[k].position(0).put(waiting[k], 0, samples);
        try (PointerPointer<FloatPointer> from = new PointerPointer<>(in)) {
            check(swr_convert(convert, frame.data(), size, from, samples));
        }
        frame.nb_samples(samples);
        frame.pts(count);
        count += samples;
        held = 0;
        check(avcodec_send_frame(encoder, frame));
        drain();
    }

    private void drain() {
        while (avcodec_receive_packet(encoder, packet) >= 0) {
            av_packet_rescale_ts(packet, encoder.time_base(), stream.time_base());
            packet.stream_index(stream.index());
            check(av_interleaved_write_frame(format, packet));
        }
    }

    void finish() {
        if (held > 0) send(held);
        check(avcodec_send_frame(encoder, (AVFrame) null));
        drain();
    }

    @Override
    public void close() {
        for (FloatPointer p : in) p.close();
        swr_free(convert);
        avcodec_free_context(encoder);
        av_frame_free(frame);
        av_packet_free(packet);
    }
}
