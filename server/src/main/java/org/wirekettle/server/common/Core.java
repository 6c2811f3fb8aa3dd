package org.wirekettle.server.common;

import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.inject.Disposes;
import jakarta.enterprise.inject.Produces;
import jakarta.inject.Singleton;
import java.time.Clock;
import org.wirekettle.attachment.AttachedFiles;
import org.wirekettle.connector.DatabasePools;
import org.wirekettle.expression.Expressions;

/** Makes the core's shared objects, which know no annotation of the framework. */
@ApplicationScoped
public class Core {
    @Produces
    @Singleton
    Expressions expressions() {
        return new Expressions();
    }

    void close(@Disposes Expressions expressions) {
        expressions.close();
    }

    @Produces
    @Singleton
    DatabasePools databasePools(Clock clock) {
        return new DatabasePools(clock);
    }

    void close(@Disposes DatabasePools pools) {
        pools.close();
    }

    @Produces
    @Singleton
    AttachedFiles attachedFiles(Home home, Clock clock) {
        return new AttachedFiles(home.files(), AttachedFiles.DEFAULT_MAX_BYTES, clock);
    }

    @Produces
    @Singleton
    Clock clock() {
        return Clock.systemUTC();
    }
}
