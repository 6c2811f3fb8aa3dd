package org.wirekettle;

import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.lang.syntax.ArchRuleDefinition;
import java.util.List;
import org.testng.annotations.Test;

/** The core's packages are one idea each, and each knows only those before it. */
public class ArrowsTest {
    private static final List<String> ORDER = List.of(
            "problem",
            "xml",
            "shape",
            "contract",
            "record",
            "attachment",
            "expression",
            "mapping",
            "soap",
            "http",
            "call",
            "connector",
            "document",
            "input",
            "flow",
            "run",
            "trigger",
            "cli");
    private final JavaClasses classes = new ClassFileImporter()
            .withImportOption(ImportOption.Predefined.DO_NOT_INCLUDE_TESTS)
            .importPackages("org.wirekettle");

    @Test
    public void arrowsGoOnlyDownwards() {
        for (int i = 0; i < ORDER.size() - 1; i++) {
            String[] later = ORDER.subList(i + 1, ORDER.size()).stream()
                    .map(p -> "org.wirekettle." + p + "..")
                    .toArray(String[]::new);
            ArchRuleDefinition.noClasses()
                    .that()
                    .resideInAPackage("org.wirekettle." + ORDER.get(i) + "..")
                    .should()
                    .dependOnClassesThat()
                    .resideInAnyPackage(later)
                    .check(classes);
        }
        slices().matching("org.wirekettle.(*)..").should().beFreeOfCycles().check(classes);
    }

    @Test
    public void theCoreKnowsNoFrameworkNoDatabaseAndNoServer() {
        ArchRuleDefinition.noClasses()
                .that()
                .doNotHaveSimpleName("PostgresCopy")
                .and()
                .resideOutsideOfPackage("org.wirekettle.connector.queue")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("io.quarkus..", "jakarta..", "org.apache.ibatis..", "org.postgresql..")
                .check(classes);
    }

    /** A connector may use what only its driver has; it must do without where that driver is not there. */
    @Test
    public void onlyTheTableAsTargetKnowsOfCopy() {
        ArchRuleDefinition.noClasses()
                .that()
                .doNotHaveSimpleName("TableWriter")
                .and()
                .doNotHaveSimpleName("PostgresCopy")
                .should()
                .dependOnClassesThat()
                .haveSimpleName("PostgresCopy")
                .check(classes);
    }
}
