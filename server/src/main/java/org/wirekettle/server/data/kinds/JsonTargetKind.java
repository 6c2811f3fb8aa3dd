package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Path;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.JsonRows;
import org.wirekettle.connector.file.JsonSource;
import org.wirekettle.connector.file.RecordPath;
import org.wirekettle.connector.file.RowFormat;
import org.wirekettle.expression.Expressions;
import org.wirekettle.record.JsonTree;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.data.Data.TargetSettings;

/** A file with an array of JSON values. */
@ApplicationScoped
public class JsonTargetKind extends FileTargetKind {
    JsonTargetKind(Home home, Expressions expressions) {
        super("json", home, expressions);
    }

    @Override
    RowFormat format(TargetSettings s, List<Field> columns) {
        return new JsonRows(columns, false);
    }

    @Override
    RecordSource reader(Path file, TargetSettings s) {
        return new JsonSource(file, RecordPath.of(JsonTree.ITEMS));
    }
}
