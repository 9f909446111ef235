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
import static org.bytedeco.ffmpeg.global.avformat.av_interleaved_write_frame;
import static org.bytedeco.ffmpeg.global.avformat.avformat_new_stream;
import static org.bytedeco.ffmpeg.global.avutil.AV_SAMPLE_FMT_FLTP;
import static org.bytedeco.ffmpeg.global.avutil.AV_SAMPLE_FMT_S16;
import static org.bytedeco.ffmpeg.global.avutil.av_channel_layout_default;
import static org.bytedeco.ffmpeg.global.avutil.av_frame_alloc;
import static org.bytedeco.ffmpeg.global.avutil.av_frame_free;
import static org.bytedeco.ffmpeg.global.avutil.av_frame_get_buffer;
import static org.bytedeco.ffmpeg.global.avutil.av_frame_make_writable;
import static org.bytedeco.ffmpeg.global.avutil.av_make_q;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Path;
import java.util.Arrays;
import javax.sound.sampled.AudioFormat;
import javax.sound.sampled.AudioInputStream;
import javax.sound.sampled.AudioSystem;
import javax.sound.sampled.UnsupportedAudioFileException;
import org.bytedeco.ffmpeg.avcodec.AVCodec;
import org.bytedeco.ffmpeg.avcodec.AVCodecContext;
import org.bytedeco.ffmpeg.avcodec.AVPacket;
import org.bytedeco.ffmpeg.avformat.AVFormatContext;
import org.bytedeco.ffmpeg.avformat.AVStream;
import org.bytedeco.ffmpeg.avutil.AVDictionary;
import org.bytedeco.ffmpeg.avutil.AVFrame;
import org.bytedeco.javacpp.BytePointer;

/** The sound of a film that is being written: as long as the film at the most. */
final class SoundTrack implements AutoCloseable {
  /** Samples of a frame where the encoder does not say. */
  private static final int USUAL = 1024;

  private static final int BITS_PER_SECOND = 192_000;

  private final Check check;
  private final AVFormatContext format;
  private final AVCodecContext codec;
  private final AVStream stream;
  private final AVFrame frame;
  private final AVPacket packet;
  private final AudioInputStream in;
  private final int channels, rate, size;
  private final boolean planar;
  private final byte[] buffer;
  private long written;
  private boolean ended;

  /** Turns a result below 0 into an error. */
  interface Check {
    int did(int result) throws IOException;
  }

  /**
   * @param compressed true for AAC, false for PCM
   */
  SoundTrack(Path wav, AVFormatContext format, boolean compressed, Check check) throws IOException {
    this.format = format;
    this.check = check;
    in = open(wav);
    channels = in.getFormat().getChannels();
    rate = Math.round(in.getFormat().getSampleRate());
    planar = compressed;
    frame = av_frame_alloc();
    packet = av_packet_alloc();
    AVCodec encoder = avcodec_find_encoder_by_name(compressed ? "aac" : "pcm_s16le");
    codec = avcodec_alloc_context3(encoder);
    try {
      codec.sample_rate(rate).sample_fmt(compressed ? AV_SAMPLE_FMT_FLTP : AV_SAMPLE_FMT_S16);
      codec.time_base(av_make_q(1, rate)).bit_rate(BITS_PER_SECOND);
      av_channel_layout_default(codec.ch_layout(), channels);
      codec.flags(codec.flags() | AV_CODEC_FLAG_GLOBAL_HEADER);
      check.did(avcodec_open2(codec, encoder, (AVDictionary) null));
      size = codec.frame_size() > 0 ? codec.frame_size() : USUAL;
      stream = avformat_new_stream(format, null);
      stream.time_base(av_make_q(1, rate));
      check.did(avcodec_parameters_from_context(stream.codecpar(), codec));
      frame.format(codec.sample_fmt()).nb_samples(size).sample_rate(rate);
      av_channel_layout_default(frame.ch_layout(), channels);
      check.did(av_frame_get_buffer(frame, 0));
    } catch (IOException | RuntimeException | Error e) {
      close();
      throw e;
    }
    buffer = new byte[size * channels * (planar ? 4 : 2)];
  }

