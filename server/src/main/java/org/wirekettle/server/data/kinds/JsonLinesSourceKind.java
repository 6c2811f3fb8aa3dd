package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Path;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.FileKind;
import org.wirekettle.connector.file.JsonLinesSource;
import org.wirekettle.server.data.Data;
import org.wirekettle.server.data.Data.SourceSettings;

/** A file with a JSON value on each line. */
@ApplicationScoped
public class JsonLinesSourceKind extends FileSourceKind {
    JsonLinesSourceKind(FileSources files) {
        super(FileKind.JSON_LINES, files);
    }

    @Override
    void checkFormat(SourceSettings s) {
        Data.checkEncoding(s.encoding(), "source.encoding");
    }

    @Override
    RecordSource open(Path file, SourceSettings s) {
        return new JsonLinesSource(file, s.encoding() == null ? "UTF-8" : s.encoding());
    }
}
