package posada.server.definitions;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.springframework.stereotype.Service;
import posada.core.assembly.Input;
import posada.core.assembly.Stack;
import posada.server.app.Stale;
import posada.server.productions.Production;

/** Making and changing stacks of inputs that are put together. */
@Service
public class Stacks extends Definitions<Stack> {
  public static final String KIND = "stack";

  Stacks(Parts parts) {
    super(KIND, Stack.class, Stale.Kind.STACKS, Map.of(), parts);
  }

  @Override
  boolean needed() {
    return false;
  }

  /** What was rendered is not copied, so neither is what is made of it. */
  @Override
  public void copy(Production from, Production to) {}

  @Override
  String difference(Stack a, Stack b) {
    List<String> before = a.inputs().stream().map(Input::id).toList();
    List<String> now = b.inputs().stream().map(Input::id).toList();
    if (!before.equals(now)) {
      return now.size() > before.size()
          ? "a new input"
          : now.size() < before.size() ? "one input less" : "order";
    }
    for (int i = 0; i < now.size(); i++) {
      Input x = a.inputs().get(i), y = b.inputs().get(i);
      if (!x.equals(y)) {
        return what(x, y) + " of " + y.name();
      }
    }
    return "settings";
  }

  private static String what(Input a, Input b) {
    if (!a.name().equals(b.name())) {
      return "name";
    }
    if (!Objects.equals(a.operator(), b.operator())) {
      return "operator";
    }
    if (!a.strength().equals(b.strength())) {
      return "strength";
    }
    if (!a.mask().equals(b.mask())) {
      return "mask";
    }
    if (!a.corrections().equals(b.corrections())) {
      return "corrections";
    }
    return a.muted() != b.muted() || a.solo() != b.solo() ? "mute and solo" : "source";
  }
}
