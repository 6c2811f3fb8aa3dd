package org.wirekettle.server.data.kinds;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Optional;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.FileKind;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.SourceSettings;
import org.wirekettle.server.data.SourceKind;

/** A file of one format, or several of them. What is common to formats is {@link FileSources}. */
abstract class FileSourceKind implements SourceKind {
    private final FileKind kind;
    private final FileSources files;

    /** For the proxies of beans. */
    FileSourceKind() {
        this(null, null);
    }

    FileSourceKind(FileKind kind, FileSources files) {
        this.kind = kind;
        this.files = files;
    }

    /** The records of one file. @throws IllegalArgumentException in words, when settings do not go together */
    abstract RecordSource open(Path file, SourceSettings s) throws IOException;

    /** @throws Wrong in words, when a file of this format cannot be read with these settings */
    abstract void checkFormat(SourceSettings s);

    @Override
    public String name() {
        return kind.id();
    }

    @Override
    public void check(SourceSettings s) {
        checkFormat(s);
        files.check(s, kind);
    }

    @Override
    public RecordSource open(SourceSettings s, String environment) {
        return files.open(s, file -> open(file, s));
    }

    @Override
    public Optional<String> upload(SourceSettings s) {
        return Optional.ofNullable(s.file());
    }
}
