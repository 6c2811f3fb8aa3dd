package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import org.wirekettle.server.triggers.Endpoints.Live;
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
        Optional<List<String>> mine = keys.isFor(key);
        String text = text(
                server,
                endpoints.paths().stream()
                        .filter(l -> l.trigger().open()
                                || mine.isPresent()
                                        && (mine.get().isEmpty() || mine.get().contains(l.row().name)))
                        .toList());
        return new HttpAnswer(200, "application/json", text.getBytes(StandardCharsets.UTF_8));
    }

    /** All of it, for those who are logged in. */
    String whole(String server) {
        return text(server, endpoints.paths());
    }

    private static String text(String server, List<Live> all) {
        return OpenApiDocument.of(
                        "What is published here",
                        server,
                        all.stream()
                                .filter(l -> l.endpoint() instanceof HttpEndpoint)
                                .map(l -> new OpenApiDocument.Published(
                                        l.row().name, (HttpEndpoint) l.endpoint(), l.samples()))
                                .toList())
                .toPrettyString();
    }
}
