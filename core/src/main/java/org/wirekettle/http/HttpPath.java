package org.wirekettle.http;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.wirekettle.problem.Refused;

/** A path that is asked for, some of its segments values with a name in braces. Immutable. */
public final class HttpPath {
    private static final int MAX_CHARS = 500;
    private static final String LITERAL = "[A-Za-z0-9._~-]+";

    private final List<String> segments;

    private HttpPath(List<String> segments) {
        this.segments = segments;
    }

    /** @throws Refused with what it must look like */
    public static HttpPath of(String path) {
        if (path == null || !path.startsWith("/") || path.length() < 2 || path.length() > MAX_CHARS) {
            throw refused("A path begins with / and has 2 to " + MAX_CHARS + " characters.");
        }
        List<String> out = List.of(path.substring(1).split("/", -1));
        Set<String> names = new HashSet<>();
        for (String s : out) {
            boolean isValue = s.startsWith("{") && s.endsWith("}") && s.length() > 2;
            if (isValue ? s.indexOf('{', 1) > 0 : !s.matches(LITERAL) || s.equals(".") || s.equals("..")) {
                throw refused("A part of a path is letters, digits, - . _ ~, or an input's name in braces; “" + s
                        + "” is neither.");
            }
            if (isValue && !names.add(s)) {
                throw refused("The path names " + s + " twice.");
            }
        }
        return new HttpPath(out);
    }

    private static Refused refused(String text) {
        return new Refused("http.path", null, text);
    }

    /** The names in braces, in order. */
    public List<String> names() {
        return segments.stream()
                .filter(HttpPath::isValue)
                .map(s -> s.substring(1, s.length() - 1))
                .toList();
    }

    private static boolean isValue(String segment) {
        return segment.startsWith("{");
    }

    /** What tells it from other paths: two of the same are asked for by the same addresses. */
    public String form() {
        StringBuilder out = new StringBuilder();
        segments.forEach(s -> out.append('/').append(isValue(s) ? "{}" : s));
        return out.toString();
    }

    /**
     * Compared with another that an address fits as well: the one with a literal part where the other has a value comes
     * first.
     */
    public static int byLiterals(HttpPath a, HttpPath b) {
        for (int i = 0; i < Math.min(a.segments.size(), b.segments.size()); i++) {
            boolean isValue = isValue(a.segments.get(i));
            if (isValue != isValue(b.segments.get(i))) {
                return isValue ? 1 : -1;
            }
        }
        return a.form().compareTo(b.form());
    }

    /**
     * Takes an address apart.
     *
     * @param encoded the path as it was asked for, percent-encoded
     * @return the values by name; empty when it is not this path. @throws IllegalArgumentException for a bad encoding
     */
    public Optional<Map<String, String>> values(String encoded) {
        String[] given = encoded.substring(1).split("/", -1);
        if (given.length != segments.size()) {
            return Optional.empty();
        }
        Map<String, String> out = new HashMap<>();
        List<Integer> left = new ArrayList<>();
        for (int i = 0; i < given.length; i++) {
            if (isValue(segments.get(i))) {
                left.add(i);
            } else if (!segments.get(i).equals(given[i])) {
                return Optional.empty();
            }
        }
        for (int i : left) {
            if (given[i].isEmpty()) {
                return Optional.empty();
            }
            String s = segments.get(i);
            out.put(s.substring(1, s.length() - 1), Encoding.plain(given[i], false));
        }
        return Optional.of(out);
    }

    @Override
    public String toString() {
        return "/" + String.join("/", segments);
    }
}
