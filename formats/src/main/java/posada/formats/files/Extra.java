package posada.formats.files;

/** What is made of a strand's frames when all of them are there. */
public enum Extra {
  /** H.264 in MP4, as the view transform shows the beauty. */
  FILM("mp4", "a film"),
  /** Frames from all over the range on one picture. */
  CONTACT_SHEET("png", "a contact sheet"),
  /** The files with their sizes and hashes, and what each frame was made with. */
  MANIFEST("json", "a manifest");

  private final String extension;
  private final String title;

  Extra(String extension, String title) {
    this.extension = extension;
    this.title = title;
  }

  public String extension() {
    return extension;
  }

  /** Returns what it is called in sentences. */
  public String title() {
    return title;
  }

  /** Returns whether it shows the beauty. */
  boolean shows() {
    return this != MANIFEST;
  }
}
