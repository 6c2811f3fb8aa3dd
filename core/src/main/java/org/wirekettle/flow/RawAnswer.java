package org.wirekettle.flow;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import org.wirekettle.call.Exchange;
import org.wirekettle.connector.Field;
import org.wirekettle.record.Node;
import org.wirekettle.xml.XmlText;

/** The text of the latest answer as it came, as {@code $raw}. */
final class RawAnswer {
    static final String NAME = "raw";
    /** A text has none. */
    static final List<Field> FIELDS = Collections.unmodifiableList(new ArrayList<>());

    private RawAnswer() {}

    /** Made when it is asked for: it may be large. */
    static List<Node> of(Exchange exchange) {
        return new OneLater(() -> Node.leaf(NAME, text(exchange)));
    }

    private static String text(Exchange exchange) {
        boolean isJson = exchange.contentType().filter(t -> t.contains("json")).isPresent();
        return isJson ? new String(exchange.answer(), StandardCharsets.UTF_8) : XmlText.decoded(exchange.xml());
    }
}
