package org.wirekettle.contract.http;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/** Finds the member by whose value objects are told apart: those with one value have members that others never have. */
final class SampleKinds {
    private static final int MAX_KINDS = 12;
    /** Of one that is called so it is likelier. */
    private static final List<String> USUAL = List.of("type", "kind", "class", "category");

    private static final Pattern NAME = Pattern.compile("\\p{L}[\\p{L}\\p{N}_.-]{0,59}");

    private SampleKinds() {}

    /** @return the member's name; empty when there is none */
    static Optional<String> teller(List<JsonNode> objects) {
        if (objects.size() < 2) {
            return Optional.empty();
        }
        Set<String> names = new LinkedHashSet<>();
        USUAL.stream().filter(objects.get(0)::has).forEach(names::add);
        objects.get(0).fieldNames().forEachRemaining(names::add);
        return names.stream().filter(n -> tells(objects, n)).findFirst();
    }

    static Map<String, List<JsonNode>> byKind(List<JsonNode> objects, String teller) {
        Map<String, List<JsonNode>> out = new LinkedHashMap<>();
        objects.forEach(o -> out.computeIfAbsent(o.get(teller).asText(), k -> new java.util.ArrayList<>())
                .add(o));
        return out;
    }

    private static boolean tells(List<JsonNode> objects, String name) {
        Set<String> values = new HashSet<>();
        for (JsonNode o : objects) {
            JsonNode v = o.get(name);
            boolean isName =
                    v != null && v.isTextual() && NAME.matcher(v.asText()).matches();
            if (!isName || values.add(v.asText()) && values.size() > MAX_KINDS) {
                return false;
            }
        }
        if (values.size() < 2) {
            return false;
        }
        List<List<JsonNode>> kinds = List.copyOf(byKind(objects, name).values());
        // One that is as good as a number of its own tells nothing: two of a kind must be alike.
        boolean areAlike = objects.size() > values.size() || values.size() <= 3 && USUAL.contains(name);
        return areAlike
                && kinds.stream().allMatch(own -> kinds.stream().anyMatch(other -> other != own && hasOwn(own, other)));
    }

    /** Whether all of these have a member that none of the others has, or the other way round. */
    private static boolean hasOwn(List<JsonNode> these, List<JsonNode> others) {
        return always(these, others) || always(others, these);
    }

    private static boolean always(List<JsonNode> these, List<JsonNode> others) {
        Set<String> out = new HashSet<>();
        these.get(0).fieldNames().forEachRemaining(out::add);
        out.removeIf(
                n -> !these.stream().allMatch(o -> o.has(n)) || others.stream().anyMatch(o -> o.has(n)));
        return !out.isEmpty();
    }
}
