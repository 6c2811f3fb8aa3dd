package org.wirekettle.server.triggers;

import io.vertx.core.http.HttpServerRequest;
import io.vertx.ext.web.Router;
import io.vertx.ext.web.RoutingContext;
import io.vertx.ext.web.handler.BodyHandler;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.triggers.Live.State;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.soap.SoapRequest;
import org.wirekettle.trigger.HttpAnswer;
import org.wirekettle.trigger.HttpAsked;
import org.wirekettle.trigger.SoapEndpoint;
import org.wirekettle.trigger.SoapService;

/**
 * Takes SOAP messages for flows that are published as operations of services, and gives out their descriptions. Every
 * failure is a fault.
 */
@ApplicationScoped
public class SoapRequests {
    /** Before the names of services. */
    static final String PREFIX = "/soap";

    private static final int OWN_ROUTES = -8;
    private static final String XML = "text/xml; charset=utf-8";

    private final Endpoints endpoints;
    private final Answering answering;
    private final Keys keys;
    private final Clock clock;
    /** By the most bytes that they read. */
    private final Map<Integer, BodyHandler> bodies = new ConcurrentHashMap<>();
    /** By name, as long as their operations are the same. */
    private final Map<String, Known> known = new ConcurrentHashMap<>();

    SoapRequests(Endpoints endpoints, Answering answering, Keys keys, Clock clock) {
        this.endpoints = endpoints;
        this.answering = answering;
        this.keys = keys;
        this.clock = clock;
    }

    private record Known(List<SoapEndpoint> operations, SoapService service) {}

    void routes(@Observes Router router) {
        router.route(PREFIX + "/*").order(OWN_ROUTES).handler(this::find).failureHandler(SoapRequests::failed);
        router.route(PREFIX + "/*").order(OWN_ROUTES + 1).blockingHandler(this::handle, false);
    }

    private static void failed(RoutingContext c) {
        HttpRequests.failed(c, faults(c));
    }

    /** What goes wrong before the message is known is a fault as well. */
    private static Function<HttpAnswer.Body, HttpAnswer> faults(RoutingContext c) {
        return body -> SoapEndpoint.fault(body, asked(c));
    }

    private static String name(RoutingContext c) {
        return c.request().path().substring(PREFIX.length()).replaceFirst("^/", "");
    }

    /** Nothing is read for what is not published. */
    private void find(RoutingContext c) {
        List<Live> all = endpoints.service(name(c));
        if (all.isEmpty()) {
            refuse(c, 404, "request.path", "No service is published at this address.");
            return;
        }
        String method = c.request().method().name();
        if (method.equals("GET") && part(c.request()) != null) {
            c.next();
        } else if (method.equals("POST")) {
            int most = all.stream().mapToInt(l -> l.web().maxBodyBytes()).max().orElse(0);
            bodies.computeIfAbsent(most, m -> BodyHandler.create(false).setBodyLimit(m))
                    .handle(c);
        } else {
            c.response().putHeader("Allow", "POST, GET");
            refuse(c, 405, "request.method", "Messages are sent with POST; GET with ?wsdl gives the description.");
        }
    }

    /** Which document of the description is asked for; null for none. */
    private static @Nullable Integer part(HttpServerRequest r) {
        String query = r.query() == null ? "" : r.query().toLowerCase(Locale.ROOT);
        if (query.equals("wsdl") || query.equals("wsdl=")) {
            return 0;
        }
        return query.matches("wsdl=\\d{1,6}") ? Integer.valueOf(query.substring("wsdl=".length())) : null;
    }

    private void handle(RoutingContext c) {
        HttpRequests.guarded(c.response(), faults(c), () -> {
            List<Live> all = endpoints.service(name(c));
            if (all.isEmpty()) {
                refuse(c, 404, "request.path", "No service is published at this address.");
            } else if (c.request().method().name().equals("GET")) {
                describe(c, all);
            } else {
                answer(c, all);
            }
        });
    }

    private static void refuse(RoutingContext c, int status, String code, String why) {
        HttpRequests.send(c.response(), faults(c).apply(HttpAnswer.Body.of(status, "Refused", code, why)));
    }

    private static HttpAsked asked(RoutingContext c) {
        return HttpRequests.asked(c, c.request().path(), Map.of());
    }

    /**
     * Of all operations whose flows are known, whether they are paused or not. @throws Refused when they are at odds
     */
    private SoapService service(String name, List<Live> all) {
        List<SoapEndpoint> operations = all.stream()
                .map(Live::endpoint)
                .filter(SoapEndpoint.class::isInstance)
                .map(SoapEndpoint.class::cast)
                .toList();
        Known there = known.get(name);
        if (there == null || !there.operations.equals(operations)) {
            there = new Known(operations, SoapService.of(operations));
            known.put(name, there);
        }
        return there.service;
    }

