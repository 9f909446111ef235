package posada.server.door;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.security.crypto.bcrypt.BCryptPasswordEncoder;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.stereotype.Component;
import posada.server.app.PosadaProperties;

/**
 * The passwords, if any are asked for: one that lets everything be done, and one for looking only.
 * A server that others can reach has one in any case.
 */
@Component
class Passwords {
  private static final Logger LOG = LoggerFactory.getLogger(Passwords.class);

  /** File of the password that was made, as a hash. */
  private static final String FILE = "password";

  /** Signs of a password that is made: none that are mistaken for each other. */
  private static final String SIGNS = "abcdefghjkmnpqrstuvwxyz23456789";

  private static final int GROUPS = 4, GROUP = 5;

  /** Bytes of a password, at most: no more are hashed. */
  private static final int LONGEST = 72;

  /** What somebody may do. */
  enum Right {
    NONE,
    LOOK,
    ALL
  }

  private final PasswordEncoder encoder = new BCryptPasswordEncoder();

  /** Hashes; null where there is no such password. */
  private final String all, look;

  Passwords(PosadaProperties properties, Reach reach) throws IOException {
    String given = properties.password();
    look = properties.viewPassword().isEmpty() ? null : hash(properties.viewPassword());
    if (!given.isEmpty()) {
      all = hash(given);
    } else if (!reach.others() && look == null) {
      all = null;
    } else {
      all = made(Path.of(properties.home()));
    }
  }

  private String hash(String password) {
    if (tooLong(password)) {
      throw new IllegalArgumentException(
          "a password may have " + LONGEST + " bytes; choose a shorter one");
    }
    return encoder.encode(password);
  }

  private static boolean tooLong(String password) {
    return password.getBytes(StandardCharsets.UTF_8).length > LONGEST;
  }

  /** Returns the hash of the password that was made once; makes it and says it if there is none. */
  private String made(Path home) throws IOException {
    Path file = home.resolve(FILE);
    if (Files.exists(file)) {
      return Files.readString(file).strip();
    }
    SecureRandom random = new SecureRandom();
    StringBuilder s = new StringBuilder();
    for (int i = 0; i < GROUPS * GROUP; i++) {
      s.append(i > 0 && i % GROUP == 0 ? "-" : "");
      s.append(SIGNS.charAt(random.nextInt(SIGNS.length())));
    }
    String hash = hash(s.toString());
    Files.createDirectories(home);
    Files.createFile(
        file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
    Files.writeString(file, hash + "\n");
    LOG.warn(
        "Others can reach this server, so it asks for a password. It is said only now: {} ."
            + " POSADA_PASSWORD chooses another; without the file {} the next start makes one.",
        s,
        FILE);
    return hash;
  }

  /** Returns true if a password is asked for. */
  boolean needed() {
    return all != null;
  }

  /** Returns what a password lets do. */
  Right right(String password) {
    if (tooLong(password)) {
      return Right.NONE;
    }
    // Both are tried whatever the first says, so that the time tells nothing.
    boolean whole = all != null && encoder.matches(password, all);
    boolean part = look != null && encoder.matches(password, look);
    return whole ? Right.ALL : part ? Right.LOOK : Right.NONE;
  }
}
