package posada.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import com.tngtech.archunit.lang.syntax.ArchRuleDefinition;

@AnalyzeClasses(packages = "posada.core", importOptions = DoNotIncludeTests.class)
class WallsTest {
  @ArchTest
  static final ArchRule CORE_STANDS_ALONE =
      ArchRuleDefinition.classes()
          .should()
          .onlyDependOnClassesThat()
          .resideInAnyPackage("posada.core..", "java.lang..", "java.util..", "java.nio.charset..", "java.security..");

  @ArchTest
  static final ArchRule CORE_STARTS_NO_THREADS =
      noClasses().should().dependOnClassesThat().haveFullyQualifiedName("java.util.concurrent.Executors");

  @ArchTest
  static final ArchRule GEOMETRY_AND_IMAGE_KNOW_NOTHING_ABOVE =
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

  @ArchTest
  static final ArchRule TRACE_KNOWS_NOTHING_OF_PLAN =
      noClasses()
          .that()
          .resideInAPackage("posada.core.trace..")
          .should()
          .dependOnClassesThat()
          .resideInAPackage("posada.core.plan..");
}
