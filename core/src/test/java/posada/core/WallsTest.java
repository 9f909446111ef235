package posada.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;

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
              "java.nio",
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
              "posada.core.settings..",
              "posada.core.trace..",
              "posada.core.plan..");

  private static final ArchRule TRACE_KNOWS_NOTHING_OF_PLAN =
      noClasses()
          .that()
          .resideInAPackage("posada.core.trace..")
          .should()
          .dependOnClassesThat()
          .resideInAPackage("posada.core.plan..");

  /** What is asked for knows nothing of how it is done. */
  private static final ArchRule SETTINGS_KNOW_SCENES_AND_PICTURES_ALONE =
      ArchRuleDefinition.classes()
          .that()
          .resideInAPackage("posada.core.settings..")
          .should()
          .onlyDependOnClassesThat()
          .resideInAnyPackage(
              "posada.core.settings..",
              "posada.core.scene..",
              "posada.core.geometry..",
              "posada.core.image..",
              "java..");

  /** A frame's scene is placed, then come pictures, paths, baking, the door, and quick pictures. */
  private static final ArchRule ROOMS_OF_TRACE_STAND_ABOVE_EACH_OTHER =
      layeredArchitecture()
          .consideringOnlyDependenciesInLayers()
          .layer("stage")
          .definedBy("posada.core.trace.stage")
          .layer("film")
          .definedBy("posada.core.trace.film")
          .layer("path")
          .definedBy("posada.core.trace.path")
          .layer("bake")
          .definedBy("posada.core.trace.bake")
          .layer("door")
          .definedBy("posada.core.trace")
          .layer("preview")
          .definedBy("posada.core.trace.preview")
          .whereLayer("film")
          .mayOnlyBeAccessedByLayers("path", "bake", "door")
          .whereLayer("path")
          .mayOnlyBeAccessedByLayers("bake", "door")
          .whereLayer("bake")
          .mayOnlyBeAccessedByLayers("door")
          .whereLayer("door")
          .mayOnlyBeAccessedByLayers("preview")
          .whereLayer("preview")
          .mayNotBeAccessedByAnyLayer();

  /** What the rooms of the renderer show each other is for them alone. */
  private static final ArchRule ONLY_TRACE_LOOKS_INTO_ITS_ROOMS =
      noClasses()
          .that()
          .resideOutsideOfPackage("posada.core.trace..")
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(
              "posada.core.trace.stage..",
              "posada.core.trace.film..",
              "posada.core.trace.path..",
              "posada.core.trace.bake..");

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
          SETTINGS_KNOW_SCENES_AND_PICTURES_ALONE,
          ROOMS_OF_TRACE_STAND_ABOVE_EACH_OTHER,
          ONLY_TRACE_LOOKS_INTO_ITS_ROOMS,
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
