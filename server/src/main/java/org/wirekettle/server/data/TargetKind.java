package org.wirekettle.server.data;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.TargetSettings;

/** A kind of target. A new one is a bean of this type in {@code kinds}; it is found by itself. */
public interface TargetKind {
    /** As definitions have it. */
    String name();

    /** @throws Wrong in words, when nothing could be written with these settings */
    void check(TargetSettings s);

    /** Makes ready what a target with these settings should have from the start. */
    default void prepare(TargetSettings s) {}

    /** @param fields of the rows to be written, as far as they are known */
    RecordTarget open(TargetSettings s, String environment, List<Field> fields);

    /** The columns it has; none when it takes whatever comes. */
    List<Field> columns(TargetSettings s, String environment) throws IOException;

    /** What is in it now; empty when nothing was written yet. */
    Optional<RecordSource> written(TargetSettings s, String environment);

    /** Likewise with what was written last first, where that can be had without reading all. */
    default Optional<RecordSource> newest(TargetSettings s, String environment) {
        return Optional.empty();
    }

    /** The file of the target folder it writes. */
    default Optional<String> file(TargetSettings s) {
        return Optional.empty();
    }

    /** The same with the columns of the file that is there. @throws Wrong when it has none */
    default TargetSettings matched(TargetSettings s) {
        throw Wrong.input("target.kind", "Only a file has a header to be matched.");
    }

    /** The file to be downloaded. */
    default Optional<Path> download(TargetSettings s) {
        return Optional.empty();
    }
}
