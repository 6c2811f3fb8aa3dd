package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Predicate;
import org.wirekettle.trigger.CallersPage;
import org.wirekettle.trigger.HttpAnswer;
import org.wirekettle.trigger.HttpEndpoint;
import org.wirekettle.trigger.OpenApiDocument;

/** What is published over HTTP, as OpenAPI: to each who may ask it, and no more. */
@ApplicationScoped
public class PublishedApi {
    private final Endpoints endpoints;
    private final Keys keys;

    PublishedApi(Endpoints endpoints, Keys keys) {
        this.endpoints = endpoints;
        this.keys = keys;
    }

    /** @param key null for what anybody may ask */
    HttpAnswer document(String server, String key) {
        String text = text(
                server,
                endpoints.paths().stream().filter(isFor(keys.isFor(key))).toList());
        return new HttpAnswer(200, "application/json", text.getBytes(StandardCharsets.UTF_8));
    }

    /** What somebody may ask. @param mine what their key is for; empty without one */
    private static Predicate<Live> isFor(Optional<List<String>> mine) {
        return l -> l.web().open()
                || mine.isPresent() && (mine.get().isEmpty() || mine.get().contains(l.row().name));
    }

    /**
     * The page for those who ask: what anybody may, or a key.
     *
     * @param origin the address before all that is ours
     */
    HttpAnswer page(String origin, String key) {
        Optional<List<String>> mine = keys.isFor(key);
        Predicate<Live> isMine = isFor(mine);
        Map<String, Map<String, String>> services = new TreeMap<>();
        endpoints.operations().stream()
                .filter(isMine)
                .map(l -> l.soap().orElseThrow())
                .forEach(s -> services.computeIfAbsent(s.service(), n -> new TreeMap<>())
                        .put(s.operation(), s.text() == null ? "" : s.text()));
        String html = CallersPage.of(
                origin + HttpRequests.PREFIX,
                described(endpoints.paths().stream().filter(isMine).toList()),
                services.entrySet().stream()
                        .map(s ->
                                new CallersPage.Service(origin + SoapRequests.PREFIX + "/" + s.getKey(), s.getValue()))
                        .toList(),
                key == null || key.isBlank() ? null : Boolean.valueOf(mine.isPresent()));
        return new HttpAnswer(200, "text/html; charset=utf-8", html.getBytes(StandardCharsets.UTF_8));
    }

    private static List<OpenApiDocument.Published> described(List<Live> all) {
        return all.stream()
                .filter(l -> l.endpoint() instanceof HttpEndpoint)
                .map(l -> new OpenApiDocument.Published(l.row().name, (HttpEndpoint) l.endpoint(), l.samples()))
                .toList();
    }

    /** All of it, for those who are logged in. */
    String whole(String server) {
        return text(server, endpoints.paths());
    }

    private static String text(String server, List<Live> all) {
        return OpenApiDocument.of("What is published here", server, described(all))
                .toPrettyString();
    }
}
