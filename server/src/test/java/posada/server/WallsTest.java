package posada.server;

import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import com.tngtech.archunit.lang.ArchRule;
import com.tngtech.archunit.lang.syntax.ArchRuleDefinition;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.FieldSource;

class WallsTest {
  /**
   * The frame of the server (app and storage) knows each other; stations hang below it in a line.
   */
  private static final ArchRule STATIONS_FORM_NO_RING =
      slices()
          .matching(
              "posada.server.(changes|productions|definitions|scenes|shots|layers|quality|board|ledger|estimates|runs|review|workers)..")
          .should()
          .beFreeOfCycles();

  private static final ArchRule ONLY_REPOSITORIES_TALK_TO_THE_DATABASE =
      ArchRuleDefinition.noClasses()
          .that()
          .haveSimpleNameNotEndingWith("Repository")
          .and()
          .resideOutsideOfPackage("posada.server.storage.generated..")
          .should()
          .dependOnClassesThat()
          .resideInAPackage("org.jooq..");

  private static final ArchRule THE_SERVER_KNOWS_NO_COMMAND_LINE =
      ArchRuleDefinition.noClasses()
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage("posada.cli..", "posada.demo..");

  /** Stations ask each other's services. */
  private static final ArchRule NO_STATION_USES_THE_REPOSITORY_OF_ANOTHER =
      ArchRuleDefinition.classes()
          .that()
          .haveSimpleNameEndingWith("Repository")
          .should()
          .bePackagePrivate();

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
          STATIONS_FORM_NO_RING,
          ONLY_REPOSITORIES_TALK_TO_THE_DATABASE,
          THE_SERVER_KNOWS_NO_COMMAND_LINE,
          NO_STATION_USES_THE_REPOSITORY_OF_ANOTHER,
          NOTHING_BEHIND_THE_DOOR);

  @ParameterizedTest
  @FieldSource("RULES")
  void stands(ArchRule rule) {
    rule.check(
        new ClassFileImporter()
            .withImportOption(new DoNotIncludeTests())
            .importPackages("posada.server"));
  }
}
