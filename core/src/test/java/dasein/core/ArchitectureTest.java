package dasein.core;

import static com.tngtech.archunit.library.Architectures.layeredArchitecture;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.lang.syntax.ArchRuleDefinition;
import org.junit.jupiter.api.Test;

/**
 * Who may use whom: packages of core form no cycles, math and image use nothing of ours, and core knows no web, no SQL,
 * no Spring.
 */
class ArchitectureTest {
    private static final JavaClasses CORE = new ClassFileImporter()
            .withImportOption(ImportOption.Predefined.DO_NOT_INCLUDE_TESTS)
            .importPackages("dasein.core");

    @Test
    void packagesFormNoCycles() {
        slices().matching("dasein.core.(*)..").should().beFreeOfCycles().check(CORE);
    }

    @Test
    void theLowestLayersUseNothingOfOurs() {
        layeredArchitecture()
                .consideringOnlyDependenciesInLayers()
                .layer("math")
                .definedBy("dasein.core.math..")
                .layer("image")
                .definedBy("dasein.core.image..")
                .layer("rest")
                .definedBy(
                        "dasein.core.format..",
                        "dasein.core.plate..",
                        "dasein.core.lens..",
                        "dasein.core.track..",
                        "dasein.core.solve..",
                        "dasein.core.ground..",
                        "dasein.core.key..",
                        "dasein.core.model..",
                        "dasein.core.cast..",
                        "dasein.core.light..",
                        "dasein.core.render..",
                        "dasein.core.comp..",
                        "dasein.core.presence..",
                        "dasein.core.shot..")
                .whereLayer("math")
                .mayNotAccessAnyLayer()
                .whereLayer("image")
                .mayNotAccessAnyLayer()
                .check(CORE);
    }

    @Test
    void coreIsPlainJava() {
        ArchRuleDefinition.noClasses()
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("org.springframework..", "java.sql..", "jakarta..", "org.apache.ibatis..")
                .check(CORE);
    }
}
