package posada.formats.video;

import static org.bytedeco.ffmpeg.global.avcodec.AV_CODEC_FLAG_GLOBAL_HEADER;
import static org.bytedeco.ffmpeg.global.avcodec.av_packet_alloc;
import static org.bytedeco.ffmpeg.global.avcodec.av_packet_free;
import static org.bytedeco.ffmpeg.global.avcodec.av_packet_rescale_ts;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_alloc_context3;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_find_encoder_by_name;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_free_context;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_open2;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_parameters_from_context;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_receive_packet;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_send_frame;
import static org.bytedeco.ffmpeg.global.avformat.AVIO_FLAG_WRITE;
import static org.bytedeco.ffmpeg.global.avformat.av_interleaved_write_frame;
import static org.bytedeco.ffmpeg.global.avformat.av_write_trailer;
import static org.bytedeco.ffmpeg.global.avformat.avformat_alloc_output_context2;
import static org.bytedeco.ffmpeg.global.avformat.avformat_free_context;
import static org.bytedeco.ffmpeg.global.avformat.avformat_new_stream;
import static org.bytedeco.ffmpeg.global.avformat.avformat_write_header;
import static org.bytedeco.ffmpeg.global.avformat.avio_closep;
import static org.bytedeco.ffmpeg.global.avformat.avio_open;
import static org.bytedeco.ffmpeg.global.avutil.AVCOL_PRI_BT709;
import static org.bytedeco.ffmpeg.global.avutil.AVCOL_RANGE_MPEG;
import static org.bytedeco.ffmpeg.global.avutil.AVCOL_SPC_BT709;
import static org.bytedeco.ffmpeg.global.avutil.AVCOL_TRC_BT709;
import static org.bytedeco.ffmpeg.global.avutil.AV_LOG_FATAL;
import static org.bytedeco.ffmpeg.global.avutil.AV_PIX_FMT_RGB24;
import static org.bytedeco.ffmpeg.global.avutil.AV_PIX_FMT_RGB48LE;
import static org.bytedeco.ffmpeg.global.avutil.AV_PIX_FMT_YUV420P;
import static org.bytedeco.ffmpeg.global.avutil.AV_PIX_FMT_YUV422P10LE;
import static org.bytedeco.ffmpeg.global.avutil.av_dict_free;
import static org.bytedeco.ffmpeg.global.avutil.av_dict_set;
import static org.bytedeco.ffmpeg.global.avutil.av_frame_alloc;
import static org.bytedeco.ffmpeg.global.avutil.av_frame_free;
import static org.bytedeco.ffmpeg.global.avutil.av_frame_get_buffer;
import static org.bytedeco.ffmpeg.global.avutil.av_frame_make_writable;
import static org.bytedeco.ffmpeg.global.avutil.av_log_set_level;
import static org.bytedeco.ffmpeg.global.avutil.av_make_q;
import static org.bytedeco.ffmpeg.global.avutil.av_strerror;
import static org.bytedeco.ffmpeg.global.swscale.SWS_BICUBIC;
import static org.bytedeco.ffmpeg.global.swscale.SWS_CS_ITU709;
import static org.bytedeco.ffmpeg.global.swscale.sws_freeContext;
import static org.bytedeco.ffmpeg.global.swscale.sws_getCoefficients;
import static org.bytedeco.ffmpeg.global.swscale.sws_getContext;
import static org.bytedeco.ffmpeg.global.swscale.sws_scale;
import static org.bytedeco.ffmpeg.global.swscale.sws_setColorspaceDetails;

import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import org.bytedeco.ffmpeg.avcodec.AVCodec;
import org.bytedeco.ffmpeg.avcodec.AVCodecContext;
import org.bytedeco.ffmpeg.avcodec.AVPacket;
import org.bytedeco.ffmpeg.avformat.AVFormatContext;
import org.bytedeco.ffmpeg.avformat.AVIOContext;
import org.bytedeco.ffmpeg.avformat.AVStream;
import org.bytedeco.ffmpeg.avutil.AVDictionary;
import org.bytedeco.ffmpeg.avutil.AVFrame;
import org.bytedeco.ffmpeg.avutil.AVRational;
import org.bytedeco.ffmpeg.swscale.SwsContext;
import org.bytedeco.javacpp.BytePointer;
import org.bytedeco.javacpp.DoublePointer;
import org.bytedeco.javacpp.IntPointer;
import org.bytedeco.javacpp.PointerPointer;
import posada.core.image.DisplayImage;
import posada.core.plan.FrameRate;
import posada.formats.files.AtomicFile;

