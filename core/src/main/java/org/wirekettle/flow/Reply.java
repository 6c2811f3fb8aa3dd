package org.wirekettle.flow;

import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.record.Node;

/**
 * What a flow answers to whoever handed it the record.
 *
 * @param records exactly one, unless its form is a list
 */
public record Reply(Form form, List<Node> records) {
    /**
     * What it looks like.
     *
     * @param fields of each of its records
     * @param isList whether there may be any number of them
     */
    public record Form(List<Field> fields, boolean isList) {}
}
