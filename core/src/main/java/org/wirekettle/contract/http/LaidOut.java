package org.wirekettle.contract.http;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.util.DefaultIndenter;
import com.fasterxml.jackson.core.util.DefaultPrettyPrinter;
import com.fasterxml.jackson.core.util.Separators;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.ObjectWriter;

/** JSON as people write it, to be read and changed by hand. */
public final class LaidOut {
    private static final ObjectWriter WRITER = new ObjectMapper()
            .writer(new DefaultPrettyPrinter(
                            Separators.createDefaultInstance().withObjectFieldValueSpacing(Separators.Spacing.AFTER))
                    .withObjectIndenter(new DefaultIndenter("  ", "\n")));

    private LaidOut() {}

    public static String text(JsonNode json) {
        try {
            return WRITER.writeValueAsString(json);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("a tree can be written", e);
        }
    }
}
