package org.wirekettle.server.data;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A flow that uses a source, and the names its expressions have: a field that is among them may be used.
 *
 * @param flow its id
 */
public record SourceUse(long flow, String name, List<String> words) {
    private static final int MAX_WORDS = 5_000;
    private static final Pattern WORD = Pattern.compile("[\\p{L}_][\\p{L}\\p{N}_.-]*");

    static SourceUse of(long flow, String name, JsonNode definition) {
        Set<String> words = new LinkedHashSet<>();
        collect(definition, words);
        return new SourceUse(flow, name, List.copyOf(words));
    }

    private static void collect(JsonNode at, Set<String> into) {
        if (at.isTextual()) {
            for (Matcher m = WORD.matcher(at.asText()); into.size() < MAX_WORDS && m.find(); ) {
                into.add(m.group());
            }
        }
        at.forEach(inside -> collect(inside, into));
    }
}
