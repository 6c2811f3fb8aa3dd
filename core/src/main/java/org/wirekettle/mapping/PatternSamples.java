package org.wirekettle.mapping;

import com.github.curiousoddman.rgxgen.RgxGen;
import com.github.curiousoddman.rgxgen.config.RgxGenOption;
import com.github.curiousoddman.rgxgen.config.RgxGenProperties;
import java.util.LinkedHashSet;
import java.util.Random;
import java.util.Set;

/**
 * Makes texts that an XSD pattern (XSD part 2, appendix F) is likely to accept. What is not understood gives nothing;
 * the type checks the rest.
 */
public final class PatternSamples {
    private static final int TRIES = 12;
    /** More of a * or + than this shows nothing. */
    private static final int ENDLESS = 3;

    private PatternSamples() {}

    /** @return some; none for a pattern that is not understood */
    public static Set<String> of(String pattern) {
        Set<String> out = new LinkedHashSet<>();
        try {
            RgxGenProperties properties = new RgxGenProperties();
            RgxGenOption.INFINITE_PATTERN_REPETITION.setInProperties(properties, ENDLESS);
            RgxGen generator = RgxGen.parse(properties, new PlainPattern(pattern, ENDLESS).text());
            for (int i = 0; i < TRIES; i++) {
                out.add(generator.generate(new Random(i)));
            }
        } catch (RuntimeException e) {
            // a pattern that breaks the rules, or one whose texts would be too long: there are other ways to a sample
        }
        return out;
    }
}
