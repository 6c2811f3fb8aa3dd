package org.wirekettle.flow;

import java.nio.charset.StandardCharsets;
import java.util.AbstractList;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import org.wirekettle.call.Exchange;
import org.wirekettle.connector.Field;
import org.wirekettle.record.Node;
import org.wirekettle.xml.XmlText;

/** The text of the latest answer as it came, as {@code $raw}. Made when it is asked for; it may be large. */
final class RawAnswer extends AbstractList<Node> {
    static final String NAME = "raw";
    /** A text has none. */
    static final List<Field> FIELDS = Collections.unmodifiableList(new ArrayList<>());

    private final Exchange exchange;
    private Node made;

    RawAnswer(Exchange exchange) {
        this.exchange = exchange;
    }

    @Override
    public Node get(int index) {
        if (index != 0) {
            throw new IndexOutOfBoundsException(index);
        }
        if (made == null) {
            boolean isXml =
                    exchange.contentType().filter(t -> t.contains("json")).isEmpty();
            made = Node.leaf(
                    NAME,
                    isXml ? XmlText.decoded(exchange.xml()) : new String(exchange.answer(), StandardCharsets.UTF_8));
        }
        return made;
    }

    @Override
    public int size() {
        return 1;
    }
}
