package posada.core.assembly;

import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class OperatorDocsTest {
  @ParameterizedTest
  @EnumSource(Operator.class)
  void hasItsFormulaAndItsPicture(Operator o) throws Exception {
    Path docs = Path.of("../docs");
    String name = o.name().toLowerCase(Locale.ROOT).replace('_', '-');
    String line =
        "| %s | %s | ![%s](operators/%s.jpg) |"
            .formatted(o.label(), o.formula().replace("|", "\\|"), o.label(), name);
    assertTrue(Files.readString(docs.resolve("assembly.md")).contains(line), line);
    assertTrue(Files.exists(docs.resolve("operators/" + name + ".jpg")), name);
  }
}
