package org.wirekettle.trigger;

import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.xml.XmlNames;

/** Fields of a reply as XML Schema (XSD part 1). A value that is empty is left out, so none is required. */
final class FieldXsd {
    private final StringBuilder out = new StringBuilder();

    private FieldXsd() {}

    /** The complex type of an element that has them inside; its prefix for XML Schema is {@code xs}. */
    static String type(List<Field> fields) {
        FieldXsd x = new FieldXsd();
        x.inside(fields);
        return x.out.toString();
    }

    private void inside(List<Field> fields) {
        out.append("<xs:complexType>");
        if (fields.isEmpty()) {
            // What is in it is known only once it is there.
            out.append("<xs:sequence><xs:any processContents=\"lax\" minOccurs=\"0\" maxOccurs=\"unbounded\"/>"
                    + "</xs:sequence><xs:anyAttribute processContents=\"lax\"/>");
        } else {
            out.append("<xs:sequence>\n");
            fields.stream().filter(f -> !isAttribute(f)).forEach(this::element);
            out.append("</xs:sequence>");
            fields.stream().filter(FieldXsd::isAttribute).forEach(this::attribute);
        }
        out.append("</xs:complexType>");
    }

    static boolean isAttribute(Field f) {
        return f.name().startsWith("@");
    }

    private void element(Field f) {
        out.append("<xs:element name=\"").append(f.name()).append("\" minOccurs=\"0\"");
        if (Field.isMany(f)) {
            out.append(" maxOccurs=\"unbounded\"");
        }
        if (f.fields() != null) {
            out.append('>');
            inside(f.fields());
            out.append("</xs:element>\n");
        } else {
            out.append(" type=\"xs:").append(type(f)).append("\"/>\n");
        }
    }

    private void attribute(Field f) {
        String name = f.name().substring(1);
        if (XmlNames.isName(name)) {
            out.append("\n<xs:attribute name=\"")
                    .append(name)
                    .append("\" type=\"xs:")
                    .append(type(f))
                    .append("\"/>");
        }
    }

    /** A built-in type's local name. */
    static String type(Field f) {
        return f.type().equals(Field.JSON) || f.pattern() != null || !ScalarType.isBuiltIn(f.type())
                ? "string"
                : f.type();
    }
}
