package org.wirekettle.shape;

/** A namespace name and a local name. Written {@code {namespace}local}, or {@code local} without a namespace. */
public record QualifiedName(String namespace, String local) {
    public QualifiedName {
        namespace = namespace == null ? "" : namespace;
    }

    /** Reads what {@link #toString()} wrote. */
    public static QualifiedName parse(String text) {
        int end = text.lastIndexOf('}');
        return text.startsWith("{") && end > 0
                ? new QualifiedName(text.substring(1, end), text.substring(end + 1))
                : new QualifiedName("", text);
    }

    @Override
    public String toString() {
        return namespace.isEmpty() ? local : "{" + namespace + "}" + local;
    }
}
