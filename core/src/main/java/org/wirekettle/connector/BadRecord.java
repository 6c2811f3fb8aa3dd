package org.wirekettle.connector;

import java.util.Optional;
import org.wirekettle.record.Node;

/**
 * A record that could not be read as its source says. It goes the way of all records, with what could be read of it and
 * the reason, and is set aside by the step that reads: a bad line never stops the others, and is never lost.
 */
public final class BadRecord {
    private static final String NAMESPACE = "urn:wire-kettle:record";
    private static final String REASON = "unreadable";

    private BadRecord() {}

    /** @param reason where and what is wrong, in words. @return the record */
    public static Node mark(Node record, String reason) {
        Node said = new Node(NAMESPACE, REASON);
        said.text(reason);
        return record.addAttribute(said);
    }

    /** A record of which nothing can be told but its text. */
    public static Node ofText(String text, String reason) {
        return mark(new Node("", "record").add(Node.leaf("text", text)), reason);
    }

    /** Why it could not be read; empty for a good one. */
    public static Optional<String> reason(Node record) {
        for (Node a : record.attributes()) {
            if (isReason(a)) {
                return Optional.of(a.string());
            }
        }
        return Optional.empty();
    }

    /** Somebody has put it right. */
    public static void mended(Node record) {
        record.attributes().stream().filter(BadRecord::isReason).findFirst().ifPresent(record::removeAttribute);
    }

    /** Whether an attribute is no part of the record, but says why it could not be read. */
    public static boolean isReason(Node attribute) {
        return attribute.name().equals(REASON) && attribute.namespace().equals(NAMESPACE);
    }
}
