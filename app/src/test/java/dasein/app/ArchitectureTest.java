package dasein.app;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.dependencies.SlicesRuleDefinition;
import org.junit.jupiter.api.Test;

/** Who may use whom in the web application: downwards only, as docs/architecture.md draws it. */
class ArchitectureTest {
    private static final JavaClasses APP = new ClassFileImporter()
            .withImportOption(ImportOption.Predefined.DO_NOT_INCLUDE_TESTS)
            .importPackages("dasein.app");

    @Test
    void layersUseOnlyWhatLiesBelow() {
        layeredArchitecture()
                .consideringOnlyDependenciesInLayers()
                .layer("access")
                .definedBy("dasein.app.access..")
                .layer("page")
                .definedBy("dasein.app.page..")
                .layer("stage")
                .definedBy("dasein.app.stage..")
                .layer("scene")
                .definedBy("dasein.app.scene..")
                .layer("task")
                .definedBy("dasein.app.task..")
                .layer("store")
                .definedBy("dasein.app.store..")
                .whereLayer("access")
                .mayNotBeAccessedByAnyLayer()
                .whereLayer("page")
                .mayOnlyBeAccessedByLayers("access")
                .whereLayer("stage")
                .mayOnlyBeAccessedByLayers("page")
                .whereLayer("scene")
                .mayOnlyBeAccessedByLayers("stage", "page")
                .whereLayer("task")
                .mayOnlyBeAccessedByLayers("stage", "page", "scene")
                .check(APP);
    }

    /** A stage knows the stages, but of no other stage how it works. */
    @Test
    void stagesFormNoCycles() {
        SlicesRuleDefinition.slices()
                .matching("dasein.app.stage.(*)..")
                .should()
                .beFreeOfCycles()
                .check(APP);
    }

    @Test
    void pagesHoldNoSql() {
        noClasses()
                .that()
                .resideOutsideOfPackages("dasein.app.store..", "dasein.app.task..", "dasein.app")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("org.apache.ibatis..", "java.sql..")
                .check(APP);
    }
}
