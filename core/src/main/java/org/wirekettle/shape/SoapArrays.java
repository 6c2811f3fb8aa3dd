package org.wirekettle.shape;

import org.apache.xerces.xs.XSComplexTypeDefinition;
import org.apache.xerces.xs.XSElementDeclaration;
import org.apache.xerces.xs.XSModelGroup;
import org.apache.xerces.xs.XSParticle;
import org.apache.xerces.xs.XSTypeDefinition;

/** SOAP-encoded arrays (SOAP 1.1 §5.4.2): types derived from {@code soapenc:Array}. */
final class SoapArrays {
    static final QualifiedName ARRAY = new QualifiedName(XmlSchemas.SOAP_ENCODING, "Array");
    private static final QualifiedName ANY_TYPE = new QualifiedName(XmlSchemas.XSD, "anyType");

    private SoapArrays() {}

    static boolean isArray(XSTypeDefinition type) {
        for (XSTypeDefinition t = type;
                t instanceof XSComplexTypeDefinition && t.getBaseType() != t;
                t = t.getBaseType()) {
            if ("Array".equals(t.getName()) && XmlSchemas.SOAP_ENCODING.equals(t.getNamespace())) {
                return true;
            }
        }
        return false;
    }

    /** A type of the encoding's own schema, such as {@code soapenc:string}, or restricted from one. */
    static boolean isEncodingType(XSTypeDefinition type) {
        return XmlSchemas.SOAP_ENCODING.equals(type.getNamespace());
    }

    /** By {@code wsdl:arrayType}, otherwise by the one element in its content, otherwise anything. */
    static Shape.ArrayOf arrayOf(XSComplexTypeDefinition array, Declarations declarations) {
        for (XSTypeDefinition t = array;
                t instanceof XSComplexTypeDefinition c && t.getBaseType() != t;
                t = t.getBaseType()) {
            var found = declarations.itemType(c);
            if (found.isPresent()) {
                return new Shape.ArrayOf(found.get().type(), found.get().ranks());
            }
        }
        XSElementDeclaration item = item(array.getParticle());
        XSTypeDefinition type = item == null ? null : item.getTypeDefinition();
        return new Shape.ArrayOf(
                type == null || type.getAnonymous() ? ANY_TYPE : new QualifiedName(type.getNamespace(), type.getName()),
                "");
    }

    static QualifiedName itemName(XSComplexTypeDefinition array) {
        XSElementDeclaration item = item(array.getParticle());
        return item == null ? new QualifiedName("", "item") : new QualifiedName(item.getNamespace(), item.getName());
    }

    private static XSElementDeclaration item(XSParticle particle) {
        if (particle == null) {
            return null;
        }
        if (particle.getTerm() instanceof XSElementDeclaration d) {
            return d;
        }
        return particle.getTerm() instanceof XSModelGroup g && g.getParticles().getLength() == 1
                ? item((XSParticle) g.getParticles().item(0))
                : null;
    }
}
