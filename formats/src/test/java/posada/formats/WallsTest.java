package posada.formats;

import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import com.tngtech.archunit.lang.syntax.ArchRuleDefinition;

@AnalyzeClasses(packages = "posada.formats", importOptions = DoNotIncludeTests.class)
class WallsTest {
  @ArchTest
  static final ArchRule FORMATS_KNOW_ONLY_CORE_AND_THEIR_LIBRARIES =
      ArchRuleDefinition.classes()
          .should()
          .onlyDependOnClassesThat()
          .resideInAnyPackage(
              "posada.formats..", "posada.core..", "java..", "javax.imageio..", "org.w3c.dom..", "de.javagl..");
}
