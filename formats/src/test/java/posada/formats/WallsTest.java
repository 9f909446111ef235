package posada.formats;

import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import com.tngtech.archunit.lang.ArchRule;
import com.tngtech.archunit.lang.syntax.ArchRuleDefinition;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.FieldSource;

class WallsTest {
  private static final ArchRule FORMATS_KNOW_ONLY_CORE_AND_THEIR_LIBRARIES =
      ArchRuleDefinition.classes()
          .should()
          .onlyDependOnClassesThat()
          .resideInAnyPackage(
              "posada.formats..",
              "posada.core..",
              "java..",
              "javax.imageio..",
              "javax.sound.sampled..",
              "org.w3c.dom..",
              "de.javagl..",
              "tools.jackson..",
              "com.github.benmanes.caffeine..",
              "com.fasterxml.jackson.core..",
              "com.twelvemonkeys..",
              "org.lwjgl..",
              "com.dylibso.chicory..",
              "org.bytedeco..",
              "org.apache.pdfbox..");

  /** The glTF library has a Jackson of its own; only its errors are looked at. */
  private static final ArchRule ONE_JACKSON =
      ArchRuleDefinition.noClasses()
          .that()
          .doNotHaveSimpleName("GltfFile")
          .should()
          .dependOnClassesThat()
          .resideInAPackage("com.fasterxml.jackson..");

  /** Pictures are had through the door of {@code trace}, not from its rooms. */
  private static final ArchRule NOTHING_BEHIND_THE_DOOR =
      ArchRuleDefinition.noClasses()
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(
              "posada.core.trace.stage..",
              "posada.core.trace.path..",
              "posada.core.trace.film..",
              "posada.core.trace.bake..");

  private static final java.util.List<ArchRule> RULES =
      java.util.List.of(
          FORMATS_KNOW_ONLY_CORE_AND_THEIR_LIBRARIES, ONE_JACKSON, NOTHING_BEHIND_THE_DOOR);

  @ParameterizedTest
  @FieldSource("RULES")
  void stands(ArchRule rule) {
    rule.check(
        new ClassFileImporter()
            .withImportOption(new DoNotIncludeTests())
            .importPackages("posada.formats"));
  }
}
