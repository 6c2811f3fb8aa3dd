package org.wirekettle.flow;

import java.util.List;
import java.util.Locale;
import java.util.Set;
import org.wirekettle.call.Exchange;
import org.wirekettle.connector.Field;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/**
 * What is known of the latest call beside what it says, as {@code $call}: its {@code status}, how many {@code millis}
 * it took, and below {@code header} the answer's headers by their names in small letters.
 */
final class CallFacts {
    static final String NAME = "call";
    static final List<Field> FIELDS = List.of(
            Field.of("status", "status", "integer"),
            Field.of("millis", "millis", "integer"),
            Field.of("header", "header", Field.NESTED));
    /** What would let others in. */
    private static final Set<String> SECRET = Set.of("set-cookie", "set-cookie2", "www-authenticate");

    private static final int MICROS_A_MILLI = 1_000;

    private CallFacts() {}

    static List<Node> of(Exchange exchange) {
        return new OneLater(() -> made(exchange));
    }

    private static Node made(Exchange exchange) {
        Node made = new Node("", NAME);
        made.add(Node.leaf("status", Integer.toString(exchange.status())));
        made.add(Node.leaf("millis", Long.toString(exchange.totalMicros() / MICROS_A_MILLI)));
        Node headers = new Node("", "header");
        made.add(headers);
        for (String[] h : exchange.answerHeaders()) {
            String name = h[0].toLowerCase(Locale.ROOT);
            if (!SECRET.contains(name)) {
                headers.add(Node.leaf(FieldNames.name(name), h[1]));
            }
        }
        return made;
    }
}
