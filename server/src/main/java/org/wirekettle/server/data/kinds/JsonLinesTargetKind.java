package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Path;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.JsonLinesSource;
import org.wirekettle.connector.file.JsonRows;
import org.wirekettle.connector.file.RowFormat;
import org.wirekettle.expression.Expressions;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.data.Data.TargetSettings;

/** A file with a JSON value on each line. */
@ApplicationScoped
public class JsonLinesTargetKind extends FileTargetKind {
    JsonLinesTargetKind(Home home, Expressions expressions) {
        super("jsonl", home, expressions);
    }

    @Override
    RowFormat format(TargetSettings s, List<Field> columns) {
        return new JsonRows(columns, true);
    }

    @Override
    RecordSource reader(Path file, TargetSettings s) {
        return new JsonLinesSource(file, "UTF-8");
    }
}
