package org.wirekettle.connector.file;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import org.wirekettle.xml.FieldNames;

/**
 * Where in a nested file its records are: names from the outermost on, {@code *} for any. {@code //line} is a
 * {@code line} wherever it stands; nothing is the whole file. Immutable.
 */
public final class RecordPath {
    private static final int MAX_STEPS = 50;
    private static final String ANY = "*";
    /** A name as expressions have it. */
    private static final Pattern ESCAPED = Pattern.compile("_x[0-9A-F]{4}_");

    private final List<String> steps;
    private final boolean isAnywhere;

    private RecordPath(List<String> steps, boolean isAnywhere) {
        this.steps = steps;
        this.isAnywhere = isAnywhere;
    }

    /** @throws IllegalArgumentException in words, when it is no path */
    public static RecordPath of(String path) {
        String p = path == null ? "" : path.strip();
        boolean isAnywhere = p.startsWith("//");
        p = p.replaceFirst("^/+", "");
        List<String> steps = new ArrayList<>();
        if (!p.isEmpty()) {
            for (String step : p.split("/", -1)) {
                String s = step.strip();
                if (s.isEmpty() || s.matches(".*[\\[\\]@()].*")) {
                    throw new IllegalArgumentException("“" + path + "” is no path of names, such as manifests/manifest:"
                            + " names with / between them, * for any, // in front for anywhere.");
                }
                int colon = s.indexOf(':');
                String local = colon > 0 && colon < s.length() - 1 ? s.substring(colon + 1) : s;
                steps.add(local.equals(ANY) || ESCAPED.matcher(local).find() ? local : FieldNames.name(local));
            }
        }
        if (steps.size() > MAX_STEPS) {
            throw new IllegalArgumentException("A path has at most " + MAX_STEPS + " names.");
        }
        if (isAnywhere && steps.isEmpty()) {
            throw new IllegalArgumentException("Say what is to be found anywhere, such as //line.");
        }
        return new RecordPath(List.copyOf(steps), isAnywhere);
    }

    /** Whether one record is the whole file. */
    public boolean isWhole() {
        return steps.isEmpty();
    }

    /** @param names from the outermost to the one looked at */
    boolean fits(List<String> names) {
        int from = names.size() - steps.size();
        if (from < 0 || from > 0 && !isAnywhere) {
            return false;
        }
        for (int i = steps.size() - 1; i >= 0; i--) {
            String step = steps.get(i);
            if (!step.equals(ANY) && !step.equals(names.get(from + i))) {
                return false;
            }
        }
        return true;
    }
}
