package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.file.CsvFormat;
import org.wirekettle.connector.file.CsvSource;
import org.wirekettle.connector.file.CsvTarget;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.TargetSettings;
import org.wirekettle.server.data.TargetKind;
import org.wirekettle.xml.FieldNames;

/** A delimited file in the target folder. */
@ApplicationScoped
public class CsvTargetKind implements TargetKind {
    private static final int MAX_COLUMNS = 2_000;
    private final Home home;

    CsvTargetKind(Home home) {
        this.home = home;
    }

    @Override
    public String name() {
        return "csv";
    }

    @Override
    public void check(TargetSettings s) {
        if (s.columns() != null
                && (s.columns().size() > MAX_COLUMNS || s.columns().stream().anyMatch(c -> c == null || c.isBlank()))) {
            throw Wrong.input("target.columns", "A target has at most " + MAX_COLUMNS + " columns, each with a name.");
        }
        if (s.format() != null) {
            s.format().check("target.encoding");
        }
        if (s.file() == null || !s.file().matches("[\\p{L}\\p{N}][\\p{L}\\p{N} ._-]{0,100}")) {
            throw Wrong.input("target.file", "A file name has letters, digits, blanks, dots, _ and -, and no folder.");
        }
        if (s.replace() == null) {
            throw Wrong.input("target.replace", "Choose whether a run adds to the file or replaces it.");
        }
    }

    /** A file made for given columns has its header from the start; one that is there is left alone. */
    @Override
    public void prepare(TargetSettings s) {
        if (s.columns() == null || s.columns().isEmpty() || Files.exists(path(s))) {
            return;
        }
        try (CsvTarget file = target(s, s.columns(), false)) {
            file.begin(new RecordTarget.Pass(0, RecordTarget.Pass.Stage.BEGINS, home.targets()));
        } catch (IOException e) {
            throw Wrong.input("target.file", "The file cannot be written: " + e.getMessage());
        }
    }

    private CsvTarget target(TargetSettings s, List<String> columns, boolean replace) {
        List<String> names = columns.stream().map(FieldNames::name).toList();
        return new CsvTarget(path(s), format(s), columns, names, replace);
    }

    private Path path(TargetSettings s) {
        return home.targets().resolve(s.file());
    }

    private static CsvFormat format(TargetSettings s) {
        return s.format() == null ? CsvFormat.PLAIN : s.format().csv();
    }

    @Override
    public RecordTarget open(TargetSettings s, String environment, List<String> fields) {
        boolean hasColumns = s.columns() != null && !s.columns().isEmpty();
        return target(s, hasColumns ? s.columns() : fields, Boolean.TRUE.equals(s.replace()));
    }

    @Override
    public List<Field> columns(TargetSettings s, String environment) {
        List<String> columns = s.columns() == null ? List.of() : s.columns();
        return columns.stream()
                .map(c -> Field.of(FieldNames.name(c), c, "string"))
                .toList();
    }

    @Override
    public Optional<RecordSource> written(TargetSettings s, String environment) {
        return Files.exists(path(s)) ? Optional.of(new CsvSource(path(s), format(s))) : Optional.empty();
    }

    @Override
    public Optional<String> file(TargetSettings s) {
        return Optional.of(s.file());
    }

    @Override
    public TargetSettings matched(TargetSettings s) {
        try {
            List<String> there = CsvTarget.header(path(s), format(s));
            if (there.isEmpty()) {
                throw Wrong.input("target.header", "The file " + s.file() + " has no header yet.");
            }
            return new TargetSettings(s.file(), s.format(), s.replace(), there, null, null);
        } catch (IOException e) {
            throw Wrong.input("target.file", "The file cannot be read: " + e.getMessage());
        }
    }

    @Override
    public Optional<Path> download(TargetSettings s) {
        return Optional.of(path(s)).filter(Files::exists);
    }
}
