package org.wirekettle.mapping;

/** Takes what a mapping produces, in document order. Used once, by one thread. */
interface Sink {
    /** The place reached, for {@link #rewind}. */
    int mark();

    /** Forgets what was written since; nothing started since may still be open. */
    void rewind(int mark);

    void start(Row row);

    /** An element with a text and no attributes: the commonest of all. */
    default void leaf(Row row, String value) {
        start(row);
        text(value);
        end(row, true);
    }

    void attribute(Row row, String value);

    void nil(Row row);

    /** Attributes as XML writes them, well-formed. */
    void rawAttributes(String attributes);

    /** The place in the tag just started, for {@link #arraySize}. */
    int attributesAt();

    /** Says in the tag at that place how many items the array turned out to have (SOAP 1.1 §5.4.2). */
    void arraySize(Row row, int attributesAt);

    void text(String value);

    /** Free XML, well-formed. */
    void raw(String xml);

    /** Ends the element started last; when not kept, everything since its start is as if it had not been. */
    void end(Row row, boolean keep);
}
