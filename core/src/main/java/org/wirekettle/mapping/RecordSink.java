package org.wirekettle.mapping;

import org.wirekettle.record.Node;

/** Builds records. */
final class RecordSink implements Sink {
    private Node at;

    RecordSink(Node root) {
        at = root;
    }

    @Override
    public int mark() {
        return at.children().size();
    }

    @Override
    public void rewind(int mark) {
        while (at.children().size() > mark) {
            at.removeLast();
        }
    }

    @Override
    public void start(Row row) {
        Node n = new Node(row.shape.namespace(), row.shape.name());
        at.add(n);
        at = n;
    }

    @Override
    public void attribute(Row row, String value) {
        Node a = new Node(row.shape.namespace(), row.shape.name());
        a.text(value);
        at.addAttribute(a);
    }

    @Override
    public void nil(Row row) {
        at.nil(true);
    }

    @Override
    public void rawAttributes(String attributes) {
        // Records have the attributes their shape names.
    }

    @Override
    public int attributesAt() {
        return 0;
    }

    @Override
    public void arraySize(Row row, int attributesAt) {
        // A record's list knows its own length.
    }

    @Override
    public void text(String value) {
        at.text(value);
    }

    @Override
    public void raw(String xml) {
        at.text(xml);
    }

    @Override
    public void end(Row row, boolean keep) {
        at = at.parent();
        if (!keep) {
            at.removeLast();
        }
    }
}
