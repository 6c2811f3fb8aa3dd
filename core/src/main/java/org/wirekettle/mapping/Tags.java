package org.wirekettle.mapping;

import java.util.LinkedHashMap;
import java.util.Map;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.Shape.Kind;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.Escape;

/** The names of a message's elements as they are written, and the prefixes they need. Shareable once compiled. */
final class Tags {
    private final Map<String, String> prefixes = new LinkedHashMap<>();

    Map<String, String> prefixes() {
        return prefixes;
    }

    String name(QualifiedName name) {
        return name.namespace().isEmpty() ? name.local() : prefix(name.namespace()) + ":" + name.local();
    }

    private String prefix(String namespace) {
        String known = prefixes.get(namespace);
        if (known == null) {
            known = namespace.equals(XmlSchemas.XSD) ? "xsd" : "n" + (prefixes.size() + 1);
            prefixes.put(namespace, known);
        }
        return known;
    }

    /** What an element says of its type, where types are always said (SOAP 1.1 §5.1); null where not. */
    String typeOf(Shape declared) {
        return declared.isTyped() && declared.type() != null ? name(declared.type()) : null;
    }

    /** Makes a row ready to be written. */
    void put(Row out, String xsiType) {
        Shape shape = out.shape;
        if (shape.kind() == Kind.ELEMENT || shape.kind() == Kind.ATTRIBUTE) {
            out.tagName = name(new QualifiedName(shape.namespace(), shape.name()));
            out.openTag = "<" + out.tagName + (xsiType == null ? "" : " xsi:type=\"" + xsiType + "\"");
            out.openLeaf = out.openTag + ">";
            out.closeTag = "</" + out.tagName + ">";
        }
        if (shape.arrayOf() != null) {
            out.arrayAttribute = name(new QualifiedName(XmlSchemas.SOAP_ENCODING, "arrayType"));
            out.arrayType = name(shape.arrayOf().type()) + shape.arrayOf().ranks();
        }
    }

    /** Every top element declares all prefixes, so each can be cut out and stand alone. */
    void declare(Row top) {
        StringBuilder out = new StringBuilder(top.openTag);
        prefixes.forEach((ns, prefix) -> out.append(" xmlns:")
                .append(prefix)
                .append("=\"")
                .append(Escape.xml(ns))
                .append('"'));
        out.append(" xmlns:xsi=\"").append(XmlSchemas.XSI).append('"');
        top.openTag = out.toString();
        top.openLeaf = top.openTag + ">";
    }
}
