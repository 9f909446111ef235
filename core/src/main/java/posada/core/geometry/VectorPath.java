package posada.core.geometry;

/**
 * Whether rays are traced with the machine's vector unit. It needs the module {@code
 * jdk.incubator.vector} (the commands in {@code bin/} ask for it) and vectors of 256 bits; the
 * system property {@code posada.vector=off} turns it off. Pictures are the same either way.
 */
public final class VectorPath {
  /** True if the vector unit is used in this process. */
  public static final boolean ON =
      !"off".equals(System.getProperty("posada.vector"))
          && ModuleLayer.boot().findModule("jdk.incubator.vector").isPresent()
          && WideWalk.supported();

  private VectorPath() {}
}
