package org.wirekettle.flow;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.record.Node;

/**
 * What a flow answers to whoever handed it the record.
 *
 * @param records exactly one, unless its form is a list
 * @param message what is answered to the request of an operation; null for others
 */
public record Reply(Form form, List<Node> records, @Nullable Message message) {
    public Reply(Form form, List<Node> records) {
        this(form, records, null);
    }

    /**
     * A message of an operation.
     *
     * @param fault the name of the declared fault that it is; null for an answer
     * @param reason of the fault, for people
     * @param headers header blocks, as XML
     * @param body the body's content, or that of the fault's detail, as XML
     */
    public record Message(@Nullable String fault, @Nullable String reason, String headers, String body) {}

    /**
     * What it looks like.
     *
     * @param fields of each of its records
     * @param isList whether there may be any number of them
     */
    public record Form(List<Field> fields, boolean isList) {}
}
