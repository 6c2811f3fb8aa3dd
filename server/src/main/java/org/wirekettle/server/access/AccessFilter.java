package org.wirekettle.server.access;

import io.quarkus.vertx.http.runtime.CurrentVertxRequest;
import jakarta.ws.rs.container.ContainerRequestContext;
import jakarta.ws.rs.container.ContainerRequestFilter;
import jakarta.ws.rs.container.ResourceInfo;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.core.Cookie;
import jakarta.ws.rs.core.HttpHeaders;
import jakarta.ws.rs.core.Response;
import jakarta.ws.rs.ext.Provider;
import java.io.InputStream;
import java.lang.annotation.Annotation;
import java.lang.reflect.Parameter;
import java.util.Arrays;
import java.util.Locale;
import java.util.Map;
import org.wirekettle.server.access.AccessMapper.Account;

/**
 * Lets nobody in without a session. A request that changes something must also carry the header {@code X-Wire-Kettle},
 * which a page of another site cannot add without being asked (CORS is off), besides the cookie being SameSite=Strict.
 */
@Provider
public class AccessFilter implements ContainerRequestFilter {
    static final String COOKIE = "wk_session";
    static final String HEADER = "X-Wire-Kettle";

    private final AccessMapper accounts;
    private final Caller caller;
    private final CurrentVertxRequest request;

    @Context
    ResourceInfo resource;

    AccessFilter(AccessMapper accounts, Caller caller, CurrentVertxRequest request) {
        this.accounts = accounts;
        this.caller = caller;
        this.request = request;
    }

    @Override
    public void filter(ContainerRequestContext context) {
        caller.comesFrom(request.getCurrent().request().remoteAddress().hostAddress());
        boolean reads = context.getMethod().equals("GET") || context.getMethod().equals("HEAD");
        if (!reads && context.getHeaderString(HEADER) == null) {
            context.abortWith(
                    problem(403, "access.header", "Requests that change something need the header " + HEADER + "."));
            return;
        }
        Open open = resource.getResourceMethod().getAnnotation(Open.class);
        if (open == null || open.knowsCaller()) {
            Account account = account(context);
            if (open == null && !isAllowed(account, context, reads)) {
                return;
            }
        }
        if (wantsBody() && isEmpty(context)) {
            context.abortWith(problem(400, "request.empty", "The request needs a body."));
        }
    }

    /** Who makes the request, noted. @return null for nobody who is logged in */
    private Account account(ContainerRequestContext context) {
        Cookie cookie = context.getCookies().get(COOKIE);
        String digest = cookie == null ? null : SessionResource.digest(cookie.getValue());
        Account account = digest == null ? null : accounts.bySession(digest);
        if (account != null) {
            if (account.isStale) {
                accounts.seen(digest);
            }
            caller.is(account.name, Role.of(account.role), digest);
        }
        return account;
    }

    private boolean isAllowed(Account account, ContainerRequestContext context, boolean reads) {
        if (account == null) {
            context.abortWith(problem(401, "access.login", "Log in first."));
            return false;
        }
        Role role = Role.of(account.role);
        Role needed = needed(reads);
        if (role.compareTo(needed) < 0) {
            context.abortWith(problem(
                    403,
                    "access.role",
                    "This needs the role " + needed.name().toLowerCase(Locale.ROOT) + "; you are " + account.role
                            + "."));
            return false;
        }
        return true;
    }

    private Role needed(boolean reads) {
        Allow onMethod = resource.getResourceMethod().getAnnotation(Allow.class);
        Allow onClass = resource.getResourceClass().getAnnotation(Allow.class);
        return onMethod != null
                ? onMethod.value()
                : onClass != null ? onClass.value() : reads ? Role.VIEWER : Role.BUILDER;
    }

    /** Whether the method takes the request's body: a parameter that comes from nowhere else. */
    private boolean wantsBody() {
        for (Parameter p : resource.getResourceMethod().getParameters()) {
            // A file may be empty; its method says what that means.
            if (p.getType() != InputStream.class
                    && Arrays.stream(p.getAnnotations())
                            .map(Annotation::annotationType)
                            .noneMatch(a -> a.getName().startsWith("jakarta.ws.rs"))) {
                return true;
            }
        }
        return false;
    }

    private static boolean isEmpty(ContainerRequestContext context) {
        String length = context.getHeaderString(HttpHeaders.CONTENT_LENGTH);
        return length == null
                ? context.getHeaderString("Transfer-Encoding") == null
                : length.strip().equals("0");
    }

    private static Response problem(int status, String code, String detail) {
        String title = status == 401 ? "Not logged in" : status == 400 ? "Malformed request" : "Not allowed";
        return Response.status(status)
                .type("application/problem+json")
                .entity(Map.of("type", "about:blank", "title", title, "status", status, "code", code, "detail", detail))
                .build();
    }
}
