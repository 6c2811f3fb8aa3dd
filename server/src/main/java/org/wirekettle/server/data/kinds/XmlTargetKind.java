package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Path;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.RecordPath;
import org.wirekettle.connector.file.RowFormat;
import org.wirekettle.connector.file.XmlRows;
import org.wirekettle.connector.file.XmlSource;
import org.wirekettle.expression.Expressions;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.data.Data.TargetSettings;

/** An XML document of which each row is an element. */
@ApplicationScoped
public class XmlTargetKind extends FileTargetKind {
    XmlTargetKind(Home home, Expressions expressions) {
        super("xml", home, expressions);
    }

    private static final String USUAL_ROOT = "records";

    @Override
    void checkFormat(TargetSettings s) {
        FileSources.asked("target.root", () -> format(s, List.of()));
    }

    private static String root(TargetSettings s) {
        return s.root() == null || s.root().isBlank() ? USUAL_ROOT : s.root();
    }

    @Override
    RowFormat format(TargetSettings s, List<Field> columns) {
        return new XmlRows(root(s), s.row());
    }

    @Override
    RecordSource reader(Path file, TargetSettings s) {
        return new XmlSource(file, RecordPath.of(root(s) + "/*"));
    }
}
