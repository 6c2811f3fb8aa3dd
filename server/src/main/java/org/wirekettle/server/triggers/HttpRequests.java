package org.wirekettle.server.triggers;

import io.vertx.core.buffer.Buffer;
import io.vertx.core.http.HttpServerRequest;
import io.vertx.core.http.HttpServerResponse;
import io.vertx.ext.web.Router;
import io.vertx.ext.web.RoutingContext;
import io.vertx.ext.web.handler.BodyHandler;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.apache.ibatis.exceptions.PersistenceException;
import org.jboss.logging.Logger;
import org.wirekettle.server.common.DatabaseAway;
import org.wirekettle.trigger.HttpAnswer;
import org.wirekettle.trigger.HttpAsked;
import org.wirekettle.trigger.HttpTrigger;

/**
 * Takes requests of those who ask flows, at addresses of their own: they have keys, and neither session nor page. Works
 * on each on a thread that may wait.
 */
@ApplicationScoped
public class HttpRequests {
    /** Before the paths of all that is published. */
    static final String PREFIX = "/http";

    private static final Logger LOG = Logger.getLogger(HttpRequests.class);
    private static final String BEARER = "Bearer ";
    private static final int OWN_ROUTES = -10;
    private static final int OWN_PAGE = -11;
    private static final String FOUND = "endpoint";
    private static final int MAX_KEY_BYTES = 1_000;

    private final Endpoints endpoints;
    private final Answering answering;
    private final PublishedApi api;
    /** By the most bytes that they read. */
    private final Map<Integer, BodyHandler> bodies = new ConcurrentHashMap<>();

    HttpRequests(Endpoints endpoints, Answering answering, PublishedApi api) {
        this.endpoints = endpoints;
        this.answering = answering;
        this.api = api;
    }

    /** Whoever asks for nothing that is published, or sends too much, has nothing read. */
    void routes(@Observes Router router) {
        // What a stranger sees of it is a page without script, which loads nothing.
        for (String own : List.of(PREFIX, PREFIX + "/")) {
            router.get(own).order(OWN_PAGE).blockingHandler(c -> page(c, null), false);
            router.post(own)
                    .order(OWN_PAGE)
                    .handler(BodyHandler.create(false).setBodyLimit(MAX_KEY_BYTES))
                    .blockingHandler(c -> page(c, c.request().getFormAttribute("key")), false)
                    .failureHandler(HttpRequests::failed);
        }
        router.route(PREFIX + "/*").order(OWN_ROUTES).handler(this::find).failureHandler(HttpRequests::failed);
        router.route(PREFIX + "/*").order(OWN_ROUTES + 1).blockingHandler(this::handle, false);
    }

    private void page(RoutingContext c, String key) {
        c.response()
                .putHeader(
                        "Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'")
                .putHeader("X-Content-Type-Options", "nosniff")
                .putHeader("Referrer-Policy", "no-referrer");
        guarded(c.response(), HttpAnswer::problem, () -> send(c.response(), api.page(origin(c.request()), key)));
    }

    private static void failed(RoutingContext c) {
        failed(c, HttpAnswer::problem);
    }

    /** What could not even be read. @param problem how that is said */
    static void failed(RoutingContext c, Function<HttpAnswer.Body, HttpAnswer> problem) {
        if (c.response().ended() || c.response().closed()) {
            return;
        }
        boolean isTooLarge = c.statusCode() == 413;
        int status = c.statusCode() >= 400 ? c.statusCode() : 500;
        send(
                c.response(),
                problem.apply(
                        isTooLarge
                                ? HttpAnswer.Body.of(413, "Too large", "request.size", "The body is too large.")
                                : HttpAnswer.Body.of(status, "Failed", "request", "The request could not be read.")));
    }

    private void find(RoutingContext c) {
        String path = c.request().path().substring(PREFIX.length());
        if (path.equals(HttpTrigger.DESCRIPTION) && c.request().method().name().equals("GET")) {
            c.next();
            return;
        }
        try {
            Found found = published(c, path);
            if (found != null) {
                c.put(FOUND, found);
                bodies.computeIfAbsent(found.live.http().maxBodyBytes(), most -> BodyHandler.create(false)
                                .setBodyLimit(most))
                        .handle(c);
            }
        } catch (IllegalArgumentException e) {
            send(
                    c.response(),
                    HttpAnswer.problem(400, "Malformed request", "request.path", "The path is not percent-encoded."));
        }
    }

    private void handle(RoutingContext c) {
        HttpServerResponse to = c.response();
        guarded(to, HttpAnswer::problem, () -> {
            Found found = c.get(FOUND);
            if (found == null) {
                send(to, api.document(origin(c.request()) + PREFIX, key(c.request())));
            } else {
                answer(c, found);
            }
        });
    }

