package org.wirekettle.server.access;

import io.quarkus.vertx.http.runtime.CurrentVertxRequest;
import jakarta.ws.rs.CookieParam;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.core.NewCookie;
import jakarta.ws.rs.core.Response;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.media.Content;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.eclipse.microprofile.openapi.annotations.responses.APIResponse;
import org.jspecify.annotations.Nullable;
import org.wirekettle.server.access.AccessMapper.Account;
import org.wirekettle.server.common.Wrong;

/** Logging in and out, one's own sessions and password. */
@Path("/api/session")
public class SessionResource {
    private static final int TOKEN_BYTES = 32;
    private static final int SESSION_SECONDS = 14 * 24 * 3600;
    private static final int MAX_AGENT_CHARS = 200;

    private final AccessMapper accounts;
    private final Caller caller;
    private final LogInLimits limits;
    private final CurrentVertxRequest request;

    SessionResource(AccessMapper accounts, Caller caller, LogInLimits limits, CurrentVertxRequest request) {
        this.accounts = accounts;
        this.caller = caller;
        this.limits = limits;
        this.request = request;
    }

    public record LogIn(@Nullable String name, @Nullable String password) {}

    public record Session(String name, String role) {}

    /** @param isThis whether it is the one that asks */
    public record OwnSession(
            long id, OffsetDateTime since, OffsetDateTime seen, String address, String browser, boolean isThis) {}

    public record PasswordChange(
            @Nullable String password, @Nullable String newPassword) {}

    @POST
    @Open
    @APIResponse(responseCode = "200", content = @Content(schema = @Schema(implementation = Session.class)))
    public Response logIn(LogIn in) {
        String name = in == null || in.name() == null ? "" : in.name();
        String password = in == null || in.password() == null ? "" : in.password();
        caller.claims(name.length() > 60 ? name.substring(0, 60) : name);
        Optional<Duration> wait = limits.wait(name, caller.address());
        if (wait.isPresent()) {
            long seconds = Math.max(1, wait.get().toSeconds());
            return Response.status(429)
                    .header("Retry-After", seconds)
                    .type("application/problem+json")
                    .entity(Map.of(
                            "type",
                            "about:blank",
                            "title",
                            "Too many tries",
                            "status",
                            429,
                            "code",
                            "access.tries",
                            "detail",
                            "Too many wrong passwords. Try again in " + seconds + " seconds."))
                    .build();
        }
        Account account = name.indexOf('\0') >= 0 ? null : accounts.account(name);
        if (!Passwords.matches(password, account == null ? null : account.passwordHash)) {
            limits.missed(name, caller.address());
            return Response.status(401)
                    .type("application/problem+json")
                    .entity(Map.of(
                            "type",
                            "about:blank",
                            "title",
                            "Not logged in",
                            "status",
                            401,
                            "code",
                            "access.password",
                            "detail",
                            "The name or the password is wrong."))
                    .build();
        }
        limits.succeeded(name, caller.address());
        byte[] random = new byte[TOKEN_BYTES];
        new SecureRandom().nextBytes(random);
        String token = Base64.getUrlEncoder().withoutPadding().encodeToString(random);
        accounts.putSession(digest(token), account.name, caller.address(), agent());
        return Response.ok(new Session(account.name, account.role))
                .cookie(cookie(token, SESSION_SECONDS))
                .build();
    }

    private String agent() {
        String agent = request.getCurrent().request().getHeader("User-Agent");
        String clean = agent == null ? "" : agent.replaceAll("\\p{Cntrl}", " ");
        return clean.length() > MAX_AGENT_CHARS ? clean.substring(0, MAX_AGENT_CHARS) : clean;
    }

    @GET
    @Allow(Role.GUEST)
    public Session who() {
        return new Session(caller.name(), caller.role().name().toLowerCase(java.util.Locale.ROOT));
    }

    @DELETE
    @Allow(Role.GUEST)
    public Response logOut(@CookieParam(AccessFilter.COOKIE) String token) {
        accounts.deleteSession(digest(token));
        return Response.noContent().cookie(cookie("", 0)).build();
    }

    /** Where one is logged in. */
    @GET
    @Path("all")
    @Allow(Role.GUEST)
    public List<OwnSession> sessions() {
        return accounts.sessions(caller.name()).stream()
                .map(s -> new OwnSession(
                        s.id, s.createdAt, s.seenAt, s.address, s.agent, s.tokenHash.equals(caller.session())))
                .toList();
    }

    /** Logs another of one's sessions out. */
    @DELETE
    @Path("all/{id}")
    @Allow(Role.GUEST)
    public void endSession(@PathParam("id") long id) {
        if (accounts.endSession(id, caller.name()) == 0) {
            throw Wrong.notFound("session", id);
        }
    }

    /** Changes one's own password; all other sessions end. */
    @PUT
    @Path("password")
    @Allow(Role.GUEST)
    public void changePassword(PasswordChange in) {
        Optional<Duration> wait = limits.wait(caller.name(), caller.address());
        if (wait.isPresent()) {
            throw Wrong.conflict(
                    "access.tries",
                    "Too many wrong passwords. Try again in "
                            + Math.max(1, wait.get().toSeconds()) + " seconds.");
        }
        if (in.password() == null || !Passwords.matches(in.password(), accounts.account(caller.name()).passwordHash)) {
            limits.missed(caller.name(), caller.address());
            throw Wrong.input("access.password", "The present password is wrong.");
        }
        Passwords.check(in.newPassword());
        accounts.changePassword(caller.name(), Passwords.hash(in.newPassword()));
        accounts.endSessions(caller.name(), caller.session());
    }

    /** Secure when the page came over TLS: then it must never travel without. */
    private NewCookie cookie(String value, int seconds) {
        return new NewCookie.Builder(AccessFilter.COOKIE)
                .value(value)
                .path("/")
                .maxAge(seconds)
                .httpOnly(true)
                .sameSite(NewCookie.SameSite.STRICT)
                .secure("https".equalsIgnoreCase(request.getCurrent().request().scheme()))
                .build();
    }

    /** Only digests are stored: who reads the database cannot take a session over. */
    static String digest(String token) {
        try {
            return HexFormat.of()
                    .formatHex(MessageDigest.getInstance("SHA-256").digest(token.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every JDK has SHA-256", e);
        }
    }
}
