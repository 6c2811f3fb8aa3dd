package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Path;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.FileKind;
import org.wirekettle.connector.file.SheetSource;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.SourceSettings;

/** A sheet of a workbook. */
@ApplicationScoped
public class SheetSourceKind extends FileSourceKind {
    SheetSourceKind(FileSources files) {
        super(FileKind.XLSX, files);
    }

    @Override
    void checkFormat(SourceSettings s) {
        if (s.sheet() == null) {
            throw Wrong.input("source.sheet", "Choose the sheet.");
        }
    }

    @Override
    RecordSource open(Path file, SourceSettings s) {
        return new SheetSource(file, s.sheet());
    }
}
