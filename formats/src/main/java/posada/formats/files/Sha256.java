package posada.formats.files;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/** SHA-256 of files (FIPS 180-4), as 64 hexadecimal digits. */
public final class Sha256 {
  private Sha256() {}

  /** Returns that of a file's bytes. */
  public static String of(Path file) throws IOException {
    return copied(file, OutputStream.nullOutputStream());
  }

  /** Copies a file's bytes; returns theirs. */
  public static String copied(Path file, OutputStream to) throws IOException {
    try (InputStream bytes = Files.newInputStream(file)) {
      DigestInputStream in = new DigestInputStream(bytes, MessageDigest.getInstance("SHA-256"));
      in.transferTo(to);
      return HexFormat.of().formatHex(in.getMessageDigest().digest());
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }
}
