package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Path;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.FileKind;
import org.wirekettle.connector.file.RecordPath;
import org.wirekettle.connector.file.XmlSource;
import org.wirekettle.server.data.Data.SourceSettings;

/** An XML file. */
@ApplicationScoped
public class XmlSourceKind extends FileSourceKind {
    XmlSourceKind(FileSources files) {
        super(FileKind.XML, files);
    }

    @Override
    void checkFormat(SourceSettings s) {
        FileSources.asked("source.path", () -> RecordPath.of(s.path()));
    }

    @Override
    RecordSource open(Path file, SourceSettings s) {
        return new XmlSource(file, RecordPath.of(s.path()));
    }
}