/**
 * A film being written, with the colour numbers of ITU-R BT.709, limited range. It has its final
 * name only once it is complete.
 */
public final class FilmWriter implements AutoCloseable {
  /** Kinds of films. */
  public enum Kind {
    /** H.264 in MP4, 8 bits, sound as AAC. */
    MP4("mp4", "mp4", "libopenh264", AV_PIX_FMT_YUV420P, AV_PIX_FMT_RGB24),
    /** ProRes 422 HQ in MOV, 10 bits, sound uncompressed. */
    MOV("mov", "mov", "prores_ks", AV_PIX_FMT_YUV422P10LE, AV_PIX_FMT_RGB48LE),
    /** An animated PNG that plays without end, 8 bits, without loss. */
    LOOP("png", "apng", "apng", AV_PIX_FMT_RGB24, AV_PIX_FMT_RGB24);
    private final String extension, muxer, encoder;
    private final int pixels, given;

    Kind(String extension, String muxer, String encoder, int pixels, int given) {
      this.extension = extension;
      this.muxer = muxer;
      this.encoder = encoder;
      this.pixels = pixels;
      this.given = given;
    }

    public String extension() {
      return extension;
    }

    private int bytes() {
      return given == AV_PIX_FMT_RGB48LE ? 2 : 1;
    }
  }

  /** ProRes 422 HQ. */
  private static final int HQ = 3;

  /** Smallest and largest side that the encoder takes. */
  public static final int LEAST_SIDE = 16, MOST_SIDE = 3840;

  /** Bits for each pixel of each frame at the best quality; fewer by the square of the rest. */
  private static final double MOST_BITS = 0.7;

  private final Path file, part;
  private final boolean overwrite;
  private final int width, height;
  private final AVFormatContext format;
  private final AVCodecContext codec;
  private final AVStream stream;
  private final AVFrame frame;
  private final AVPacket packet;
  private final SwsContext scaler;
  private final BytePointer rgb;
  private final PointerPointer<BytePointer> planes;
  private final IntPointer strides;
  private final byte[] row;
  private final Kind kind;
  private final FrameRate rate;
  private SoundTrack sound;
  private long count;
  private boolean complete;

  /**
   * @param width even, 16 .. 3840
   * @param height even, 16 .. 3840
   * @param rate frames for each second
   * @param quality 1 .. 100
   * @param overwrite false to refuse a name that is taken
   * @throws IOException naming the file if it cannot be made
   */
  public FilmWriter(
      Path file, int width, int height, FrameRate rate, int quality, boolean overwrite)
      throws IOException {
    this(Kind.MP4, file, width, height, rate, quality, null, overwrite);
  }

