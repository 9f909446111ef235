package posada.server.scenes;

import java.util.List;

/** Hears of a new revision of a scene and carries over what hangs on it. */
public interface RevisionFollower {
  /** Returns a sentence for each thing that could not follow, with the reason. */
  List<String> follow(Revision newest);
}
