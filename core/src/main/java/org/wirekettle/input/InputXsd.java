package org.wirekettle.input;

import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.Escape;
import org.wirekettle.xml.FieldNames;

/** Inputs as XML Schema (XSD part 1): their types and limits, for whoever sends XML, and for checking them here. */
public final class InputXsd {
    static final String ROOT = "input";
    private final StringBuilder out = new StringBuilder();

    private InputXsd() {}

    /** The complex type of an element that has them inside; its prefix for XML Schema is {@code xs}. */
    public static String type(List<Input> inputs) {
        InputXsd x = new InputXsd();
        x.inside(inputs);
        return x.out.toString();
    }

    static String of(List<Input> inputs) {
        InputXsd x = new InputXsd();
        x.out.append("<xs:schema xmlns:xs=\"").append(XmlSchemas.XSD).append("\">\n");
        x.out.append("<xs:element name=\"" + ROOT + "\">").append(type(inputs)).append("</xs:element>\n</xs:schema>\n");
        return x.out.toString();
    }

    private void inside(List<Input> inputs) {
        out.append("<xs:complexType><xs:sequence>\n");
        inputs.forEach(this::element);
        out.append("</xs:sequence></xs:complexType>");
    }

    private void element(Input i) {
        out.append("<xs:element name=\"").append(FieldNames.name(i.name())).append('"');
        if (!i.isRequired() || i.otherwise() != null) {
            out.append(" minOccurs=\"0\"");
        }
        if (i.isMany()) {
            out.append(" maxOccurs=\"unbounded\"");
        }
        boolean isJson = i.typeName().equals(Field.JSON);
        boolean isFree = i.typeName().equals(Field.NESTED) && i.fields() == null;
        if (isJson || isFree) {
            out.append(" type=\"xs:").append(isJson ? "string" : "anyType").append('"');
        }
        out.append('>');
        if (i.text() != null) {
            out.append("<xs:annotation><xs:documentation>")
                    .append(Escape.xml(i.text()))
                    .append("</xs:documentation></xs:annotation>");
        }
        if (isJson || isFree) {
            // it has its type
        } else if (i.typeName().equals(Field.NESTED)) {
            inside(i.fields());
        } else {
            simple(i);
        }
        out.append("</xs:element>\n");
    }

    private void simple(Input i) {
        out.append("<xs:simpleType><xs:restriction base=\"xs:")
                .append(i.typeName())
                .append("\">");
        facet("maxLength", i.length() == null ? null : String.valueOf(i.length()));
        facet("pattern", i.pattern());
        if (i.choices() != null) {
            i.choices().forEach(c -> facet("enumeration", c));
        }
        facet("minInclusive", i.least());
        facet("maxInclusive", i.most());
        out.append("</xs:restriction></xs:simpleType>");
    }

    private void facet(String name, String value) {
        if (value != null) {
            out.append("<xs:")
                    .append(name)
                    .append(" value=\"")
                    .append(Escape.xml(value))
                    .append("\"/>");
        }
    }
}
