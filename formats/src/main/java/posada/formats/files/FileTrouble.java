package posada.formats.files;

import java.nio.file.AccessDeniedException;
import java.nio.file.NoSuchFileException;

/** Says what is wrong with a file where the library's exceptions hold no more than its name. */
public final class FileTrouble {
  private FileTrouble() {}

  /** Returns a sentence that names the file. */
  public static String sentence(Throwable e) {
    if (e instanceof NoSuchFileException missing) {
      return missing.getFile() + " is not there";
    }
    if (e instanceof AccessDeniedException denied) {
      return denied.getFile() + " may not be read or written by this user";
    }
    return e.getMessage() == null ? e.toString() : e.getMessage();
  }
}
