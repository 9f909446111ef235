package posada.server.definitions;

import java.util.List;

/** What uses definitions, and must not lose them. */
public interface DefinitionUser {
  /** Returns what uses a definition, such as {@code shot summit}. */
  List<String> users(String kind, Definition<?> d);
}