    private void describe(RoutingContext c, List<Live> all) {
        String key = HttpRequests.key(c.request());
        boolean isForKeys = all.stream().anyMatch(l -> l.soap().orElseThrow().wsdlForKeys());
        List<String> names = all.stream().map(l -> l.row().name).toList();
        if (isForKeys
                && keys.isFor(key)
                        .filter(k -> k.isEmpty() || names.stream().anyMatch(k::contains))
                        .isEmpty()) {
            c.response().putHeader("WWW-Authenticate", "Bearer");
            refuse(c, 401, "key", "The description is for those with a key.");
            return;
        }
        boolean isStarting = all.stream().anyMatch(l -> l.endpoint() == null && l.state() != State.FAILED);
        if (isStarting || all.stream().allMatch(l -> l.endpoint() == null)) {
            c.response().putHeader("Retry-After", isStarting ? "1" : "60");
            refuse(c, 503, "endpoint.starting", "This is starting, or does not work at the moment.");
            return;
        }
        try {
            String address = HttpRequests.origin(c.request()) + c.request().path();
            Optional<String> text = service(name(c), all).wsdl(address, part(c.request()));
            if (text.isEmpty()) {
                refuse(c, 404, "request.path", "The description has no such document.");
            } else {
                HttpRequests.send(
                        c.response(), new HttpAnswer(200, XML, text.get().getBytes(StandardCharsets.UTF_8)));
            }
        } catch (Refused e) {
            refuse(c, 503, e.problem().code(), e.getMessage());
        }
    }

    private void answer(RoutingContext c, List<Live> all) {
        HttpAsked posted = asked(c);
        Optional<HttpAnswer> otherType = SoapService.refusedType(posted);
        if (otherType.isPresent()) {
            HttpRequests.send(c.response(), otherType.get());
            return;
        }
        HttpAsked asked;
        try {
            asked = SoapService.read(posted);
            asked.soap().checkTime(clock.instant());
        } catch (SoapRequest.Unfit e) {
            HttpRequests.send(c.response(), SoapEndpoint.fault(e.fault(), posted, null));
            return;
        }
        Function<HttpAnswer.Body, HttpAnswer> problem = body -> SoapEndpoint.fault(body, asked);
        Optional<Live> live;
        try {
            live = operation(all, asked, name(c));
            if (live.isEmpty()) {
                HttpRequests.send(c.response(), service(name(c), all).unknown(asked));
                return;
            }
        } catch (Refused e) {
            HttpRequests.send(
                    c.response(),
                    problem.apply(HttpAnswer.Body.of(503, "At odds", e.problem().code(), e.getMessage())));
            return;
        }
        // Read was as much as the largest of the service's operations takes.
        if (posted.body().length > live.get().web().maxBodyBytes()) {
            HttpRequests.send(
                    c.response(),
                    problem.apply(HttpAnswer.Body.of(413, "Too large", "request.size", "The message is too large.")));
            return;
        }
        Optional<SoapRequest.UserToken> token = asked.soap().token();
        Optional<String> refused = token.flatMap(this::refusedToken);
        if (refused.isPresent()) {
            HttpRequests.send(
                    c.response(), problem.apply(HttpAnswer.Body.of(401, "Not allowed", "key", refused.get())));
            return;
        }
        String key = token.map(SoapRequest.UserToken::password).orElseGet(() -> HttpRequests.key(c.request()));
        HttpRequests.send(c.response(), answering.answer(live.get(), asked, key, problem, () -> c.response()
                .closed()));
    }

    /** A token's user is the name of the key that is its password. */
    private Optional<String> refusedToken(SoapRequest.UserToken token) {
        if (token.isDigest()) {
            return Optional.of("Of keys only a digest is kept here, so that a password's digest cannot be checked:"
                    + " send it as text, over TLS.");
        }
        return keys.isNamed(token.password(), token.user())
                ? Optional.empty()
                : Optional.of("There is no key " + (token.user().isBlank() ? "without a name" : token.user())
                        + " with this password.");
    }

    /** Which of them is asked; empty when there is none such. */
    private Optional<Live> operation(List<Live> all, HttpAsked asked, String name) {
        Optional<SoapEndpoint> found = all.stream().allMatch(l -> l.endpoint() == null)
                ? Optional.empty()
                : service(name, all).find(asked);
        if (found.isPresent()) {
            return all.stream().filter(l -> l.endpoint() == found.get()).findFirst();
        }
        QualifiedName payload = asked.soap().payload();
        // What is starting, or does not work, is known by its name only.
        List<Live> others = all.stream().filter(l -> l.endpoint() == null).toList();
        Optional<Live> named = others.stream()
                .filter(l -> payload != null
                        && payload.local().equals(l.soap().orElseThrow().operation()))
                .findFirst();
        // Of a contract, elements have names of their own: it may be any that is not known yet. Where nothing is known
        // at
        // all, whatever does not work says so.
        boolean isNoneKnown = others.size() == all.size();
        return named.or(() -> others.stream()
                .filter(l -> isNoneKnown || l.state() != State.FAILED)
                .findFirst());
    }
}
