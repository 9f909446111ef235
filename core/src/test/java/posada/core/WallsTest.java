package posada.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import com.tngtech.archunit.lang.ArchRule;
import com.tngtech.archunit.lang.syntax.ArchRuleDefinition;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.FieldSource;

class WallsTest {
  private static final ArchRule CORE_STANDS_ALONE =
      ArchRuleDefinition.classes()
          .should()
          .onlyDependOnClassesThat()
          .resideInAnyPackage(
              "posada.core..",
              "java.lang..",
              "java.util..",
              "java.nio.charset..",
              "java.security..",
              "java.text..",
              "java.io..",
              "jdk.incubator.vector..");

  private static final ArchRule CORE_STARTS_NO_THREADS =
      noClasses()
          .should()
          .dependOnClassesThat()
          .haveFullyQualifiedName("java.util.concurrent.Executors");

  private static final ArchRule GEOMETRY_AND_IMAGE_KNOW_NOTHING_ABOVE =
      noClasses()
          .that()
          .resideInAnyPackage("posada.core.geometry..", "posada.core.image..")
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(
              "posada.core.scene..",
              "posada.core.motion..",
              "posada.core.light..",
              "posada.core.material..",
              "posada.core.trace..",
              "posada.core.plan..");

  private static final ArchRule TRACE_KNOWS_NOTHING_OF_PLAN =
      noClasses()
          .that()
          .resideInAPackage("posada.core.trace..")
          .should()
          .dependOnClassesThat()
          .resideInAPackage("posada.core.plan..");

  private static final ArchRule HELPERS_OF_TRACE_DO_NOT_KNOW_IT =
      noClasses()
          .that()
          .resideInAnyPackage("posada.core.denoise..", "posada.core.irradiance..")
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(
              "posada.core.scene..",
              "posada.core.motion..",
              "posada.core.trace..",
              "posada.core.plan..");

  private static final java.util.List<ArchRule> RULES =
      java.util.List.of(
          CORE_STANDS_ALONE,
          CORE_STARTS_NO_THREADS,
          GEOMETRY_AND_IMAGE_KNOW_NOTHING_ABOVE,
          TRACE_KNOWS_NOTHING_OF_PLAN,
          HELPERS_OF_TRACE_DO_NOT_KNOW_IT);

  @ParameterizedTest
  @FieldSource("RULES")
  void stands(ArchRule rule) {
    rule.check(
        new ClassFileImporter()
            .withImportOption(new DoNotIncludeTests())
            .importPackages("posada.core"));
  }
}