  /**
   * @param width even, 16 .. 3840; height likewise
   * @param rate frames for each second
   * @param quality 1 .. 100, of MP4
   * @param wav a file of sound that begins with the film; null for none. A loop has none.
   * @param overwrite false to refuse a name that is taken
   * @throws IOException naming the file if it cannot be made
   */
  public FilmWriter(
      Kind kind,
      Path file,
      int width,
      int height,
      FrameRate rate,
      int quality,
      Path wav,
      boolean overwrite)
      throws IOException {
    check(width, height);
    this.kind = kind;
    this.rate = rate;
    this.file = file;
    this.width = width;
    this.height = height;
    this.overwrite = overwrite;
    Path folder = file.toAbsolutePath().getParent();
    Files.createDirectories(folder);
    refuseTaken();
    part = folder.resolve(file.getFileName() + AtomicFile.TEMPORARY);
    av_log_set_level(AV_LOG_FATAL);
    // From here on there is memory that Java does not give back by itself.
    format = new AVFormatContext(null);
    frame = av_frame_alloc();
    packet = av_packet_alloc();
    AVCodec encoder = avcodec_find_encoder_by_name(kind.encoder);
    codec = avcodec_alloc_context3(encoder);
    scaler =
        sws_getContext(
            width,
            height,
            kind.given,
            width,
            height,
            kind.pixels,
            SWS_BICUBIC,
            null,
            null,
            (DoublePointer) null);
    int line = 3 * kind.bytes() * width;
    rgb = new BytePointer((long) line * height);
    planes = new PointerPointer<BytePointer>(1).put(rgb);
    strides = new IntPointer(new int[] {line});
    row = new byte[line * height];
    try {
      AVRational perSecond = rational(rate);
      AVRational tick = av_make_q(perSecond.den(), perSecond.num());
      did(avformat_alloc_output_context2(format, null, kind.muxer, part.toString()));
      codec.width(width).height(height).pix_fmt(kind.pixels);
      codec.time_base(tick).framerate(perSecond).gop_size((int) Math.ceil(rate.perSecond()));
      AVDictionary options = new AVDictionary(null);
      if (kind != Kind.LOOP) {
        codec.color_range(AVCOL_RANGE_MPEG).colorspace(AVCOL_SPC_BT709);
        codec.color_primaries(AVCOL_PRI_BT709).color_trc(AVCOL_TRC_BT709);
        codec.flags(codec.flags() | AV_CODEC_FLAG_GLOBAL_HEADER);
      }
      if (kind == Kind.MP4) {
        double bits = MOST_BITS * quality * quality / 1e4;
        codec.bit_rate((long) Math.max(100_000, bits * width * height * rate.perSecond()));
        av_dict_set(options, "rc_mode", "quality", 0);
      } else if (kind == Kind.MOV) {
        codec.profile(HQ);
        codec.bits_per_raw_sample(10);
      }
      did(avcodec_open2(codec, encoder, options));
      av_dict_free(options);
      stream = avformat_new_stream(format, null);
      stream.time_base(tick).avg_frame_rate(perSecond).r_frame_rate(perSecond);
      did(avcodec_parameters_from_context(stream.codecpar(), codec));
      if (wav != null && kind != Kind.LOOP) {
        sound = new SoundTrack(wav, format, kind == Kind.MP4, this::did);
      }
      AVIOContext out = new AVIOContext(null);
      did(avio_open(out, part.toString(), AVIO_FLAG_WRITE));
      format.pb(out);
      AVDictionary layout = new AVDictionary(null);
      if (kind == Kind.LOOP) {
        av_dict_set(layout, "plays", "0", 0);
      } else {
        av_dict_set(layout, "movflags", "+faststart", 0);
      }
      did(avformat_write_header(format, layout));
      av_dict_free(layout);
      frame.format(kind.pixels).width(width).height(height);
      if (kind != Kind.LOOP) {
        frame.color_range(AVCOL_RANGE_MPEG).colorspace(AVCOL_SPC_BT709);
        frame.color_primaries(AVCOL_PRI_BT709).color_trc(AVCOL_TRC_BT709);
      }
      did(av_frame_get_buffer(frame, 0));
      IntPointer matrix = sws_getCoefficients(SWS_CS_ITU709);
      sws_setColorspaceDetails(scaler, matrix, 1, matrix, 0, 0, 1 << 16, 1 << 16);
    } catch (IOException | RuntimeException | Error e) {
      close();
      throw e;
    }
  }

  /**
   * Refuses a size that the encoder does not take.
   *
   * @throws IllegalArgumentException saying what would do
   */
  public static void check(int width, int height) {
    for (int side : new int[] {width, height}) {
      if (side % 2 != 0 || side < LEAST_SIDE || side > MOST_SIDE) {
        throw new IllegalArgumentException(
            String.format(
                "a film's sides must be even, %d .. %d pixels (got %d x %d)",
                LEAST_SIDE, MOST_SIDE, width, height));
      }
    }
  }

