package posada.formats.preview;

import java.awt.Font;
import java.awt.FontFormatException;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.font.FontRenderContext;
import java.awt.font.TextLayout;
import java.awt.geom.AffineTransform;
import java.awt.geom.Rectangle2D;
import java.awt.image.BufferedImage;
import java.awt.image.DataBufferByte;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import posada.core.image.DisplayImage;

/** Writes texts over pictures: lines in the corners on dark plates, a watermark across. */
public final class Overlay {
  /** Least height of letters, pixels. */
  private static final int LEAST = 8;

  /** Of the picture under a plate, and of white in a watermark. */
  private static final float PLATE = 0.35f, FAINT = 0.14f;

  /** Slant of a watermark, radians. */
  private static final double SLANT = -0.18;

  /** The typeface, as it comes with the library for documents. */
  static final String LETTERS = "/org/apache/pdfbox/resources/ttf/LiberationSans-Regular.ttf";

  private static final FontRenderContext SMOOTH = new FontRenderContext(null, true, true);
  private static final Font FONT = font();

  private final int width, height;
  private final int gap;

  /** Strength of the watermark at each pixel, 0 .. 255; null for none. */
  private final byte[] mark;

  /** Texts of one frame: left and right at the top, left and right at the bottom. */
  public record Corners(String topLeft, String topRight, String bottomLeft, String bottomRight) {}

  public Overlay(int width, int height, String watermark) {
    this.width = width;
    this.height = height;
    gap = Math.max(2, height / 60);
    mark = watermark.isBlank() ? null : mark(watermark.strip());
  }

  private static Font font() {
    try (InputStream in = Overlay.class.getResourceAsStream(LETTERS)) {
      return Font.createFont(Font.TRUETYPE_FONT, in);
    } catch (IOException | FontFormatException e) {
      throw new IllegalStateException("the typeface of burn-ins cannot be read", e);
    }
  }

  private byte[] mark(String text) {
    TextLayout big = new TextLayout(text, FONT.deriveFont(100f), SMOOTH);
    float size = (float) Math.min(height / 4.0, 100 * 0.7 * width / big.getAdvance());
    TextLayout t = new TextLayout(text, FONT.deriveFont(Math.max(LEAST, size)), SMOOTH);
    Rectangle2D b = t.getBounds();
    BufferedImage image = new BufferedImage(width, height, BufferedImage.TYPE_BYTE_GRAY);
    Graphics2D g = smooth(image);
    g.setTransform(AffineTransform.getRotateInstance(SLANT, width / 2.0, height / 2.0));
    t.draw(g, (float) (width / 2.0 - b.getCenterX()), (float) (height / 2.0 - b.getCenterY()));
    g.dispose();
    return bytes(image);
  }

  private static Graphics2D smooth(BufferedImage image) {
    Graphics2D g = image.createGraphics();
    g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
    g.setRenderingHint(
        RenderingHints.KEY_FRACTIONALMETRICS, RenderingHints.VALUE_FRACTIONALMETRICS_ON);
    return g;
  }

  private static byte[] bytes(BufferedImage image) {
    return ((DataBufferByte) image.getRaster().getDataBuffer()).getData();
  }

  /** Writes over a picture of three components, in place. */
  public void write(DisplayImage image, Corners c) {
    short[] s = image.samples();
    if (mark != null) {
      for (int i = 0; i < mark.length; i++) {
        if (mark[i] != 0) {
          blend(s, i, 1, FAINT * (mark[i] & 0xff) / 255);
        }
      }
    }
    line(s, c.topLeft, c.topRight, true);
    line(s, c.bottomLeft, c.bottomRight, false);
  }

  /** Two texts in one line, as large as fit beside each other. */
  private void line(short[] s, String left, String right, boolean top) {
    float size = Math.max(LEAST, height / 26f);
    double needed = 0;
    for (String t : List.of(left, right)) {
      needed += t.isEmpty() ? 0 : layout(t, size).getAdvance() + 4 * gap;
    }
    if (needed > width) {
      size = Math.max(LEAST, (float) (size * width / needed));
    }
    plate(s, left, size, top, true);
    plate(s, right, size, top, false);
  }

  private static TextLayout layout(String text, float size) {
    return new TextLayout(text, FONT.deriveFont(size), SMOOTH);
  }

  private void plate(short[] s, String text, float size, boolean top, boolean left) {
    if (text.isEmpty()) {
      return;
    }
    TextLayout t = layout(text, size);
    int w = Math.min(width - 2 * gap, (int) Math.ceil(t.getAdvance()) + 2 * gap);
    int h = (int) Math.ceil(t.getAscent() + t.getDescent()) + gap;
    if (w < 1 || h + 2 * gap > height) {
      return;
    }
    BufferedImage image = new BufferedImage(w, h, BufferedImage.TYPE_BYTE_GRAY);
    Graphics2D g = smooth(image);
    t.draw(g, gap, t.getAscent() + gap / 2f);
    g.dispose();
    byte[] letters = bytes(image);
    int x0 = left ? gap : width - gap - w;
    int y0 = top ? gap : height - gap - h;
    for (int y = 0; y < h; y++) {
      for (int x = 0; x < w; x++) {
        int i = (y0 + y) * width + x0 + x;
        blend(s, i, 0, 1 - PLATE);
        blend(s, i, 0.96f, (letters[y * w + x] & 0xff) / 255f);
      }
    }
  }

  /** Mixes a grey into a pixel. */
  private static void blend(short[] s, int pixel, float grey, float share) {
    for (int k = 0; k < 3; k++) {
      float v = s[3 * pixel + k] & 0xffff;
      s[3 * pixel + k] = (short) (int) (v + (65535 * grey - v) * share + 0.5f);
    }
  }
}
