package posada.server.storage;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import org.h2.store.fs.FileBase;
import org.h2.store.fs.FilePath;
import org.h2.store.fs.FilePathWrapper;

/** A file system for the database, {@code jdbc:h2:filling:PATH}, whose disk can be full. */
public final class FillingDisk extends FilePathWrapper {
  /** True while nothing can be written. */
  static volatile boolean full;

  static void register() {
    FilePath.register(new FillingDisk());
  }

  @Override
  public String getScheme() {
    return "filling";
  }

  @Override
  public FileChannel open(String mode) throws IOException {
    return new Channel(super.open(mode));
  }

  private static final class Channel extends FileBase {
    private final FileChannel to;

    private Channel(FileChannel to) {
      this.to = to;
    }

    private static void write() throws IOException {
      if (full) {
        throw new IOException("No space left on device");
      }
    }

    @Override
    public int read(ByteBuffer b) throws IOException {
      return to.read(b);
    }

    @Override
    public int read(ByteBuffer b, long position) throws IOException {
      return to.read(b, position);
    }

    @Override
    public int write(ByteBuffer b) throws IOException {
      write();
      return to.write(b);
    }

    @Override
    public int write(ByteBuffer b, long position) throws IOException {
      write();
      return to.write(b, position);
    }

    @Override
    public long position() throws IOException {
      return to.position();
    }

    @Override
    public FileChannel position(long p) throws IOException {
      to.position(p);
      return this;
    }

    @Override
    public long size() throws IOException {
      return to.size();
    }

    @Override
    public FileChannel truncate(long size) throws IOException {
      to.truncate(size);
      return this;
    }

    @Override
    public void force(boolean meta) throws IOException {
      to.force(meta);
    }

    @Override
    public FileLock tryLock(long position, long size, boolean shared) throws IOException {
      return to.tryLock(position, size, shared);
    }

    @Override
    protected void implCloseChannel() throws IOException {
      to.close();
    }
  }
}