  /** Returns the even number of pixels that is at most so many. */
  public static int even(double pixels) {
    return (int) pixels / 2 * 2;
  }

  /** Returns the upper left part of a picture that is a pixel larger at the most. */
  public static DisplayImage cut(DisplayImage p, int w, int h) {
    if (p.width() == w && p.height() == h) {
      return p;
    }
    short[] some = new short[3 * w * h];
    for (int y = 0; y < h; y++) {
      System.arraycopy(p.samples(), 3 * y * p.width(), some, 3 * y * w, 3 * w);
    }
    return new DisplayImage(w, h, 3, some);
  }

  private void refuseTaken() throws IOException {
    if (!overwrite && Files.exists(file)) {
      throw new FileAlreadyExistsException(file + " exists already; choose another name");
    }
  }

  /** A rate as it is meant: 23.976 is 24000/1001. */
  private static AVRational rational(FrameRate rate) {
    double r = rate.perSecond();
    int whole = (int) Math.round(r * 1.001);
    if (Math.abs(r - Math.rint(r)) > 1e-6 && Math.abs(whole / 1.001 - r) < 1e-3) {
      return av_make_q(whole * 1000, 1001);
    }
    return av_make_q((int) Math.round(r * 1000), 1000);
  }

  private int did(int result) throws IOException {
    if (result < 0) {
      byte[] why = new byte[256];
      av_strerror(result, why, why.length);
      int end = 0;
      while (end < why.length && why[end] != 0) {
        end++;
      }
      throw new IOException(file + " could not be written: " + new String(why, 0, end));
    }
    return result;
  }

  /**
   * Adds a frame.
   *
   * @throws IllegalArgumentException if it is of another size or not of three components
   */
  public void add(DisplayImage image) throws IOException {
    if (image.width() != width || image.height() != height || image.components() != 3) {
      throw new IllegalArgumentException(
          String.format(
              "the film has %d x %d pixels of three components (got %d x %d of %d)",
              width, height, image.width(), image.height(), image.components()));
    }
    short[] s = image.samples();
    if (kind.bytes() == 2) {
      for (int i = 0; i < s.length; i++) {
        row[2 * i] = (byte) s[i];
        row[2 * i + 1] = (byte) (s[i] >> 8);
      }
    } else {
      for (int i = 0; i < s.length; i++) {
        row[i] = (byte) (((s[i] & 0xffff) * 255 + 32767) / 65535);
      }
    }
    rgb.position(0).put(row, 0, row.length);
    did(av_frame_make_writable(frame));
    did(sws_scale(scaler, planes, strides, 0, height, frame.data(), frame.linesize()));
    if (sound != null) {
      sound.writeUpTo((count + 1) / rate.perSecond());
    }
    frame.pts(count++);
    did(avcodec_send_frame(codec, frame));
    drain();
  }

  private void drain() throws IOException {
    while (avcodec_receive_packet(codec, packet) >= 0) {
      packet.duration(1);
      av_packet_rescale_ts(packet, codec.time_base(), stream.time_base());
      packet.stream_index(stream.index());
      did(av_interleaved_write_frame(format, packet));
    }
  }

  /** Ends the film and gives it its name. */
  public void finish() throws IOException {
    did(avcodec_send_frame(codec, null));
    drain();
    if (sound != null) {
      sound.end();
    }
    did(av_write_trailer(format));
    did(avio_closep(format.pb()));
    format.pb(null);
    refuseTaken();
    Files.move(part, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
    complete = true;
  }

  /** Lets go of everything; an unfinished film is thrown away. */
  @Override
  public void close() throws IOException {
    if (format.pb() != null && !complete) {
      avio_closep(format.pb());
      format.pb(null);
    }
    if (sound != null) {
      sound.close();
    }
    av_frame_free(frame);
    av_packet_free(packet);
    avcodec_free_context(codec);
    sws_freeContext(scaler);
    avformat_free_context(format);
    planes.close();
    strides.close();
    rgb.close();
    if (!complete) {
      Files.deleteIfExists(part);
    }
  }
}
