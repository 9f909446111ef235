package posada.formats.video;

import static org.bytedeco.ffmpeg.global.avcodec.av_packet_alloc;
import static org.bytedeco.ffmpeg.global.avcodec.av_packet_free;
import static org.bytedeco.ffmpeg.global.avcodec.av_packet_unref;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_alloc_context3;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_find_decoder;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_free_context;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_open2;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_parameters_to_context;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_receive_frame;
import static org.bytedeco.ffmpeg.global.avcodec.avcodec_send_packet;
import static org.bytedeco.ffmpeg.global.avformat.av_find_best_stream;
import static org.bytedeco.ffmpeg.global.avformat.av_read_frame;
import static org.bytedeco.ffmpeg.global.avformat.avformat_close_input;
import static org.bytedeco.ffmpeg.global.avformat.avformat_find_stream_info;
import static org.bytedeco.ffmpeg.global.avformat.avformat_open_input;
import static org.bytedeco.ffmpeg.global.avutil.AVCOL_RANGE_JPEG;
import static org.bytedeco.ffmpeg.global.avutil.AVCOL_SPC_BT470BG;
import static org.bytedeco.ffmpeg.global.avutil.AVCOL_SPC_SMPTE170M;
import static org.bytedeco.ffmpeg.global.avutil.AVMEDIA_TYPE_VIDEO;
import static org.bytedeco.ffmpeg.global.avutil.AV_LOG_FATAL;
import static org.bytedeco.ffmpeg.global.avutil.AV_PIX_FMT_RGB24;
import static org.bytedeco.ffmpeg.global.avutil.av_frame_alloc;
import static org.bytedeco.ffmpeg.global.avutil.av_frame_free;
import static org.bytedeco.ffmpeg.global.avutil.av_log_set_level;
import static org.bytedeco.ffmpeg.global.swscale.SWS_BICUBIC;
import static org.bytedeco.ffmpeg.global.swscale.SWS_CS_ITU601;
import static org.bytedeco.ffmpeg.global.swscale.SWS_CS_ITU709;
import static org.bytedeco.ffmpeg.global.swscale.sws_freeContext;
import static org.bytedeco.ffmpeg.global.swscale.sws_getCoefficients;
import static org.bytedeco.ffmpeg.global.swscale.sws_getContext;
import static org.bytedeco.ffmpeg.global.swscale.sws_scale;
import static org.bytedeco.ffmpeg.global.swscale.sws_setColorspaceDetails;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.bytedeco.ffmpeg.avcodec.AVCodec;
import org.bytedeco.ffmpeg.avcodec.AVCodecContext;
import org.bytedeco.ffmpeg.avcodec.AVPacket;
import org.bytedeco.ffmpeg.avformat.AVFormatContext;
import org.bytedeco.ffmpeg.avformat.AVInputFormat;
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

/** A film whose pictures are read one after the other. */
public final class FilmFile implements AutoCloseable {
  /** Largest side of a picture, pixels. */
  private static final int MOST_SIDE = 8192;

  private final Path file;
  private final AVFormatContext format = new AVFormatContext(null);
  private final AVCodecContext codec = avcodec_alloc_context3(null);
  private final AVFrame frame = av_frame_alloc();
  private final AVPacket packet = av_packet_alloc();
  private final int index;
  private final int width, height;
  private final double rate;
  private final SwsContext scaler;
  private final BytePointer rgb;
  private boolean ended;

  /**
   * @throws IOException naming the file if it is no film that can be read
   */
  public FilmFile(Path file) throws IOException {
    this.file = file;
    if (!Files.isReadable(file)) {
      throw new IOException(file + " is not there, or may not be read");
    }
    av_log_set_level(AV_LOG_FATAL);
    SwsContext made = null;
    try {
      did(avformat_open_input(format, file.toString(), (AVInputFormat) null, (AVDictionary) null));
      did(avformat_find_stream_info(format, (PointerPointer<?>) null));
      index = did(av_find_best_stream(format, AVMEDIA_TYPE_VIDEO, -1, -1, (AVCodec) null, 0));
      AVStream stream = format.streams(index);
      AVRational perSecond = stream.avg_frame_rate();
      rate = perSecond.den() == 0 ? 0 : perSecond.num() / (double) perSecond.den();
      did(avcodec_parameters_to_context(codec, stream.codecpar()));
      did(avcodec_open2(codec, avcodec_find_decoder(codec.codec_id()), (AVDictionary) null));
      width = codec.width();
      height = codec.height();
      if (width < 1 || height < 1 || Math.max(width, height) > MOST_SIDE || !(rate > 0)) {
        throw new IOException(
            file.getFileName()
                + " has "
                + width
                + " x "
                + height
                + " pixels at "
                + rate
                + " frames a second; sides of 1 .. "
                + MOST_SIDE
                + " and a rate are needed");
      }
      made =
          sws_getContext(
              width,
              height,
              codec.pix_fmt(),
              width,
              height,
              AV_PIX_FMT_RGB24,
              SWS_BICUBIC,
              null,
              null,
              (DoublePointer) null);
      rgb = new BytePointer(3L * width * height);
    } catch (IOException | RuntimeException | Error e) {
      release(made, null);
      throw e;
    }
    scaler = made;
  }

  private int did(int result) throws IOException {
    if (result < 0) {
      throw new IOException(file.getFileName() + " is no film that can be read");
    }
    return result;
  }

  public int width() {
    return width;
  }

  public int height() {
    return height;
  }

  /** Returns the frames of a second. */
  public double rate() {
    return rate;
  }

  /** Returns the next picture; null at the end. */
  public DisplayImage next() throws IOException {
    while (true) {
      if (avcodec_receive_frame(codec, frame) >= 0) {
        return picture();
      }
      if (ended) {
        return null;
      }
      if (av_read_frame(format, packet) < 0) {
        ended = true;
        avcodec_send_packet(codec, null);
      } else {
        if (packet.stream_index() == index) {
          did(avcodec_send_packet(codec, packet));
        }
        av_packet_unref(packet);
      }
    }
  }

  /** Says what the numbers of the frame mean: its own word counts, else that of today's films. */
  private void colours() {
    int space = frame.colorspace();
    boolean old = space == AVCOL_SPC_BT470BG || space == AVCOL_SPC_SMPTE170M;
    IntPointer matrix = sws_getCoefficients(old ? SWS_CS_ITU601 : SWS_CS_ITU709);
    int full = frame.color_range() == AVCOL_RANGE_JPEG ? 1 : 0;
    sws_setColorspaceDetails(scaler, matrix, full, matrix, 1, 0, 1 << 16, 1 << 16);
  }

  private DisplayImage picture() throws IOException {
    colours();
    try (PointerPointer<BytePointer> planes = new PointerPointer<BytePointer>(1).put(rgb);
        IntPointer strides = new IntPointer(new int[] {3 * width})) {
      did(sws_scale(scaler, frame.data(), frame.linesize(), 0, height, planes, strides));
    }
    byte[] bytes = new byte[3 * width * height];
    rgb.position(0).get(bytes);
    short[] samples = new short[bytes.length];
    for (int i = 0; i < bytes.length; i++) {
      samples[i] = (short) (257 * (bytes[i] & 255));
    }
    return new DisplayImage(width, height, 3, samples);
  }

  private void release(SwsContext s, BytePointer pixels) {
    if (s != null) {
      sws_freeContext(s);
    }
    if (pixels != null) {
      pixels.close();
    }
    av_packet_free(packet);
    av_frame_free(frame);
    avcodec_free_context(codec);
    avformat_close_input(format);
  }

  @Override
  public void close() {
    release(scaler, rgb);
  }
}
