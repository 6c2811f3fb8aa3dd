package org.wirekettle.contract.http;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Contract.Requirement;
import org.wirekettle.problem.Place;
import org.wirekettle.shape.JsonSchemaSource.Found;

/** What a description says of logging in (OpenAPI 3.1 §4.8.27, §4.8.30). */
final class SecurityReader {
    private final ApiDocuments documents;
    private final String uri;

    SecurityReader(ApiDocuments documents, String uri) {
        this.documents = documents;
        this.uri = uri;
    }

    List<Requirement> read(JsonNode root) {
        JsonNode schemes = root.at("/components/securitySchemes");
        Set<String> asked = new HashSet<>();
        boolean isOptional =
                root.path("security").isEmpty() || root.path("security").size() > 1;
        for (JsonNode alternative : root.path("security")) {
            alternative.fieldNames().forEachRemaining(asked::add);
            isOptional |= alternative.isEmpty();
        }
        Map<String, Requirement> out = new LinkedHashMap<>();
        for (var all = schemes.fields(); all.hasNext(); ) {
            Map.Entry<String, JsonNode> e = all.next();
            Found s = documents.followed(e.getValue(), uri);
            Place place = documents.place(uri, "/components/securitySchemes/" + e.getKey());
            boolean isFree = isOptional || !asked.contains(e.getKey());
            Requirement r = requirement(s, isFree, place);
            if (r != null) {
                out.putIfAbsent(r.text(), r);
            }
        }
        return new ArrayList<>(out.values());
    }

    private @Nullable Requirement requirement(Found found, boolean isOptional, Place place) {
        JsonNode s = found.schema();
        String type = s.path("type").asText("");
        return switch (type) {
            case "http" ->
                switch (s.path("scheme").asText("").toLowerCase(java.util.Locale.ROOT)) {
                    case "basic" -> new Requirement("HTTP Basic log-in", "basic", isOptional, place);
                    case "digest" -> new Requirement("HTTP Digest log-in", "http-digest", isOptional, place);
                    case "bearer" -> new Requirement("a bearer token", "bearer", isOptional, place);
                    default -> null;
                };
            case "apiKey" -> {
                String in = s.path("in").asText("");
                String name = s.path("name").asText("");
                yield switch (in) {
                    case "header" ->
                        new Requirement("a key in the header " + name, "header-key:" + name, isOptional, place);
                    case "query" ->
                        new Requirement("a key in the address, as " + name, "query-key:" + name, isOptional, place);
                    default -> new Requirement("a key in the cookie " + name, null, isOptional, place);
                };
            }
            case "oauth2" -> {
                JsonNode flow = s.at("/flows/clientCredentials");
                String from = documents.join(found.base(), flow.path("tokenUrl").asText());
                yield flow.isMissingNode()
                        ? new Requirement("an OAuth 2 token that a person gets", null, isOptional, place)
                        : new Requirement(
                                "an OAuth 2 token, from " + from,
                                ("oauth:" + from + " " + scopes(flow)).strip(),
                                isOptional,
                                place);
            }
            case "mutualTLS" -> new Requirement("a client certificate", "certificate", isOptional, place);
            default -> null;
        };
    }

    private static String scopes(JsonNode flow) {
        List<String> out = new ArrayList<>();
        flow.path("scopes").fieldNames().forEachRemaining(out::add);
        return String.join(" ", out);
    }
}
