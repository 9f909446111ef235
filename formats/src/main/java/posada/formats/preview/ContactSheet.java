package posada.formats.preview;

import java.util.List;
import posada.core.image.DisplayImage;

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
}
