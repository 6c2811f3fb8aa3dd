package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.mapping.Matching.Suggestion;

/** How good suggestions are over a fixed set of pairs; the figures are in docs/flows.md. */
public class MatchingSetTest {
    private static final double LEAST_PRECISION = 0.95;
    private static final double LEAST_RECALL = 0.75;

    private static final class Pair {
        private final List<Field> fields = new ArrayList<>();
        private final List<String> rows = new ArrayList<>();
        private final Map<String, String> wanted = new LinkedHashMap<>();
    }

    private static Map<String, Pair> pairs() throws Exception {
        Map<String, Pair> out = new LinkedHashMap<>();
        try (InputStream in = MatchingSetTest.class.getResourceAsStream("/matching/pairs.txt")) {
            Pair at = null;
            for (String line : new String(in.readAllBytes(), StandardCharsets.UTF_8).split("\n")) {
                String[] words = line.split(" ", 4);
                if (line.startsWith("== ")) {
                    at = new Pair();
                    out.put(line.substring(3), at);
                } else if (words[0].equals("field")) {
                    at.fields.add(SuggestionsTest.leaf(words[1], words[2], words.length > 3 ? words[3] : null, false));
                } else if (words[0].equals("row")) {
                    at.rows.add(words[1] + " " + words[2]);
                    if (words.length > 3) {
                        at.wanted.put(words[1], words[3].replace("<- ", ""));
                    }
                }
            }
        }
        return out;
    }

    private static boolean takes(String xpath, String field) {
        return xpath.matches(".*(?<![\\w.-])" + java.util.regex.Pattern.quote(field) + "(?![\\w.-]).*");
    }

    @Test
    public void suggestionsAreSeldomWrongAndOftenThere() throws Exception {
        Map<String, Pair> pairs = pairs();
        assertEquals(pairs.size(), 12);
        int right = 0;
        int offered = 0;
        int wanted = 0;
        List<String> wrong = new ArrayList<>();
        for (Map.Entry<String, Pair> p : pairs.entrySet()) {
            Pair pair = p.getValue();
            wanted += pair.wanted.size();
            for (Suggestion s :
                    Suggestions.of(SuggestionsTest.rows(pair.rows.toArray(new String[0])), List.of(), pair.fields)) {
                offered++;
                String field = pair.wanted.get(s.path());
                if (field != null && takes(s.xpath(), field)) {
                    right++;
                } else {
                    wrong.add(p.getKey() + ": " + s.path() + " <- " + s.xpath() + " instead of " + field);
                }
            }
        }
        double precision = (double) right / offered;
        double recall = (double) right / wanted;
        String found = String.format("precision %.2f, recall %.2f (%d of %d)", precision, recall, right, wanted);
        assertTrue(precision >= LEAST_PRECISION && recall >= LEAST_RECALL, found + "; wrong: " + wrong);
    }
}
