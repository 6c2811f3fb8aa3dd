package org.wirekettle.server.access;

import jakarta.enterprise.context.RequestScoped;

/** Who makes the current request. */
@RequestScoped
public class Caller {
    private String name;
    private Role role;

    void is(String accountName, Role accountRole) {
        name = accountName;
        role = accountRole;
    }

    public String name() {
        return name;
    }

    public Role role() {
        return role;
    }
}
