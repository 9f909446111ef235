package posada.server.scenes;

import java.util.List;
import java.util.Map;

/** Carries over to another revision of a scene what hangs on one. */
public interface RevisionFollower {
  /**
   * Returns a sentence for each thing that could not follow, with the reason.
   *
   * @param renamed names of objects and cameras that are others now
   */
  List<String> unfit(Revision to, Map<String, String> renamed);

  /** Carries over what can follow, and returns sentences about the rest. */
  List<String> follow(Revision to, Map<String, String> renamed);
}
