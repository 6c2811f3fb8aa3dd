package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Path;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.CsvSource;
import org.wirekettle.connector.file.FileKind;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.SourceSettings;

/** A delimited file. */
@ApplicationScoped
public class CsvSourceKind extends FileSourceKind {
    CsvSourceKind(FileSources files) {
        super(FileKind.CSV, files);
    }

    @Override
    void checkFormat(SourceSettings s) {
        if (s.format() == null) {
            throw Wrong.input("source.encoding", "Say how the file is written: delimiter, quote, encoding, header.");
        }
        s.format().check("source.encoding");
    }

    @Override
    RecordSource open(Path file, SourceSettings s) {
        return new CsvSource(file, s.format().csv());
    }
}
