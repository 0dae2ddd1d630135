package dasein.core.format;

import static org.bytedeco.ffmpeg.global.avcodec.*;
import static org.bytedeco.ffmpeg.global.avformat.*;
import static org.bytedeco.ffmpeg.global.avutil.*;
import static org.bytedeco.ffmpeg.global.swresample.*;

import dasein.core.BadInput;
import java.nio.file.Path;
import org.bytedeco.ffmpeg.avcodec.AVCodec;
import org.bytedeco.ffmpeg.avcodec.AVCodecContext;
import org.bytedeco.ffmpeg.avcodec.AVPacket;
import org.bytedeco.ffmpeg.avformat.AVFormatContext;
import org.bytedeco.ffmpeg.avformat.AVStream;
import org.bytedeco.ffmpeg.avutil.AVChannelLayout;
import org.bytedeco.ffmpeg.avutil.AVDictionary;
import org.bytedeco.ffmpeg.avutil.AVFrame;
import org.bytedeco.ffmpeg.avutil.AVRational;
import org.bytedeco.ffmpeg.swresample.SwrContext;
import org.bytedeco.javacpp.FloatPointer;
import org.bytedeco.javacpp.PointerPointer;

/** What is heard of a movie: two channels, whatever it has itself. */
public final class Sound {
    /** Samples a second. */
    public static final int RATE = 48_000;

    private static final double MOST_SECONDS = 20 * 60;

    private Sound() {}

    /**
     * A stretch of a movie's sound, timed from its first picture; silence where there is none.
     *
     * @param from, seconds begin and length
     * @return [2][samples], or null where the movie has no sound that can be read
     * @throws BadInput when that is more than twenty minutes
     */
    public static float[][] of(Path movie, double from, double seconds) {
        if (!(seconds <= MOST_SECONDS))
            throw new BadInput("sound can be carried along for " + (int) (MOST_SECONDS / 60) + " minutes at most");
        AVFormatContext format = new AVFormatContext(null);
        AVDictionary options = new AVDictionary(null);
        av_dict_set(options, "protocol_whitelist", "file", 0);
        av_dict_set(options, "format_whitelist", MovieReader.CONTAINERS, 0);
        int opened = avformat_open_input(format, movie.toString(), null, options);
        av_dict_free(options);
        if (opened < 0) return null;
        try {
            if (avformat_find_stream_info(format, (PointerPointer<?>) null) < 0) return null;
            int n = av_find_best_stream(format, AVMEDIA_TYPE_AUDIO, -1, -1, (AVCodec) null, 0),
                    picture = av_find_best_stream(format, AVMEDIA_TYPE_VIDEO, -1, -1, (AVCodec) null, 0);
            if (n < 0) return null;
            double start = picture < 0 ? 0 : begin(format.streams(picture));
            float[][] out = new float[2][(int) Math.round(seconds * RATE)];
            return decode(format, n, start + from, out) ? out : null;
        } finally {
            avformat_close_input(format);
        }
    }

    private static double begin(AVStream s) {
        return s.start_time() == AV_NOPTS_VALUE ? 0 : s.start_time() * seconds(s.time_base());
    }

    private static double seconds(AVRational r) {
        return (double) r.num() / r.den();
    }

    private static boolean decode(AVFormatContext format, int n, double from, float[][] out) {
        AVStream s = format.streams(n);
        AVCodec c = avcodec_find_decoder(s.codecpar().codec_id());
        if (c == null || c.isNull()) return false;
        AVCodecContext decoder = avcodec_alloc_context3(c);
        AVPacket packet = av_packet_alloc();
        AVFrame frame = av_frame_alloc();
        SwrContext convert = new SwrContext(null);
        try {
            // Without it what a coding puts before the first sample would not be counted off.
            decoder.pkt_timebase(s.time_base());
            if (avcodec_parameters_to_context(decoder, s.codecpar()) < 0
                    || avcodec_open2(decoder, c, (PointerPointer<?>) null) < 0) return false;
            double unit = seconds(s.time_base());
            long at = Long.MIN_VALUE;
            boolean more = true;
            while (more) {
                more = av_read_frame(format, packet) >= 0;
                if (more && packet.stream_index() != n) {
                    av_packet_unref(packet);
                    continue;
                }
                avcodec_send_packet(decoder, more ? packet : null);
                if (more) av_packet_unref(packet);
                while (avcodec_receive_frame(decoder, frame) >= 0) {
                    if (at == Long.MIN_VALUE) {
                        AVChannelLayout two = new AVChannelLayout();
                        av_channel_layout_default(two, 2);
                        if (swr_alloc_set_opts2(
                                                convert,
                                                two,
                                                AV_SAMPLE_FMT_FLTP,
                                                RATE,
                                                frame.ch_layout(),
                                                frame.format(),
                                                frame.sample_rate(),
                                                0,
                                                null)
                                        < 0
                                || swr_init(convert) < 0) return false;
                        double begins = frame.pts() == AV_NOPTS_VALUE ? 0 : frame.pts() * unit;
                        at = Math.round((begins - from) * RATE);
                    }
                    at += put(convert, frame, frame.nb_samples(), at, out);
                    if (at >= out[0].length) return true;
                }
            }
            if (at == Long.MIN_VALUE) return false;
            put(convert, null, 0, at, out);
            return true;
        } finally {
            swr_free(convert);
            av_frame_free(frame);
            av_packet_free(packet);
            avcodec_free_context(decoder);
        }
    }

    /** @param at where they begin in what is wanted; @return how many samples came */
    private static int put(SwrContext convert, AVFrame frame, int samples, long at, float[][] out) {
        int room = swr_get_out_samples(convert, samples);
        if (room <= 0) return 0;
        try (FloatPointer left = new FloatPointer(room);
                FloatPointer right = new FloatPointer(room);
                PointerPointer<FloatPointer> to = new PointerPointer<>(left, right)) {
            int got = swr_convert(convert, to, room, frame == null ? null : frame.extended_data(), samples);
            FloatPointer[] both = {left, right};
            for (int k = 0; k < 2 && got > 0; k++) {
                float[] all = new float[got];
                both[k].position(0).get(all);
                int first = (int) Math.max(0, Math.min(got, -at)),
                        count = (int) Math.max(0, Math.min(got - first, out[k].length - (at + first)));
                if (count > 0) System.arraycopy(all, first, out[k], (int) (at + first), count);
            }
            return Math.max(0, got);
        }
    }
}
