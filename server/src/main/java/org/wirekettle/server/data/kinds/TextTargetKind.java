package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Path;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.CsvFormat;
import org.wirekettle.connector.file.CsvSource;
import org.wirekettle.connector.file.RowFormat;
import org.wirekettle.connector.file.TextRows;
import org.wirekettle.expression.Expressions;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.data.Data.TargetSettings;

/** A file of texts as they are, such as answers as they came. */
@ApplicationScoped
public class TextTargetKind extends FileTargetKind {
    /** Shown line by line: these two stand in no text. */
    private static final CsvFormat LINES = new CsvFormat('\u0001', '\u0002', "UTF-8", false);

    TextTargetKind(Home home, Expressions expressions) {
        super("text", home, expressions);
    }

    @Override
    RowFormat format(TargetSettings s, List<Field> columns) {
        return new TextRows();
    }

    @Override
    RecordSource reader(Path file, TargetSettings s) {
        return new CsvSource(file, LINES);
    }
}
