package org.wirekettle.input;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import java.io.IOException;
import java.io.StringWriter;

/** The JSON value that a parser stands on, as text. */
final class Copied {
    private static final JsonFactory JSON = new JsonFactory();

    private Copied() {}

    static String text(JsonParser in) throws IOException {
        StringWriter out = new StringWriter();
        try (JsonGenerator to = JSON.createGenerator(out)) {
            to.copyCurrentStructure(in);
        }
        return out.toString();
    }
}
