package org.wirekettle.server.access;

import jakarta.enterprise.context.RequestScoped;

/** Who makes the current request. */
@RequestScoped
public class Caller {
    private String name;
    private Role role;
    private String address = "";
    private String session;
    private String note;

    void is(String accountName, Role accountRole, String sessionDigest) {
        name = accountName;
        role = accountRole;
        session = sessionDigest;
    }

    /** @param network address the request came from */
    void comesFrom(String network) {
        address = network;
    }

    /** Somebody who tries to log in by a name. */
    void claims(String accountName) {
        name = accountName == null ? "" : accountName;
    }

    /** What else the audit log should say. */
    public void note(String text) {
        note = text;
    }

    public String name() {
        return name;
    }

    public Role role() {
        return role;
    }

    public String address() {
        return address;
    }

    /** The digest of the session's token. */
    public String session() {
        return session;
    }

    String note() {
        return note;
    }
}
