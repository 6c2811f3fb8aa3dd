package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.CsvFormat;
import org.wirekettle.connector.file.CsvRows;
import org.wirekettle.connector.file.CsvSource;
import org.wirekettle.connector.file.RowFormat;
import org.wirekettle.expression.Expressions;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.data.Data.TargetSettings;

/** A delimited file in the target folder. */
@ApplicationScoped
public class CsvTargetKind extends FileTargetKind {
    CsvTargetKind(Home home, Expressions expressions) {
        super("csv", home, expressions);
    }

    @Override
    void checkFormat(TargetSettings s) {
        if (s.format() != null) {
            s.format().check("target.encoding");
        }
    }

    private static CsvFormat written(TargetSettings s) {
        return s.format() == null ? CsvFormat.PLAIN : s.format().csv();
    }

    @Override
    boolean hasColumns() {
        return true;
    }

    @Override
    RowFormat format(TargetSettings s, List<Field> columns) {
        return new CsvRows(
                written(s),
                columns.stream().map(Field::label).toList(),
                columns.stream().map(Field::name).toList());
    }

    @Override
    RecordSource reader(Path file, TargetSettings s) {
        return new CsvSource(file, written(s));
    }

    @Override
    List<String> header(Path file, TargetSettings s) throws IOException {
        return CsvRows.header(file, written(s));
    }
}
