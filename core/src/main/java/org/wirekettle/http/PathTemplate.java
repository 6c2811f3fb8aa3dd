package org.wirekettle.http;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.wirekettle.contract.HttpTemplate;

/** A path with names in braces (OpenAPI 3.1 §4.8.8), taken apart once. Immutable. */
final class PathTemplate {
    private final List<String> labels;
    /** What stands before each name, and behind the last one; encoded. */
    private final List<String> between = new ArrayList<>();

    PathTemplate(String path) {
        labels = HttpTemplate.variables(path);
        int at = 0;
        for (String label : labels) {
            String name = "{" + label + "}";
            int found = path.indexOf(name, at);
            between.add(Encoding.literal(path.substring(at, found)));
            at = found + name.length();
        }
        between.add(Encoding.literal(path.substring(at)));
    }

    List<String> labels() {
        return labels;
    }

    /** @param values encoded, one for each label */
    String with(List<String> values) {
        StringBuilder out = new StringBuilder(between.get(0));
        for (int i = 0; i < values.size(); i++) {
            out.append(values.get(i)).append(between.get(i + 1));
        }
        return out.toString();
    }

    /**
     * Goes through a path once, each value ending where what follows it stands first: no other way is tried, since
     * whoever wrote the template could make that take for ever.
     *
     * @param path without a query
     * @return the values, encoded; empty when the path is none of these
     */
    Optional<List<String>> values(String path) {
        String last = between.get(between.size() - 1).replaceFirst("\\?.*", "");
        if (labels.isEmpty()) {
            return path.equals(last) ? Optional.of(List.of()) : Optional.empty();
        }
        if (!path.startsWith(between.get(0))) {
            return Optional.empty();
        }
        List<String> out = new ArrayList<>();
        int at = between.get(0).length();
        for (int i = 0; i < labels.size(); i++) {
            boolean isLast = i == labels.size() - 1;
            String next = isLast ? last : between.get(i + 1);
            int end = isLast ? path.length() - last.length() : path.indexOf(next, at + 1);
            if (end <= at
                    || isLast && !path.endsWith(last)
                    || path.substring(at, end).indexOf('/') >= 0) {
                return Optional.empty();
            }
            out.add(path.substring(at, end));
            at = end + next.length();
        }
        return Optional.of(out);
    }
}
