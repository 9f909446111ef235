package posada.cli;

import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import com.tngtech.archunit.lang.ArchRule;
import com.tngtech.archunit.lang.syntax.ArchRuleDefinition;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.FieldSource;

class WallsTest {
  /** Words and options: the work is done below. */
  private static final ArchRule THE_COMMAND_LINE_KNOWS_ONLY_CORE_AND_FORMATS =
      ArchRuleDefinition.classes()
          .should()
          .onlyDependOnClassesThat()
          .resideInAnyPackage(
              "posada.cli..",
              "posada.core..",
              "posada.formats..",
              "java..",
              "picocli..",
              "tools.jackson..");

  /** Pictures are had through the door of {@code trace}, not from its rooms. */
  private static final ArchRule NOTHING_BEHIND_THE_DOOR =
      ArchRuleDefinition.noClasses()
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(
              "posada.core.trace.stage..",
              "posada.core.trace.path..",
              "posada.core.trace.bake..",
              "posada.core.trace.preview..");

  private static final java.util.List<ArchRule> RULES =
      java.util.List.of(THE_COMMAND_LINE_KNOWS_ONLY_CORE_AND_FORMATS, NOTHING_BEHIND_THE_DOOR);

  @ParameterizedTest
  @FieldSource("RULES")
  void stands(ArchRule rule) {
    rule.check(
        new ClassFileImporter()
            .withImportOption(new DoNotIncludeTests())
            .importPackages("posada.cli"));
  }
}