    /** Whatever breaks is answered. @param problem how that is said */
    static void guarded(HttpServerResponse to, Function<HttpAnswer.Body, HttpAnswer> problem, Runnable work) {
        try {
            work.run();
        } catch (PersistenceException e) {
            Optional<String> away = DatabaseAway.said(e);
            if (away.isEmpty()) {
                broke(to, problem, e);
                return;
            }
            LOG.warnf("the server's database is away: %s", away.get());
            to.putHeader("Retry-After", "5");
            send(
                    to,
                    problem.apply(HttpAnswer.Body.of(
                            503, "Away", "database.away", "The server's database cannot be reached at the moment.")));
        } catch (RuntimeException e) {
            broke(to, problem, e);
        }
    }

    private static void broke(
            HttpServerResponse to, Function<HttpAnswer.Body, HttpAnswer> problem, RuntimeException e) {
        LOG.error("a request failed unexpectedly", e);
        send(
                to,
                problem.apply(HttpAnswer.Body.of(
                        500, "Failed", "internal", "Something went wrong here, not with your input.")));
    }

    /** A trigger and what the path names. */
    private record Found(Live live, Map<String, String> values) {}

    /** @return null after answering why there is none, or what a browser asks before */
    private Found published(RoutingContext c, String path) {
        String method = c.request().method().name();
        Found found = null;
        TreeSet<String> others = new TreeSet<>();
        for (Live l : endpoints.paths()) {
            Optional<Map<String, String>> values =
                    path.isEmpty() ? Optional.empty() : l.path().values(path);
            if (values.isPresent()) {
                String own = l.http().method();
                others.add(own);
                boolean isAsked = method.equals(own)
                        || method.equals("OPTIONS")
                                && own.equals(c.request().getHeader("Access-Control-Request-Method"));
                found = found == null && isAsked ? new Found(l, values.get()) : found;
            }
        }
        if (found == null) {
            if (others.isEmpty()) {
                send(
                        c.response(),
                        HttpAnswer.problem(404, "Not found", "request.path", "Nothing is published at this address."));
            } else {
                c.response().putHeader("Allow", String.join(", ", others));
                send(
                        c.response(),
                        HttpAnswer.problem(
                                405,
                                "Not allowed",
                                "request.method",
                                "Ask it with " + String.join(" or ", others) + "."));
            }
            return null;
        }
        allowPages(c.request(), c.response(), found.live.http());
        if (method.equals("OPTIONS")) {
            c.response().setStatusCode(204).end();
            return null;
        }
        return found;
    }

    private void answer(RoutingContext c, Found found) {
        HttpAsked asked = asked(c, c.request().path().substring(PREFIX.length()), found.values);
        send(c.response(), answering.answer(found.live, asked, key(c.request()), HttpAnswer::problem, () -> c.response()
                .closed()));
    }

    /** A request as far as it is read. @param values of its path */
    static HttpAsked asked(RoutingContext c, String path, Map<String, String> values) {
        HttpServerRequest r = c.request();
        byte[] body = c.body() == null || c.body().buffer() == null
                ? new byte[0]
                : c.body().buffer().getBytes();
        return new HttpAsked(
                r.method().name(), path, values, r.query(), name -> r.headers().getAll(name), body, null);
    }

    static void send(HttpServerResponse to, Answering.Answered a) {
        a.headers().forEach(to::putHeader);
        send(to, a.answer());
    }

    /** RFC 6750 §2.1, or a header of its own. @return null for none */
    static String key(HttpServerRequest r) {
        String given = r.getHeader("Authorization");
        if (given != null && given.regionMatches(true, 0, BEARER, 0, BEARER.length())) {
            return given.substring(BEARER.length()).strip();
        }
        return r.getHeader("X-API-Key");
    }

    /** The address that the caller used, up to our paths. */
    static String origin(HttpServerRequest r) {
        return r.scheme() + "://"
                + (r.authority() == null ? "localhost" : r.authority().toString());
    }

    /** Pages of other sites that may ask (the Fetch standard's CORS protocol). */
    private static void allowPages(HttpServerRequest r, HttpServerResponse to, HttpTrigger t) {
        String origin = r.getHeader("Origin");
        List<String> allowed = t.origins();
        if (origin == null || allowed.isEmpty()) {
            return;
        }
        to.putHeader("Vary", "Origin");
        if (allowed.contains("*") || allowed.contains(origin)) {
            to.putHeader("Access-Control-Allow-Origin", allowed.contains("*") ? "*" : origin);
            to.putHeader("Access-Control-Allow-Methods", t.method());
            String wanted = r.getHeader("Access-Control-Request-Headers");
            if (wanted != null && wanted.matches("[A-Za-z0-9, _-]{1,1000}")) {
                to.putHeader("Access-Control-Allow-Headers", wanted);
            }
            to.putHeader("Access-Control-Expose-Headers", "Retry-After");
            to.putHeader("Access-Control-Max-Age", "600");
        }
    }

    static void send(HttpServerResponse to, HttpAnswer a) {
        if (to.ended() || to.closed()) {
            return;
        }
        to.setStatusCode(a.status());
        to.putHeader("Cache-Control", "no-store");
        if (a.type() == null) {
            to.end();
        } else {
            to.putHeader("Content-Type", a.type()).end(Buffer.buffer(a.body()));
        }
    }
}
