package org.wirekettle.server.data;

import java.util.Optional;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.SourceSettings;

/** A kind of source. A new one is a bean of this type in {@code kinds}; it is found by itself. */
public interface SourceKind {
    /** As definitions have it. */
    String name();

    /** @throws Wrong in words, when nothing could be read with these settings */
    void check(SourceSettings s);

    RecordSource open(SourceSettings s, String environment);

    /** The uploaded file it reads. */
    default Optional<String> upload(SourceSettings s) {
        return Optional.empty();
    }

    /** Whether reading it calls somebody else's service: that is for those who may make calls. */
    default boolean makesCalls() {
        return false;
    }

    /** What is dangerous about reading with it, in words. */
    default Optional<String> warning(SourceSettings s, String environment) {
        return Optional.empty();
    }
}
