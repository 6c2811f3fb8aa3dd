package org.wirekettle.server.access;

import jakarta.ws.rs.container.ContainerRequestContext;
import jakarta.ws.rs.container.ContainerRequestFilter;
import jakarta.ws.rs.container.ResourceInfo;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.core.Cookie;
import jakarta.ws.rs.core.Response;
import jakarta.ws.rs.ext.Provider;
import java.util.Map;
import org.wirekettle.server.access.AccessMapper.Account;

/**
 * Lets nobody in without a session. A request that changes something must also carry the header {@code X-Wire-Kettle}, which a page of
 * another site cannot add without being asked (CORS is off), besides the cookie being SameSite=Strict.
 */
@Provider
public class AccessFilter implements ContainerRequestFilter {
    static final String COOKIE = "wk_session";
    static final String HEADER = "X-Wire-Kettle";

    private final AccessMapper accounts;
    private final Caller caller;

    @Context
    ResourceInfo resource;

    AccessFilter(AccessMapper accounts, Caller caller) {
        this.accounts = accounts;
        this.caller = caller;
    }

    @Override
    public void filter(ContainerRequestContext request) {
        boolean reads = request.getMethod().equals("GET") || request.getMethod().equals("HEAD");
        if (!reads && request.getHeaderString(HEADER) == null) {
            request.abortWith(problem(403, "access.header", "Requests that change something need the header " + HEADER + "."));
            return;
        }
        if (resource.getResourceClass() == SessionResource.class && request.getMethod().equals("POST")) {
            return;
        }
        Cookie cookie = request.getCookies().get(COOKIE);
        Account account = cookie == null ? null : accounts.bySession(SessionResource.digest(cookie.getValue()));
        if (account == null) {
            request.abortWith(problem(401, "access.login", "Log in first."));
            return;
        }
        Role role = Role.of(account.role);
        Role needed = needed(reads);
        if (role.compareTo(needed) < 0) {
            request.abortWith(problem(403, "access.role", "This needs the role " + needed.name().toLowerCase(java.util.Locale.ROOT) + "; you are " + account.role + "."));
            return;
        }
        caller.is(account.name, role);
    }

    private Role needed(boolean reads) {
        Allow onMethod = resource.getResourceMethod().getAnnotation(Allow.class);
        Allow onClass = resource.getResourceClass().getAnnotation(Allow.class);
        return onMethod != null ? onMethod.value() : onClass != null ? onClass.value() : reads ? Role.VIEWER : Role.BUILDER;
    }

    private static Response problem(int status, String code, String detail) {
        return Response.status(status).type("application/problem+json")
                .entity(Map.of("type", "about:blank", "title", status == 401 ? "Not logged in" : "Not allowed", "status", status, "code", code, "detail", detail)).build();
    }
}
