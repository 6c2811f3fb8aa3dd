package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.file.Path;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.FileKind;
import org.wirekettle.connector.file.FixedSource;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data;
import org.wirekettle.server.data.Data.SourceSettings;

/** A file of fixed width. */
@ApplicationScoped
public class FixedSourceKind extends FileSourceKind {
    FixedSourceKind(FileSources files) {
        super(FileKind.FIXED, files);
    }

    @Override
    void checkFormat(SourceSettings s) {
        if (s.fixed() == null) {
            throw Wrong.input("source.fixed", "Say which columns a line has: a name, where it begins, how long it is.");
        }
        Data.checkEncoding(s.fixed().encoding(), "source.encoding");
    }

    @Override
    RecordSource open(Path file, SourceSettings s) throws IOException {
        return new FixedSource(file, s.fixed());
    }
}
