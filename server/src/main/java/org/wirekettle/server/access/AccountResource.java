package org.wirekettle.server.access;

import jakarta.transaction.Transactional;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import org.wirekettle.server.access.SessionResource.Session;
import org.wirekettle.server.common.Wrong;

/** The accounts, for administrators. */
@Path("/api/accounts")
@Allow(Role.ADMIN)
public class AccountResource {
    private final AccessMapper accounts;
    private final Caller caller;

    AccountResource(AccessMapper accounts, Caller caller) {
        this.accounts = accounts;
        this.caller = caller;
    }

    /** @param password null keeps the one there is */
    public record AccountChange(@Nullable String password, String role) {}

    @GET
    public List<Session> list() {
        return accounts.accounts().stream()
                .map(a -> new Session(a.name, a.role))
                .toList();
    }

    /** Makes or changes an account. With another password all its sessions end. */
    @PUT
    @Path("{name}")
    @Transactional
    public void put(@PathParam("name") String name, AccountChange in) {
        if (!name.matches("[\\p{L}\\p{N}._@-]{1,60}")) {
            throw Wrong.input("account.name", "A name has 1 to 60 letters, digits or . _ @ -.");
        }
        String role = role(in.role());
        boolean isKnown = accounts.account(name) != null;
        caller.note((isKnown ? "role " : "new, role ") + role + (in.password() == null ? "" : ", password set"));
        if (in.password() != null || !isKnown) {
            Passwords.check(in.password());
        }
        if (isKnown && !role.equals("admin")) {
            keepOneAdministrator(name);
        }
        if (in.password() == null) {
            accounts.changeRole(name, role);
        } else {
            accounts.putAccount(name, Passwords.hash(in.password()), role);
            accounts.endSessions(name, name.equals(caller.name()) ? caller.session() : null);
        }
    }

    private static String role(String wanted) {
        try {
            return Role.of(String.valueOf(wanted)).name().toLowerCase(Locale.ROOT);
        } catch (IllegalArgumentException e) {
            throw Wrong.input("account.role", "The roles are guest, viewer, operator, builder and admin.");
        }
    }

    /** Without one nobody could make another. */
    private void keepOneAdministrator(String but) {
        List<String> administrators = accounts.lockAdministrators();
        if (administrators.equals(List.of(but))) {
            throw Wrong.conflict("account.last", but + " is the last administrator; make another one first.");
        }
    }

    @DELETE
    @Path("{name}")
    @Transactional
    public void delete(@PathParam("name") String name) {
        if (name.equals(caller.name())) {
            throw Wrong.conflict("account.own", "You cannot remove your own account.");
        }
        keepOneAdministrator(name);
        if (accounts.deleteAccount(name) == 0) {
            throw Wrong.notFound("account", name);
        }
    }
}
