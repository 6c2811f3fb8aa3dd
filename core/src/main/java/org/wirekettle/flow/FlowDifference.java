package org.wirekettle.flow;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.wirekettle.problem.Show;

/** What changed between two versions of a flow, in words. Steps are told apart by their ids, whatever their kind. */
public final class FlowDifference {
    private static final ObjectMapper JSON = new ObjectMapper();
    /** Entries of one list that are named; more are counted. */
    private static final int MAX_NAMED = 4;

    private static final int MAX_TITLE_CHARS = 80;

    /**
     * What tells the entries of a list apart: rows of a fill have a path, columns of a pick a name, its kinds another.
     */
    private static final List<String> KEYS = List.of("path", "name", "as");

    private FlowDifference() {}

    /** @return a line for each step that came, went or changed, in the order of the later version; empty when none */
    public static List<String> between(Flow before, Flow after) {
        Map<String, Step> old = byId(before);
        Map<String, Step> now = byId(after);
        List<String> out = new ArrayList<>();
        Map<String, String> places = places(after);
        Map<String, String> placesBefore = places(before);
        now.forEach((id, found) -> {
            Step step = alone(found);
            Step was = old.containsKey(id) ? alone(old.get(id)) : null;
            if (was == null) {
                out.add("added " + called(step));
            } else if (!was.equals(step)) {
                List<String> changes = changes(JSON.valueToTree(was), JSON.valueToTree(step));
                out.add(called(step) + ": " + String.join("; ", changes));
            }
            if (was != null && !places.get(id).equals(placesBefore.get(id))) {
                out.add("moved " + called(step) + " into another block");
            }
        });
        old.forEach((id, step) -> {
            if (!now.containsKey(id)) {
                out.add("removed " + called(step));
            }
        });
        List<String> stayed = old.keySet().stream().filter(now::containsKey).toList();
        if (!stayed.equals(now.keySet().stream().filter(old::containsKey).toList())) {
            out.add("the steps are in another order");
        }
        return out;
    }

    private static Map<String, Step> byId(Flow flow) {
        Map<String, Step> out = new LinkedHashMap<>();
        flow.all().forEach(s -> out.put(s.id(), s));
        return out;
    }

    /** A step without what is inside it: those are told of by themselves. */
    private static Step alone(Step s) {
        List<List<Step>> empty = s.arms().stream().map(a -> List.<Step>of()).toList();
        return empty.isEmpty() ? s : s.doing(s.kind().around(empty));
    }

    /** Where each step is: its block and arm. */
    private static Map<String, String> places(Flow flow) {
        Map<String, String> out = new LinkedHashMap<>();
        flow.steps().forEach(s -> out.put(s.id(), ""));
        flow.all().forEach(s -> s.arms()
                .forEach(a -> a.steps().forEach(inside -> out.put(inside.id(), s.id() + "/" + a.name()))));
        return out;
    }

    private static String called(Step step) {
        String title = step.title();
        return step.kindName() + " "
                + (title.length() <= MAX_TITLE_CHARS ? title : title.substring(0, MAX_TITLE_CHARS) + "…");
    }

    private static List<String> changes(JsonNode before, JsonNode after) {
        Set<String> fields = new LinkedHashSet<>();
        before.fieldNames().forEachRemaining(fields::add);
        after.fieldNames().forEachRemaining(fields::add);
        List<String> out = new ArrayList<>();
        for (String field : fields) {
            JsonNode was = before.path(field);
            JsonNode is = after.path(field);
            if (!was.equals(is)) {
                out.add(key(was, is)
                        .map(k -> entries(field, k, was, is))
                        .orElseGet(() -> field + " was " + words(was) + ", is " + words(is)));
            }
        }
        return out;
    }

    private static Optional<String> key(JsonNode was, JsonNode is) {
        JsonNode sample =
                is.isArray() && !is.isEmpty() ? is.get(0) : was.isArray() && !was.isEmpty() ? was.get(0) : null;
        return sample == null
                ? Optional.empty()
                : KEYS.stream().filter(sample::has).findFirst();
    }

    private static String entries(String field, String key, JsonNode was, JsonNode is) {
        Map<String, JsonNode> old = byKey(was, key);
        Map<String, JsonNode> now = byKey(is, key);
        List<String> parts = new ArrayList<>();
        told("added", now.keySet().stream().filter(k -> !old.containsKey(k)).toList(), parts);
        told("removed", old.keySet().stream().filter(k -> !now.containsKey(k)).toList(), parts);
        told(
                "changed",
                now.entrySet().stream()
                        .filter(e -> old.containsKey(e.getKey())
                                && !old.get(e.getKey()).equals(e.getValue()))
                        .map(Map.Entry::getKey)
                        .toList(),
                parts);
        return field + " " + (parts.isEmpty() ? "in another order" : String.join(", ", parts));
    }

    private static Map<String, JsonNode> byKey(JsonNode list, String key) {
        Map<String, JsonNode> out = new LinkedHashMap<>();
        list.forEach(e -> out.put(e.path(key).asText(), e));
        return out;
    }

    private static void told(String what, List<String> names, List<String> into) {
        if (!names.isEmpty()) {
            List<String> some = names.stream()
                    .limit(MAX_NAMED)
                    .map(n -> n.substring(n.lastIndexOf('/') + 1))
                    .toList();
            int more = names.size() - some.size();
            into.add(what + " " + String.join(", ", some) + (more > 0 ? " and " + more + " more" : ""));
        }
    }

    private static String words(JsonNode value) {
        if (value.isMissingNode() || value.isNull()) {
            return "nothing";
        }
        return Show.value(value.isValueNode() ? value.asText() : value.toString());
    }
}
