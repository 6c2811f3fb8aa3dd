package org.wirekettle.contract.http;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.MissingNode;
import java.io.IOException;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.wirekettle.contract.Budget;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.JsonSchemaSource;

/**
 * The documents of one description and what they refer to in each other (RFC 6901, OpenAPI 3.1 §4.8.23). All that a
 * description needs is fetched while its root is read; later nothing is, and any thread may look.
 */
final class ApiDocuments implements JsonSchemaSource {
    private static final int MAX_HOPS = 50;
    private static final List<String> SCHEMAS = List.of("/components/schemas", "/definitions", "/$defs");

    private final Documents source;
    private final Budget budget = new Budget();
    private final List<Problem> notes;
    private final Map<String, JsonNode> trees = new LinkedHashMap<>();
    private final Map<String, TreeText> texts = new LinkedHashMap<>();
    private final Map<String, byte[]> bytes = new LinkedHashMap<>();
    private final Set<String> said = new HashSet<>();
    private final Map<String, List<Found>> named = new ConcurrentHashMap<>();
    private boolean isClosed;

    ApiDocuments(Documents source, List<Problem> notes) {
        this.source = source;
        this.notes = notes;
    }

    /**
     * Reads the root and all that it refers to, and what that refers to.
     *
     * @throws Refused when the root cannot be had or read
     */
    JsonNode root(String uri) {
        try {
            JsonNode out = load(uri);
            for (int i = 0; i < trees.size(); i++) {
                String at = new ArrayList<>(trees.keySet()).get(i);
                references(trees.get(at), at);
            }
            isClosed = true;
            return out;
        } catch (IOException e) {
            throw new Refused(
                    "openapi.unavailable", Place.of(uri), "The description cannot be had: " + e.getMessage() + ".", e);
        }
    }

    private void references(JsonNode at, String base) {
        if (at.path("$ref").isTextual()) {
            find(base, at.get("$ref").asText());
        }
        at.forEach(inside -> references(inside, base));
    }

    private JsonNode load(String uri) throws IOException {
        JsonNode known = trees.get(uri);
        if (known != null) {
            return known;
        }
        if (isClosed) {
            throw new IOException("it was not there when the description was read");
        }
        byte[] content = source.get(uri);
        budget.take(uri, content);
        TreeText text = TreeText.of(uri, content);
        JsonNode tree = OlderForms.upgraded(text.read());
        bytes.put(uri, content);
        texts.put(uri, text);
        trees.put(uri, tree);
        return tree;
    }

    /** The address that a reference in a document leads to. */
    String join(String base, String reference) {
        return source.resolve(base, reference);
    }

    List<Contract.Document> all() {
        List<Contract.Document> out = new ArrayList<>();
        bytes.forEach((uri, b) -> out.add(new Contract.Document(uri, b)));
        return out;
    }

    Place place(String uri, String pointer) {
        return texts.get(uri).place(pointer);
    }

    /** Follows references as long as there are any. @return what is there; missing when it is not */
    Found followed(JsonNode at, String base) {
        Found out = new Found(at, base, null);
        for (int n = 0; n < MAX_HOPS && out.schema().path("$ref").isTextual(); n++) {
            Optional<Found> next = find(out.base(), out.schema().get("$ref").asText());
            if (next.isEmpty()) {
                return new Found(MissingNode.getInstance(), base, null);
            }
            out = next.get();
        }
        return out;
    }

    @Override
    public Optional<Found> find(String base, String reference) {
        int hash = reference.indexOf('#');
        String file = hash < 0 ? reference : reference.substring(0, hash);
        String pointer = hash < 0 ? "" : reference.substring(hash + 1);
        String uri = file.isEmpty() ? base : source.resolve(base, file);
        try {
            JsonNode at = load(uri).at(decoded(pointer));
            if (at.isMissingNode()) {
                missing(base, reference, "nothing is there");
                return Optional.empty();
            }
            return Optional.of(new Found(at, uri, name(pointer, file)));
        } catch (IOException | Refused e) {
            missing(base, reference, e.getMessage());
            return Optional.empty();
        } catch (IllegalArgumentException e) {
            missing(base, reference, "it is no reference");
            return Optional.empty();
        }
    }

    private static String decoded(String pointer) {
        return URLDecoder.decode(pointer.replace("+", "%2B"), StandardCharsets.UTF_8);
    }

    private static String name(String pointer, String file) {
        String last = pointer.isEmpty()
                ? file.substring(file.lastIndexOf('/') + 1).replaceFirst("\\.\\w+$", "")
                : decoded(pointer.substring(pointer.lastIndexOf('/') + 1));
        return last.replace("~1", "/").replace("~0", "~");
    }

    private void missing(String base, String reference, String why) {
        if (!isClosed && said.add(base + " " + reference)) {
            notes.add(Problem.warning(
                            "openapi.reference",
                            Place.of(base),
                            "It refers to " + reference + ", which cannot be had: " + why + ".",
                            "OpenAPI 3.1 §4.8.23",
                            "What stands there may be anything.")
                    .affectingMessages());
        }
    }

    @Override
    public List<Found> named(String base) {
        return named.computeIfAbsent(base, uri -> {
            List<Found> out = new ArrayList<>();
            JsonNode tree = trees.getOrDefault(uri, MissingNode.getInstance());
            for (String at : SCHEMAS) {
                tree.at(at).fields().forEachRemaining(e -> out.add(new Found(e.getValue(), uri, e.getKey())));
            }
            return out;
        });
    }
}
