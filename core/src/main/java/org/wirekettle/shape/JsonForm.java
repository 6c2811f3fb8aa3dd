package org.wirekettle.shape;

/**
 * How a node stands in JSON (RFC 8259), which knows kinds of values and arrays where a tree of elements does not.
 *
 * @param isArray whether its occurrences are the items of an array
 * @param isKept whether that array stands there even without items
 */
public record JsonForm(Value value, boolean isArray, boolean isKept) {
    /** What one occurrence is. */
    public enum Value {
        OBJECT,
        /** An array in its place: inside another one, or the whole of a message. */
        ARRAY,
        TEXT,
        NUMBER,
        TRUTH,
        /** Any JSON, given as its text; a text that is no JSON stands for itself. */
        ANY,
        /** Further members of the object it is in, given as the text of an object. */
        MEMBERS
    }

    static JsonForm of(Value value) {
        return new JsonForm(value, false, false);
    }
}
