package posada.server.definitions;

import org.springframework.stereotype.Service;
import posada.core.settings.PassSettings;
import posada.server.app.Stale;

/** Making and changing sets of passes, which layers take over. */
@Service
public class PassSets extends Definitions<PassSettings> {
  public static final String KIND = "pass set";

  PassSets(Parts parts) {
    super(KIND, PassSettings.class, Stale.Kind.PASSSETS, Standards.passSets(), parts);
  }

  @Override
  String difference(PassSettings a, PassSettings b) {
    return "passes";
  }
}
