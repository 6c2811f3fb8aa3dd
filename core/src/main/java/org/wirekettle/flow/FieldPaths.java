package org.wirekettle.flow;

import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wirekettle.connector.Field;

/** Finds the fields of what a plain path gives. */
final class FieldPaths {
    /** A path of names, and what its items are filtered by. */
    private static final Pattern PATH = Pattern.compile("(?:\\./)?([^\\[\\](),$ ]+)(\\[.*])?", Pattern.DOTALL);

    /** Around a path: an order of its items. */
    private static final Pattern SORTED =
            Pattern.compile("(?:reverse\\()?sort\\((.+?), \\(\\), function\\b.*", Pattern.DOTALL);

    private FieldPaths() {}

    /**
     * The fields of an item.
     *
     * @param path from where these fields are; {@code line[state != 'void']}
     * @return none where they are not known, or the expression is more than a path
     */
    static List<Field> inside(List<Field> fields, String path) {
        Matcher sorted = SORTED.matcher(path.strip());
        Matcher m = PATH.matcher(sorted.matches() ? sorted.group(1).strip() : path.strip());
        if (!m.matches()) {
            return List.of();
        }
        List<Field> at = fields;
        for (String name : m.group(1).split("/")) {
            Optional<Field> found = at.stream()
                    .filter(f -> f.name().equals(name) && f.fields() != null)
                    .findFirst();
            if (found.isEmpty()) {
                return List.of();
            }
            at = found.get().fields();
        }
        return at;
    }
}
