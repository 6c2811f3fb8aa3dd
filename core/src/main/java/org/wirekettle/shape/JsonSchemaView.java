package org.wirekettle.shape;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.BooleanNode;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.shape.JsonForm.Value;
import org.wirekettle.shape.JsonSchemaSource.Found;

/**
 * What a schema comes to when what it refers to, and all that must hold beside it, is seen as one (JSON Schema 2020-12
 * core §8.2.3, §10.2.1). Immutable; used by one thread.
 */
final class JsonSchemaView {
    private static final int MAX_PARTS = 200;
    private static final String NULL = "null";

    private final JsonSchemaSource source;
    private final List<Found> parts = new ArrayList<>();
    private List<Found> kinds = List.of();
    private boolean isNullable;
    private String name;

    private JsonSchemaView(JsonSchemaSource source) {
        this.source = source;
    }

    static JsonSchemaView of(JsonSchemaSource source, JsonNode schema, String base) {
        JsonSchemaView out = new JsonSchemaView(source);
        out.collect(new Found(schema, base, null), Collections.newSetFromMap(new IdentityHashMap<>()), true);
        return out;
    }

    private void collect(Found at, Set<JsonNode> seen, boolean isOuter) {
        JsonNode s = at.schema();
        if (!s.isObject() || parts.size() >= MAX_PARTS || !seen.add(s)) {
            return;
        }
        if (isOuter && at.name() != null && name == null) {
            name = at.name();
        }
        parts.add(at);
        if (s.path("$ref").isTextual()) {
            source.find(at.base(), s.get("$ref").asText()).ifPresent(f -> collect(f, seen, isOuter));
        }
        s.path("allOf").forEach(a -> collect(new Found(a, at.base(), null), seen, false));
        for (String either : List.of("oneOf", "anyOf")) {
            either(s.path(either), at.base(), seen);
        }
    }

    private void either(JsonNode branches, String base, Set<JsonNode> seen) {
        List<Found> left = new ArrayList<>();
        for (JsonNode b : branches) {
            if (b.path("type").asText().equals(NULL)) {
                isNullable = true;
            } else {
                left.add(new Found(b, base, null));
            }
        }
        if (left.size() == 1) {
            collect(left.get(0), seen, true);
        } else if (!left.isEmpty() && kinds.isEmpty()) {
            kinds = left;
        }
    }

    /** What it is called where it is defined; null when it is not by itself. */
    @Nullable
    String name() {
        return name;
    }

    /** The branches of which one is taken; empty when there is no such choice. */
    List<Found> kinds() {
        return kinds;
    }

    boolean isNullable() {
        return isNullable || types().contains(NULL) || parts.stream().anyMatch(JsonSchemaView::mayBeNull);
    }

    private static boolean mayBeNull(Found p) {
        for (JsonNode v : p.schema().path("enum")) {
            if (v.isNull()) {
                return true;
            }
        }
        return false;
    }

    /** The first part's value for a keyword. */
    Optional<JsonNode> get(String keyword) {
        return parts.stream()
                .map(p -> p.schema().get(keyword))
                .filter(v -> v != null && !v.isNull())
                .findFirst();
    }

    Optional<Found> part(String keyword) {
        return parts.stream()
                .filter(p -> p.schema().has(keyword))
                .findFirst()
                .map(p -> new Found(p.schema().get(keyword), p.base(), null));
    }

    boolean is(String keyword) {
        return get(keyword).map(JsonNode::asBoolean).orElse(false);
    }

    @Nullable
    String text(String keyword) {
        return get(keyword).map(JsonNode::asText).filter(t -> !t.isBlank()).orElse(null);
    }

    Map<String, Found> properties() {
        Map<String, Found> out = new LinkedHashMap<>();
        for (Found p : parts) {
            p.schema()
                    .path("properties")
                    .fields()
                    .forEachRemaining(e -> out.putIfAbsent(e.getKey(), new Found(e.getValue(), p.base(), null)));
        }
        return out;
    }

    Set<String> required() {
        Set<String> out = new HashSet<>();
        parts.forEach(p -> p.schema().path("required").forEach(r -> out.add(r.asText())));
        return out;
    }

    /** Whether other members than its properties are meant to be there, not only not forbidden. */
    boolean hasMore() {
        return get("additionalProperties")
                .map(a -> a.isObject() || a.equals(BooleanNode.TRUE))
                .orElse(false);
    }

    private Set<String> types() {
        Set<String> out = new LinkedHashSet<>();
        get("type").ifPresent(t -> {
            if (t.isArray()) {
                t.forEach(x -> out.add(x.asText()));
            } else {
                out.add(t.asText());
            }
        });
        return out;
    }

    Value value() {
        Set<String> types = types();
        types.remove(NULL);
        if (types.isEmpty()) {
            return implied();
        }
        if (types.equals(Set.of("integer", "number"))) {
            return Value.NUMBER;
        }
        if (types.size() > 1) {
            return Value.ANY;
        }
        return switch (types.iterator().next()) {
            case "object" -> properties().isEmpty() && kinds.isEmpty() ? Value.ANY : Value.OBJECT;
            case "array" -> Value.ARRAY;
            case "string" -> Value.TEXT;
            case "integer", "number" -> Value.NUMBER;
            case "boolean" -> Value.TRUTH;
            default -> Value.ANY;
        };
    }

    /** Of one that says no type. */
    private Value implied() {
        if (!properties().isEmpty()) {
            return Value.OBJECT;
        }
        if (get("items").isPresent()) {
            return Value.ARRAY;
        }
        if (!kinds.isEmpty()) {
            List<Value> all = kinds.stream()
                    .map(k -> of(source, k.schema(), k.base()).value())
                    .distinct()
                    .toList();
            return all.size() == 1 && all.get(0) != Value.ARRAY ? all.get(0) : Value.ANY;
        }
        List<JsonNode> fixed = new ArrayList<>();
        get("const").ifPresent(fixed::add);
        get("enum").ifPresent(e -> e.forEach(fixed::add));
        fixed.removeIf(JsonNode::isNull);
        if (fixed.isEmpty()) {
            return Value.ANY;
        }
        return fixed.stream().allMatch(JsonNode::isTextual)
                ? Value.TEXT
                : fixed.stream().allMatch(JsonNode::isNumber)
                        ? Value.NUMBER
                        : fixed.stream().allMatch(JsonNode::isBoolean) ? Value.TRUTH : Value.ANY;
    }
}
