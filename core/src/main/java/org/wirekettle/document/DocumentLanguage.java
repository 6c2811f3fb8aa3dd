package org.wirekettle.document;

/** What a shape is written in; documents of it are XML, or JSON. */
public enum DocumentLanguage {
    /** XML Schema 1.0. */
    XSD("xsd"),
    /** JSON Schema 2020-12; older forms are read, too. */
    JSON_SCHEMA("json-schema");

    private final String id;

    DocumentLanguage(String id) {
        this.id = id;
    }

    /** As definitions have it. */
    public String id() {
        return id;
    }

    /** @throws IllegalArgumentException in words, when there is none of that id */
    public static DocumentLanguage of(String id) {
        for (DocumentLanguage l : values()) {
            if (l.id.equals(id)) {
                return l;
            }
        }
        throw new IllegalArgumentException("A shape is written in xsd or json-schema, not in “" + id + "”.");
    }
}
