package org.wirekettle.document;

/** A schema as a file. @param name as others of the same shape refer to it */
public record SchemaText(String name, String text) {
    /** Of one file, in characters. */
    public static final int MAX_CHARS = 4_000_000;
    /** Files of one shape. */
    public static final int MAX_FILES = 50;
    /** Of all files of one shape, in characters. */
    public static final int MAX_ALL_CHARS = 8_000_000;

    public SchemaText {
        if (name == null || name.isBlank() || text == null) {
            throw new IllegalArgumentException("A file of a shape has a name and a text.");
        }
        if (text.length() > MAX_CHARS) {
            throw new IllegalArgumentException("The file " + name + " is longer than " + MAX_CHARS / 1_000_000
                    + " million characters, the limit.");
        }
    }
}
