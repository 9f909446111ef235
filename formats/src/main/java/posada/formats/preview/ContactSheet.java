package posada.formats.preview;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.common.PDRectangle;
import org.apache.pdfbox.pdmodel.font.PDFont;
import org.apache.pdfbox.pdmodel.font.PDType0Font;
import org.apache.pdfbox.pdmodel.graphics.image.JPEGFactory;
import org.apache.pdfbox.pdmodel.graphics.image.PDImageXObject;
import posada.core.image.DisplayImage;
import posada.formats.display.JpegFile;

/** Puts small pictures with their names side by side on one. */
public final class ContactSheet {
  /** Between pictures, pixels. */
  private static final int GAP = 8;

  /** Grey between them, of 65535. */
  private static final short GREY = 0x2222;

  private ContactSheet() {}

  /** A picture of three components with its name. */
  public record Tile(String name, DisplayImage image) {}

  /**
   * Returns the sheet.
   *
   * @param tiles of one size, at least one
   * @param across pictures in a row
   */
  public static DisplayImage of(List<Tile> tiles, int across) {
    int w = tiles.get(0).image.width(), h = tiles.get(0).image.height();
    int columns = Math.min(across, tiles.size());
    int rows = (tiles.size() + columns - 1) / columns;
    int width = columns * (w + GAP) + GAP, height = rows * (h + GAP) + GAP;
    short[] all = new short[3 * width * height];
    java.util.Arrays.fill(all, GREY);
    Overlay overlay = new Overlay(w, h, "");
    for (int i = 0; i < tiles.size(); i++) {
      DisplayImage tile = tiles.get(i).image;
      overlay.write(tile, new Overlay.Corners("", "", tiles.get(i).name, ""));
      int x = GAP + i % columns * (w + GAP), y = GAP + i / columns * (h + GAP);
      for (int line = 0; line < h; line++) {
        System.arraycopy(tile.samples(), 3 * line * w, all, 3 * ((y + line) * width + x), 3 * w);
      }
    }
    return new DisplayImage(width, height, 3, all);
  }

  /** Points of a page of A4, lying (ISO 216), and around what is on it. */
  private static final float PAGE_WIDTH = 842, PAGE_HEIGHT = 595, MARGIN = 28, TITLE = 12;

  /**
   * Returns the sheet as a document of as many pages as it takes.
   *
   * @param tiles of one size, at least one
   * @param across pictures in a row
   * @param title what stands over each page, before its number
   */
  public static byte[] pdf(List<Tile> tiles, int across, String title) throws IOException {
    int w = tiles.get(0).image.width(), h = tiles.get(0).image.height();
    int columns = Math.min(across, tiles.size());
    float wide = PAGE_WIDTH - 2 * MARGIN, high = PAGE_HEIGHT - 2 * MARGIN - 2 * TITLE;
    float scale = wide / (columns * (w + GAP) + GAP);
    int rows = Math.max(1, (int) ((high / scale - GAP) / (h + GAP)));
    int each = rows * columns;
    int pages = (tiles.size() + each - 1) / each;
    try (PDDocument document = new PDDocument();
        InputStream letters = ContactSheet.class.getResourceAsStream(Overlay.LETTERS)) {
      PDFont font = PDType0Font.load(document, letters);
      for (int p = 0; p < pages; p++) {
        List<Tile> own = tiles.subList(p * each, Math.min(tiles.size(), (p + 1) * each));
        DisplayImage sheet = of(own, columns);
        float fit = Math.min(scale, Math.min(wide / sheet.width(), high / sheet.height()));
        PDPage page = new PDPage(new PDRectangle(PAGE_WIDTH, PAGE_HEIGHT));
        document.addPage(page);
        PDImageXObject image =
            JPEGFactory.createFromByteArray(document, JpegFile.encode(sheet, 0.9f));
        try (PDPageContentStream on = new PDPageContentStream(document, page)) {
          on.beginText();
          on.setFont(font, TITLE);
          on.newLineAtOffset(MARGIN, PAGE_HEIGHT - MARGIN - TITLE);
          on.showText(written(title, font) + "   " + (p + 1) + " of " + pages);
          on.endText();
          float height = sheet.height() * fit;
          on.drawImage(
              image,
              MARGIN,
              PAGE_HEIGHT - MARGIN - 2 * TITLE - height,
              sheet.width() * fit,
              height);
        }
      }
      ByteArrayOutputStream out = new ByteArrayOutputStream();
      document.save(out);
      return out.toByteArray();
    }
  }

  /** Returns a text in which signs that the letters lack are replaced. */
  private static String written(String text, PDFont font) {
    StringBuilder all = new StringBuilder();
    text.codePoints()
        .forEach(
            c -> {
              String sign = Character.toString(c);
              try {
                font.encode(sign);
                all.append(sign);
              } catch (IOException | IllegalArgumentException e) {
                all.append('?');
              }
            });
    return all.toString();
  }
}
