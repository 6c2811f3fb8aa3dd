package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Path;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.FileKind;
import org.wirekettle.connector.file.JsonSource;
import org.wirekettle.connector.file.RecordPath;
import org.wirekettle.server.data.Data.SourceSettings;

/** A JSON file. */
@ApplicationScoped
public class JsonSourceKind extends FileSourceKind {
    JsonSourceKind(FileSources files) {
        super(FileKind.JSON, files);
    }

    @Override
    void checkFormat(SourceSettings s) {
        FileSources.asked("source.path", () -> RecordPath.of(s.path()));
    }

    @Override
    RecordSource open(Path file, SourceSettings s) {
        return new JsonSource(file, RecordPath.of(s.path()));
    }
}
