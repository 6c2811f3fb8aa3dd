package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.RowFormat;
import org.wirekettle.connector.file.SheetFormat;
import org.wirekettle.connector.file.SheetRows;
import org.wirekettle.connector.file.SheetSource;
import org.wirekettle.expression.Expressions;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.TargetSettings;

/** A sheet of a workbook. */
@ApplicationScoped
public class SheetTargetKind extends FileTargetKind {
    SheetTargetKind(Home home, Expressions expressions) {
        super("xlsx", home, expressions);
    }

    private static final String USUAL_SHEET = "Records";
    private static final int MAX_SHEET_CHARS = 31;

    @Override
    void checkFormat(TargetSettings s) {
        String name = sheet(s);
        if (name.length() > MAX_SHEET_CHARS || name.matches(".*[\\[\\]:*?/\\\\].*")) {
            throw Wrong.input(
                    "target.sheet",
                    "A sheet's name has at most " + MAX_SHEET_CHARS + " characters, none of [ ] : * ? / \\.");
        }
    }

    private static String sheet(TargetSettings s) {
        return s.sheet() == null || s.sheet().isBlank() ? USUAL_SHEET : s.sheet();
    }

    @Override
    boolean hasColumns() {
        return true;
    }

    @Override
    RowFormat format(TargetSettings s, List<Field> columns) {
        return new SheetRows(sheet(s), columns);
    }

    @Override
    RecordSource reader(Path file, TargetSettings s) {
        return new SheetSource(file, new SheetFormat(sheet(s), null, true));
    }

    @Override
    List<String> header(Path file, TargetSettings s) throws IOException {
        return SheetRows.header(file, sheet(s));
    }
}
