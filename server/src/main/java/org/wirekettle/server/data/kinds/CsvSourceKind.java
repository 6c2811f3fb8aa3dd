package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.util.Optional;
import org.wirekettle.connector.CsvFormat;
import org.wirekettle.connector.CsvSource;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.server.common.Uploads;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.SourceSettings;
import org.wirekettle.server.data.SourceKind;

/** An uploaded delimited file. */
@ApplicationScoped
public class CsvSourceKind implements SourceKind {
    private final Uploads uploads;

    CsvSourceKind(Uploads uploads) {
        this.uploads = uploads;
    }

    @Override
    public String name() {
        return "csv";
    }

    @Override
    public void check(SourceSettings s) {
        if (!uploads.isThere(s.file())) {
            throw Wrong.input("source.file", "Upload the file first.");
        }
        if (s.format() == null) {
            throw Wrong.input("source.encoding", "Say how the file is written: delimiter, quote, encoding, header.");
        }
        s.format().check("source.encoding");
        refuseOthers(s);
    }

    /** Its lines would be read as if they were records, and every one of them would be wrong. */
    private void refuseOthers(SourceSettings s) {
        try {
            CsvFormat.otherKind(uploads.path(s.file())).ifPresent(kind -> {
                throw Wrong.input(
                        "source.kind",
                        "The file " + (s.fileName() == null ? "" : s.fileName() + " ") + "is " + kind
                                + ", not a delimited file. Save it as one, with a column for each field, and choose that.");
            });
        } catch (IOException e) {
            throw Wrong.input("source.file", "The file cannot be read: " + e.getMessage());
        }
    }

    @Override
    public RecordSource open(SourceSettings s, String environment) {
        return new CsvSource(uploads.path(s.file()), s.format().csv());
    }

    @Override
    public Optional<String> upload(SourceSettings s) {
        return Optional.of(s.file());
    }
}
