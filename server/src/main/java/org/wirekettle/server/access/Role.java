package org.wirekettle.server.access;

/** What an account may do; each includes the ones before. */
public enum Role {
    /** Use run pages, and see nothing else. */
    GUEST,
    /** See everything but secrets. */
    VIEWER,
    /** Start, stop and mend runs. */
    OPERATOR,
    /** Change contracts, connections, data and flows; try operations. */
    BUILDER,
    /** Manage accounts. */
    ADMIN;

    static Role of(String name) {
        return valueOf(name.toUpperCase(java.util.Locale.ROOT));
    }
}
