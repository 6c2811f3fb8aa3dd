package org.wirekettle.mapping;

import static org.testng.Assert.assertTrue;

import java.util.Set;
import java.util.regex.Pattern;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Texts made for patterns match them. */
public class SamplesTest {
    @DataProvider
    public Object[][] patterns() {
        return new Object[][] {
            {"[A-Z]{5}"},
            {"\\d{3}-\\d{2,4}"},
            {"(AB|CD)+x?"},
            {"[^0-9]{2}"},
            {"a|b|c\\.d"},
            {"\\+?[0-9 ]{6,20}"},
            {"[a-zA-Z0-9_.-]+@[a-z]+\\.[a-z]{2,3}"},
            {"([01]\\d|2[0-3]):[0-5]\\d"},
            {".{3}"},
            {"[\\-+]?\\d+(\\.\\d{1,2})?"},
            {"(?:x{2}|y){2}"},
            {"\\p{Lu}\\p{L}*"},
            {"\\s\\S\\w\\W\\D"},
            {"a{2,}b{3}"},
            {"[&\\[\\]]{4}x"},
            {"\u00e9[\u00e0-\u00ff]"},
            {"[A-Z]{2}[0-9]{2}[A-Z0-9]{1,30}"}
        };
    }

    @Test(dataProvider = "patterns")
    public void someSampleMatches(String pattern) {
        Set<String> samples = PatternSamples.of(pattern);
        assertTrue(samples.stream().anyMatch(s -> Pattern.matches(pattern, s)), pattern + " gave " + samples);
    }

    @Test
    public void whatOnlySchemasHaveIsUnderstood() {
        assertAll("[a-z-[aeiou]]{3}", "[^aeiou\\P{L}]{3}");
        assertAll("[a-z-[^xyz]]", "[xyz]");
        assertAll("\\i\\c*", "[A-Za-z_][\\w.-]*");
        assertAll("\\C\\I", "[^A-Za-z0-9._-][^A-Za-z_]");
        assertAll("^a$", "\\^a\\$");
        assertAll("[+\\-]?\\d", "[+-]?\\d");
    }

    private static void assertAll(String schema, String java) {
        Set<String> samples = PatternSamples.of(schema);
        assertTrue(!samples.isEmpty(), schema);
        samples.forEach(s -> assertTrue(Pattern.matches(java, s), schema + " gave " + s));
    }

    @Test
    public void aPatternOfEndlessTextsGivesNothing() {
        assertTrue(PatternSamples.of("((((a{99}){99}){99}){99}){99}").isEmpty());
        assertTrue(PatternSamples.of("a{2000000000}").isEmpty());
        assertTrue(PatternSamples.of("(a{9000}|b)(c{9000})").isEmpty());
    }

    @Test
    public void whatIsNotUnderstoodGivesNothingAndNeverHangs() {
        for (String odd : new String[] {"[", "(", "a{", "\\", "[a-", "(((((((((", "a{99999999999}"}) {
            PatternSamples.of(odd).forEach(s -> assertTrue(s.length() < 1_000));
        }
    }
}
