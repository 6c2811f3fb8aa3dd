package org.wirekettle.server.common;

import java.sql.SQLException;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;

/** Tells the server's own database being away, which passes, from a statement it refuses, which is a defect. */
public final class DatabaseAway {
    private static final int MAX_CAUSES = 20;

    private DatabaseAway() {}

    /** @return what the database or its driver said of it, when that is why it failed */
    public static Optional<String> said(Throwable e) {
        return sql(e).filter(DatabaseAway::is).map(Throwable::getMessage);
    }

    static boolean is(SQLException e) {
        String state = e.getSQLState() == null ? "" : e.getSQLState();
        return state.isEmpty()
                || state.startsWith("08")
                || state.startsWith("57P")
                || state.startsWith("53")
                || state.equals("55000")
                || state.equals("3D000");
    }

    /** @return the innermost of its causes that the database or its driver raised */
    static Optional<SQLException> sql(Throwable e) {
        return causes(e)
                .filter(SQLException.class::isInstance)
                .map(SQLException.class::cast)
                .reduce((outer, inner) -> inner);
    }

    static Stream<Throwable> causes(Throwable e) {
        return Stream.iterate(e, Objects::nonNull, Throwable::getCause).limit(MAX_CAUSES);
    }
}