  private static AudioInputStream open(Path wav) throws IOException {
    AudioInputStream raw;
    try {
      raw = AudioSystem.getAudioInputStream(wav.toFile());
    } catch (UnsupportedAudioFileException e) {
      throw new IOException(wav.getFileName() + " is no WAV file that can be read", e);
    }
    return raw;
  }

  /** Writes what is heard before a time in seconds. */
  void writeUpTo(double seconds) throws IOException {
    while (!ended && written < seconds * rate) {
      int samples = (int) Math.min(size, Math.ceil(seconds * rate) - written);
      int got = read(planar ? size : samples);
      if (got == 0) {
        ended = true;
        return;
      }
      check.did(av_frame_make_writable(frame));
      frame.nb_samples(got);
      frame.pts(written);
      written += got;
      put(got);
      check.did(avcodec_send_frame(codec, frame));
      drain();
    }
  }

  /** Reads samples as signed 16 bits or floats; returns how many there were for each channel. */
  private int read(int most) throws IOException {
    AudioFormat f = in.getFormat();
    int bytes = f.getFrameSize();
    byte[] raw = in.readNBytes(most * bytes);
    int got = raw.length / bytes;
    int each = bytes / channels;
    boolean decimal = f.getEncoding().equals(AudioFormat.Encoding.PCM_FLOAT);
    ByteOrder order = f.isBigEndian() ? ByteOrder.BIG_ENDIAN : ByteOrder.LITTLE_ENDIAN;
    ByteBuffer from = ByteBuffer.wrap(raw).order(order);
    ByteBuffer to = ByteBuffer.wrap(buffer).order(ByteOrder.LITTLE_ENDIAN);
    Arrays.fill(buffer, (byte) 0);
    for (int i = 0; i < got; i++) {
      for (int c = 0; c < channels; c++) {
        double v = value(from, i * bytes + c * each, each, decimal, order);
        if (planar) {
          to.putFloat(4 * (c * size + i), (float) v);
        } else {
          long s = Math.round(v * 32767);
          to.putShort(2 * (i * channels + c), (short) Math.max(-32768, Math.min(32767, s)));
        }
      }
    }
    return got;
  }

  /** A sample as -1 .. 1. */
  private static double value(ByteBuffer b, int at, int bytes, boolean decimal, ByteOrder order) {
    if (decimal) {
      return bytes == 8 ? b.getDouble(at) : b.getFloat(at);
    }
    return switch (bytes) {
      case 1 -> ((b.get(at) & 255) - 128) / 128.0;
      case 2 -> b.getShort(at) / 32768.0;
      case 3 -> {
        boolean little = order == ByteOrder.LITTLE_ENDIAN;
        int high = b.get(little ? at + 2 : at), low = b.get(little ? at : at + 2) & 255;
        yield (high << 16 | (b.get(at + 1) & 255) << 8 | low) / 8388608.0;
      }
      default -> b.getInt(at) / 2147483648.0;
    };
  }

  private void put(int got) {
    if (planar) {
      for (int c = 0; c < channels; c++) {
        new BytePointer(frame.data(c)).position(0).put(buffer, 4 * c * size, 4 * got);
      }
    } else {
      new BytePointer(frame.data(0)).position(0).put(buffer, 0, 2 * got * channels);
    }
  }

  private void drain() throws IOException {
    while (avcodec_receive_packet(codec, packet) >= 0) {
      av_packet_rescale_ts(packet, codec.time_base(), stream.time_base());
      packet.stream_index(stream.index());
      check.did(av_interleaved_write_frame(format, packet));
    }
  }

  void end() throws IOException {
    check.did(avcodec_send_frame(codec, null));
    drain();
  }

  @Override
  public void close() throws IOException {
    av_frame_free(frame);
    av_packet_free(packet);
    avcodec_free_context(codec);
    in.close();
  }
}
