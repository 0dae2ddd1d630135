package dasein.core.format;

import static org.bytedeco.ffmpeg.global.avutil.*;

import java.util.Map;

/** Kinds of movies that can be written. Each is a published coding in a published container. */
public enum MovieKind {
    /** ITU-T H.264 in MP4: plays everywhere. */
    H264("H.264", ".mp4", "mp4", "libopenh264", 8, Colour.QUARTER, "aac"),
    /** AV1 (Alliance for Open Media) in MP4: small files, slow to write. Eight bits: the library spoils ten. */
    AV1("AV1", ".mp4", "mp4", "libaom-av1", 8, Colour.QUARTER, "aac"),
    /** VP9 in WebM: for pages. */
    WEBM("WebM, VP9", ".webm", "webm", "libvpx-vp9", 8, Colour.QUARTER, "libopus"),
    /** VC-3 (SMPTE ST 2019-1), ten bits, each frame for itself: to go on working with. */
    VC3("VC-3, 10 bit 4:2:2", ".mov", "mov", "dnxhd", 10, Colour.HALF, "pcm_s16le"),
    /** FFV1 (IETF RFC 9043) in Matroska: ten bits of each colour without any loss. */
    FFV1("FFV1, 10 bit lossless", ".mkv", "matroska", "ffv1", 10, Colour.RGB, "flac");

    /** How colour is sampled: for each two by two pixels, each two of a row, or each pixel. */
    enum Colour {
        QUARTER,
        HALF,
        RGB
    }

    public final String label, suffix;
    /** Names of the library. */
    final String container, codec, sound;

    public final int bits;
    final Colour colour;

    MovieKind(String label, String suffix, String container, String codec, int bits, Colour colour, String sound) {
        this.label = label;
        this.suffix = suffix;
        this.container = container;
        this.codec = codec;
        this.bits = bits;
        this.colour = colour;
        this.sound = sound;
    }

    int pixels() {
        return switch (colour) {
            case QUARTER -> bits == 8 ? AV_PIX_FMT_YUV420P : AV_PIX_FMT_YUV420P10LE;
            case HALF -> AV_PIX_FMT_YUV422P10LE;
            case RGB -> AV_PIX_FMT_GBRP10LE;
        };
    }

    /** Pixels across, and down, for one sample of colour. */
    int across() {
        return colour == Colour.RGB ? 1 : 2;
    }

    int down() {
        return colour == Colour.QUARTER ? 2 : 1;
    }

    /** What the library is told besides. */
    Map<String, String> options() {
        return switch (this) {
            case H264 -> Map.of("rc_mode", "bitrate", "allow_skip_frames", "0");
            case AV1 -> Map.of("cpu-used", "8", "crf", "20", "row-mt", "1");
            case WEBM -> Map.of("deadline", "good", "cpu-used", "5", "crf", "18", "row-mt", "1");
            case VC3 -> Map.of("profile", "dnxhr_hqx");
            case FFV1 -> Map.of("level", "3", "slices", "4", "slicecrc", "1");
        };
    }

    /** Whether the file's size follows from a rate of bits; else from how good it is to be. */
    boolean byRate() {
        return this == H264;
    }

    /** Least side that can be coded. */
    public int leastWidth() {
        return this == VC3 ? 256 : 16;
    }

    public int leastHeight() {
        return this == VC3 ? 120 : 16;
    }
}
