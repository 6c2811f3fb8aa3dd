package org.wirekettle.shape;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.apache.xerces.impl.xs.XSComplexTypeDecl;
import org.apache.xerces.xs.XSComplexTypeDefinition;
import org.apache.xerces.xs.XSTypeDefinition;
import org.wirekettle.problem.Place;
import org.wirekettle.xml.XmlElement;

/**
 * What the schema documents say and XSD's component model leaves out: where each component is declared, and the item
 * types of SOAP-encoded arrays (WSDL 1.1 §2.2, {@code wsdl:arrayType}). Immutable once built.
 */
final class Declarations {
    private static final String ARRAY_TYPE = "{http://schemas.xmlsoap.org/wsdl/}arrayType";
    /** What Xerces adds to the name of a type that another redefines. */
    private static final String REDEFINED = "_fn3dktizrknc9pi";

    private final Map<String, Place> places = new HashMap<>();
    private final Map<String, ItemType> items = new HashMap<>();

    /**
     * The type of an array's items.
     *
     * @param type the item's type, without its ranks
     * @param ranks the ranks of the items themselves, such as {@code []} for an array of arrays; usually empty
     */
    record ItemType(QualifiedName type, String ranks) {}

    static Declarations of(List<SchemaDocument> documents) {
        Declarations out = new Declarations();
        for (SchemaDocument d : documents) {
            String ns = d.targetNamespace();
            d.root().walk(e -> out.add(ns, e));
        }
        return out;
    }

    private void add(String ns, XmlElement e) {
        if (!e.namespace().equals(XmlSchemas.XSD)) {
            return;
        }
        String name = e.attribute("name");
        if (name != null) {
            places.putIfAbsent(key(e.name(), ns, owner(e), name), e.place());
        }
        String arrayType = e.attribute(ARRAY_TYPE);
        if (arrayType != null && e.name().equals("attribute")) {
            itemType(e, arrayType.strip()).ifPresent(item -> items.putIfAbsent(ns + " " + owner(e), item));
        }
    }

    private static Optional<ItemType> itemType(XmlElement e, String arrayType) {
        int bracket = arrayType.indexOf('[');
        String type = bracket < 0 ? arrayType : arrayType.substring(0, bracket);
        int last = arrayType.lastIndexOf('[');
        int colon = type.indexOf(':');
        String ns = e.namespaceOf(colon < 0 ? "" : type.substring(0, colon));
        return ns == null
                ? Optional.empty()
                : Optional.of(new ItemType(
                        new QualifiedName(ns, type.substring(colon + 1)),
                        last > bracket ? arrayType.substring(bracket, last) : ""));
    }

    /**
     * The name of the complex type or the group around a declaration, as the component model calls it; empty for global
     * ones.
     */
    private static String owner(XmlElement e) {
        for (Optional<XmlElement> up = e.parent(); up.isPresent(); up = up.get().parent()) {
            XmlElement p = up.get();
            if (p.name().equals("complexType")) {
                return typeName(p);
            }
            if (p.name().equals("group") || p.name().equals("attributeGroup")) {
                return "group";
            }
            if (p.name().equals("schema")) {
                return "";
            }
        }
        return "";
    }

    /** Anonymous types are named by Xerces after all that is around them; the same is done here. */
    private static String typeName(XmlElement type) {
        if (type.attribute("name") != null) {
            return type.attribute("name");
        }
        StringBuilder out = new StringBuilder("#AnonType_");
        for (Optional<XmlElement> up = type.parent();
                up.isPresent() && !up.get().name().equals("schema");
                up = up.get().parent()) {
            String name = up.get().attribute("name");
            out.append(name == null ? "" : name);
        }
        return out.toString();
    }

    private static String key(String kind, String ns, String owner, String name) {
        return kind + " " + (ns == null ? "" : ns) + " " + owner + "/" + name;
    }

    private static String nameOf(XSTypeDefinition type) {
        return type instanceof XSComplexTypeDecl c ? c.getTypeName() : String.valueOf(type.getName());
    }

    /**
     * @param kind {@code element} or {@code attribute}
     * @param namespace of the declaration, or of the type around it
     * @param around the complex type it is local to; null when it is global or in a group
     */
    Place place(String kind, String namespace, XSComplexTypeDefinition around, String name, boolean isGlobal) {
        if (isGlobal) {
            return find(kind, namespace, "", name);
        }
        String ns = around == null ? namespace : around.getNamespace();
        Place found = around == null ? null : find(kind, ns, nameOf(around).replace(REDEFINED, ""), name);
        return found != null ? found : find(kind, ns, "group", name);
    }

    /**
     * A schema without a namespace takes that of the one including it (XSD part 1 §4.2.1), so its components are looked
     * for without, too.
     */
    private Place find(String kind, String namespace, String owner, String name) {
        Place found = places.get(key(kind, namespace, owner, name));
        return found != null ? found : places.get(key(kind, "", owner, name));
    }

    Place placeOfType(QualifiedName type) {
        Place complex = find("complexType", type.namespace(), "", type.local());
        return complex != null ? complex : find("simpleType", type.namespace(), "", type.local());
    }

    Optional<ItemType> itemType(XSComplexTypeDefinition array) {
        return Optional.ofNullable(
                items.get((array.getNamespace() == null ? "" : array.getNamespace()) + " " + nameOf(array)));
    }
}
