package posada.core.geometry;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.lang.invoke.MethodHandles;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/**
 * A way of walking through the nodes of a {@link Tree}.
 *
 * <p>The compiler makes fast code of a walk only where it sees one kind of leaves and one set of
 * constants. So the classes that walk are templates: each is defined anew, from the same bytes, for
 * every kind of leaves and every octant of directions that needs code of its own.
 */
abstract class Walk {
  private record Use(Class<?> template, Class<? extends Leaves> leaves, int octant) {}

  private static final Map<Use, Walk> DEFINED = new ConcurrentHashMap<>();

  /**
   * Returns the walk for one kind of leaves.
   *
   * @param template a class with a constructor without parameters
   * @param octant what {@link #octant(MethodHandles.Lookup)} tells that copy of the template
   */
  static Walk of(Class<? extends Walk> template, Class<? extends Leaves> leaves, int octant) {
    return DEFINED.computeIfAbsent(new Use(template, leaves, octant), Walk::define);
  }

  private static Walk define(Use use) {
    String file = use.template.getSimpleName() + ".class";
    try (InputStream in = use.template.getResourceAsStream(file)) {
      return (Walk)
          MethodHandles.lookup()
              .defineHiddenClassWithClassData(in.readAllBytes(), use.octant, true)
              .lookupClass()
              .getDeclaredConstructor()
              .newInstance();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (ReflectiveOperationException e) {
      throw new IllegalStateException(file + " cannot be made for " + use.leaves.getName(), e);
    }
  }

  /** Returns the octant that a copy of a template was made for. */
  static int octant(MethodHandles.Lookup copy) {
    try {
      return MethodHandles.classData(copy, "_", Integer.class);
    } catch (IllegalAccessException e) {
      throw new IllegalStateException(e);
    }
  }

  // The two share no code on purpose: what a node test finds lives in registers, and a method that
  // handed it over would have to put it into memory.

  /** Shortens the ray to its nearest hit; visits near leaves first. */
  abstract void nearest(float[] nodes, Ray r, Leaves leaves);

  /** Returns true as soon as there is a hit before the ray's end. */
  abstract boolean any(float[] nodes, Ray r, Leaves leaves);
}
