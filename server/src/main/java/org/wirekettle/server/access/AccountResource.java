package org.wirekettle.server.access;

import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.util.List;
import org.wirekettle.server.access.SessionResource.Session;
import org.wirekettle.server.common.Wrong;

/** The accounts, for administrators. */
@Path("/api/accounts")
@Allow(Role.ADMIN)
public class AccountResource {
    private static final int MIN_PASSWORD_CHARS = 10;
    private final AccessMapper accounts;
    private final Caller caller;

    AccountResource(AccessMapper accounts, Caller caller) {
        this.accounts = accounts;
        this.caller = caller;
    }

    public record NewAccount(String password, String role) {}

    @GET
    public List<Session> list() {
        return accounts.accounts().stream().map(a -> new Session(a.name, a.role)).toList();
    }

    @PUT
    @Path("{name}")
    public void put(@PathParam("name") String name, NewAccount in) {
        if (!name.matches("[\\p{L}\\p{N}._@-]{1,60}")) {
            throw Wrong.input("account.name", "A name has 1 to 60 letters, digits or . _ @ -.");
        }
        if (in.password() == null || in.password().length() < MIN_PASSWORD_CHARS) {
            throw Wrong.input("account.password", "A password has at least " + MIN_PASSWORD_CHARS + " characters.");
        }
        Role role;
        try {
            role = Role.of(String.valueOf(in.role()));
        } catch (IllegalArgumentException e) {
            throw Wrong.input("account.role", "The roles are viewer, operator, builder and admin.");
        }
        accounts.putAccount(name, Passwords.hash(in.password()), role.name().toLowerCase(java.util.Locale.ROOT));
    }

    @DELETE
    @Path("{name}")
    public void delete(@PathParam("name") String name) {
        if (name.equals(caller.name())) {
            throw Wrong.conflict("account.own", "You cannot remove your own account.");
        }
        if (accounts.deleteAccount(name) == 0) {
            throw Wrong.notFound("account", name);
        }
    }
}
