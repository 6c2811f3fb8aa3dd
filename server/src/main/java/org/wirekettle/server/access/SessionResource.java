package org.wirekettle.server.access;

import jakarta.ws.rs.CookieParam;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.core.NewCookie;
import jakarta.ws.rs.core.Response;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.HexFormat;
import org.eclipse.microprofile.openapi.annotations.media.Content;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.eclipse.microprofile.openapi.annotations.responses.APIResponse;
import org.wirekettle.server.access.AccessMapper.Account;

/** Logging in and out. */
@Path("/api/session")
public class SessionResource {
    private static final int TOKEN_BYTES = 32;
    private static final int SESSION_SECONDS = 14 * 24 * 3600;

    private final AccessMapper accounts;
    private final Caller caller;

    SessionResource(AccessMapper accounts, Caller caller) {
        this.accounts = accounts;
        this.caller = caller;
    }

    public record LogIn(String name, String password) {}

    public record Session(String name, String role) {}

    @POST
    @APIResponse(responseCode = "200", content = @Content(schema = @Schema(implementation = Session.class)))
    public Response logIn(LogIn in) {
        Account account = in == null || in.name() == null ? null : accounts.account(in.name());
        if (!Passwords.matches(in == null || in.password() == null ? "" : in.password(), account == null ? null : account.passwordHash)) {
            return Response.status(401).type("application/problem+json")
                    .entity(java.util.Map.of("type", "about:blank", "title", "Not logged in", "status", 401, "code", "access.password", "detail", "The name or the password is wrong."))
                    .build();
        }
        byte[] random = new byte[TOKEN_BYTES];
        new SecureRandom().nextBytes(random);
        String token = Base64.getUrlEncoder().withoutPadding().encodeToString(random);
        accounts.putSession(digest(token), account.name);
        return Response.ok(new Session(account.name, account.role)).cookie(cookie(token, SESSION_SECONDS)).build();
    }

    @GET
    public Session who() {
        return new Session(caller.name(), caller.role().name().toLowerCase(java.util.Locale.ROOT));
    }

    @DELETE
    @Allow(Role.VIEWER)
    public Response logOut(@CookieParam(AccessFilter.COOKIE) String token) {
        accounts.deleteSession(digest(token));
        return Response.noContent().cookie(cookie("", 0)).build();
    }

    private static NewCookie cookie(String value, int seconds) {
        return new NewCookie.Builder(AccessFilter.COOKIE).value(value).path("/").maxAge(seconds).httpOnly(true).sameSite(NewCookie.SameSite.STRICT).build();
    }

    /** Only digests are stored: who reads the database cannot take a session over. */
    static String digest(String token) {
        try {
            return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(token.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every JDK has SHA-256", e);
        }
    }
}
