package org.wirekettle.shape;

import java.util.AbstractList;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.apache.xerces.xs.XSAttributeUse;
import org.apache.xerces.xs.XSComplexTypeDefinition;
import org.apache.xerces.xs.XSConstants;
import org.apache.xerces.xs.XSElementDeclaration;
import org.apache.xerces.xs.XSModel;
import org.apache.xerces.xs.XSModelGroup;
import org.apache.xerces.xs.XSNamedMap;
import org.apache.xerces.xs.XSObjectList;
import org.apache.xerces.xs.XSParticle;
import org.apache.xerces.xs.XSSimpleTypeDefinition;
import org.apache.xerces.xs.XSTerm;
import org.apache.xerces.xs.XSTypeDefinition;
import org.apache.xerces.xs.XSWildcard;
import org.wirekettle.shape.Shape.Kind;
import org.wirekettle.shape.Shape.Variant;

/**
 * Makes shapes of XSD components (XSD part 1 §3): element declarations, particles, attribute uses, derived types and
 * substitution groups.
 */
final class XsdShapes {

    /** What an element of any type is usually given, as kinds to choose from. */
    private static final List<String> VALUES = List.of(
            "string", "boolean", "int", "long", "decimal", "double", "date", "dateTime", "base64Binary", "anyURI");

    private final Namespaces namespaces;
    private final XSModel model;
    private final Declarations declarations;
    private final boolean typed;
    /** Xerces 2.12.2 divides by zero when asked for substitutes in schemas without any. */
    private final boolean hasGlobalElements;

    private final Map<XSComplexTypeDefinition, ShapeContent> contents = new ConcurrentHashMap<>();
    private final Map<XSTypeDefinition, Optional<String>> typeDocumentation = new ConcurrentHashMap<>();
    private final Map<XSTypeDefinition, List<XSTypeDefinition>> kinds = new ConcurrentHashMap<>();
    private Map<XSTypeDefinition, List<XSComplexTypeDefinition>> derived;

    /** @param typed whether elements carry xsi:type, as encoded messages do (SOAP 1.1 §5) */
    XsdShapes(XSModel model, Declarations declarations, boolean typed, Namespaces namespaces) {
        this.namespaces = namespaces;
        this.model = model;
        this.declarations = declarations;
        this.typed = typed;
        this.hasGlobalElements =
                model.getComponents(XSConstants.ELEMENT_DECLARATION).getLength() > 0;
    }

    Shape element(XSElementDeclaration d, int min, int max) {
        XSTypeDefinition type = d.getTypeDefinition();
        boolean isAbstract = d.getAbstract() || isAbstract(type);
        Shape.Builder b = ofType(d.getName(), own(d.getNamespace()), type)
                .occurs(min, max)
                .nillable(d.getNillable())
                .isAbstract(isAbstract)
                .constraints(Annotations.constraints(d))
                .place(declarations.place(
                        "element",
                        own(d.getNamespace()),
                        d.getEnclosingCTDefinition(),
                        d.getName(),
                        d.getScope() == XSConstants.SCOPE_GLOBAL));
        if (d.getConstraintType() == XSConstants.VC_FIXED) {
            b.fixed(d.getValueConstraintValue().getNormalizedValue());
        } else if (d.getConstraintType() == XSConstants.VC_DEFAULT) {
            b.defaultValue(d.getValueConstraintValue().getNormalizedValue());
        }
        String documentation = Annotations.documentation(d.getAnnotations());
        if (documentation != null) {
            b.documentation(documentation);
        }
        String appinfo = Annotations.appinfo(d.getAnnotations());
        if (appinfo != null) {
            b.appinfo(appinfo);
        }
        return b.variants(() -> variants(d, min, max)).build();
    }

    Shape elementOfType(String name, String namespace, XSTypeDefinition type) {
        return ofType(name, namespace, type)
                .isAbstract(isAbstract(type))
                .nillable(typed)
                .variants(() -> derivedVariants(name, namespace, type, 1, 1, false))
                .build();
    }

    private static boolean isAbstract(XSTypeDefinition type) {
        return type instanceof XSComplexTypeDefinition c && c.getAbstract();
    }

    private Shape.Builder ofType(String name, String namespace, XSTypeDefinition type) {
        Shape.Builder b = Shape.element(name).namespace(namespace).typed(typed && !type.getAnonymous());
        if (!type.getAnonymous()) {
            QualifiedName typeName = new QualifiedName(own(type.getNamespace()), type.getName());
            b.type(typeName).place(declarations.placeOfType(typeName));
        }
        if (type instanceof XSSimpleTypeDefinition simple) {
            b.scalar(ScalarType.of(simple))
                    .documentation(Annotations.documentation(simple.getAnnotations()))
                    .appinfo(Annotations.appinfo(simple.getAnnotations()));
        } else if (SoapArrays.isArray(type)) {
            XSComplexTypeDefinition array = (XSComplexTypeDefinition) type;
            Shape.ArrayOf of = SoapArrays.arrayOf(array, declarations);
            b.arrayOf(of)
                    .documentation(Annotations.documentation(array.getAnnotations()))
                    .content(() -> contents.computeIfAbsent(array, a -> new ShapeContent(List.of(item(a, of)))));
        } else {
            XSComplexTypeDefinition complex = (XSComplexTypeDefinition) type;
            if (complex.getContentType() == XSComplexTypeDefinition.CONTENTTYPE_SIMPLE) {
                b.scalar(ScalarType.of(complex.getSimpleType()));
            }
            b.documentation(Annotations.documentation(complex.getAnnotations()))
                    .appinfo(Annotations.appinfo(complex.getAnnotations()))
                    .content(() -> contents.computeIfAbsent(complex, c -> new ShapeContent(content(c))));
        }
        return b;
    }

    /**
     * The items of an array: named as the schema names them, otherwise {@code item} (SOAP 1.1 §5.4.2: the name is not
     * significant).
     */
    private Shape item(XSComplexTypeDefinition array, Shape.ArrayOf of) {
        QualifiedName name = SoapArrays.itemName(array);
        if (!of.ranks().isEmpty()) {
            Shape.ArrayOf inner =
                    new Shape.ArrayOf(of.type(), of.ranks().substring(of.ranks().indexOf(']') + 1));
            return Shape.element(name.local())
                    .namespace(name.namespace())
                    .occurs(0, Shape.UNBOUNDED)
                    .typed(true)
                    .type(SoapArrays.ARRAY)
                    .arrayOf(inner)
                    .children(() -> List.of(item(array, inner)))
                    .build();
        }
        XSTypeDefinition type = model.getTypeDefinition(
                of.type().local(),
                of.type().namespace().isEmpty() ? null : of.type().namespace());
        if (type == null) {
            return Shape.element(name.local())
                    .namespace(name.namespace())
                    .occurs(0, Shape.UNBOUNDED)
                    .children(() -> List.of(
                            Shape.of(Kind.ANY, "any").occurs(0, Shape.UNBOUNDED).build()))
                    .build();
        }
        return elementOfType(name.local(), name.namespace(), type)
                .copy()
                .occurs(0, Shape.UNBOUNDED)
                .build();
    }

    private List<Shape> content(XSComplexTypeDefinition type) {
        List<Shape> out = new ArrayList<>();
        // Identity and reference attributes of encoded values are the encoding's business, not the user's.
        XSObjectList uses = SoapArrays.isEncodingType(type) ? null : type.getAttributeUses();
        for (int i = 0; uses != null && i < uses.getLength(); i++) {
            out.add(attribute((XSAttributeUse) uses.item(i), type));
        }
        if (uses != null && type.getAttributeWildcard() != null) {
            Shape.Wildcard w = Wildcards.of(type.getAttributeWildcard());
            out.add(Shape.of(Kind.ANY_ATTRIBUTE, "anyAttribute")
                    .occurs(0, 1)
                    .wildcard(w)
                    .documentation("Any attribute of " + w.allowed() + ".")
                    .build());
        }
        if (type.getParticle() != null) {
            particle(type.getParticle(), false, out);
        }
        return out;
    }

    private Shape attribute(XSAttributeUse use, XSComplexTypeDefinition type) {
        var d = use.getAttrDeclaration();
        Shape.Builder b = Shape.of(Kind.ATTRIBUTE, d.getName())
                .namespace(own(d.getNamespace()))
                .occurs(use.getRequired() ? 1 : 0, 1)
                .scalar(ScalarType.of(d.getTypeDefinition()))
                .documentation(Annotations.documentation(d.getAnnotations()))
                .place(declarations.place(
                        "attribute",
                        own(d.getNamespace()),
                        d.getEnclosingCTDefinition() == null ? type : d.getEnclosingCTDefinition(),
                        d.getName(),
                        d.getScope() == XSConstants.SCOPE_GLOBAL));
        if (!d.getTypeDefinition().getAnonymous()) {
            b.type(new QualifiedName(
                    own(d.getTypeDefinition().getNamespace()),
                    d.getTypeDefinition().getName()));
        }
        short constraint =
                use.getConstraintType() == XSConstants.VC_NONE ? d.getConstraintType() : use.getConstraintType();
        if (constraint != XSConstants.VC_NONE) {
            String value = (use.getConstraintType() == XSConstants.VC_NONE
                            ? d.getValueConstraintValue()
                            : use.getValueConstraintValue())
                    .getNormalizedValue();
            if (constraint == XSConstants.VC_FIXED) {
                b.fixed(value);
            } else {
                b.defaultValue(value);
            }
        }
        return b.build();
    }

    private void particle(XSParticle p, boolean isBranch, List<Shape> out) {
        int min = p.getMinOccurs();
        int max = p.getMaxOccursUnbounded() ? Shape.UNBOUNDED : p.getMaxOccurs();
        if (max == 0) {
            return;
        }
        XSTerm term = p.getTerm();
        if (term instanceof XSElementDeclaration d) {
            out.add(element(d, min, max));
        } else if (term instanceof XSModelGroup group) {
            group(group, min, max, isBranch, out);
        } else {
            XSWildcard w = (XSWildcard) term;
            Shape.Wildcard wildcard = Wildcards.of(w);
            out.add(Shape.of(Kind.ANY, "any")
                    .occurs(min, max)
                    .wildcard(wildcard)
                    .documentation("Any element of " + wildcard.allowed()
                            + (wildcard.isStrict() ? " that a schema declares." : "."))
                    .variants(() -> admitted(w))
                    .build());
        }
    }

    private void group(XSModelGroup group, int min, int max, boolean isBranch, List<Shape> out) {
        XSObjectList particles = group.getParticles();
        boolean isChoice = group.getCompositor() == XSModelGroup.COMPOSITOR_CHOICE;
        boolean once = min == 1 && max == 1;
        if (particles.getLength() == 0) {
            return;
        }
        boolean foldsIntoParent =
                once && (isChoice ? isBranch || particles.getLength() == 1 : !isBranch || particles.getLength() == 1);
        if (foldsIntoParent) {
            for (int i = 0; i < particles.getLength(); i++) {
                particle((XSParticle) particles.item(i), isBranch, out);
            }
            return;
        }
        out.add(Shape.of(isChoice ? Kind.CHOICE : Kind.GROUP, isChoice ? "choice" : "group")
                .occurs(min, max)
                .children(() -> {
                    List<Shape> inner = new ArrayList<>();
                    for (int i = 0; i < particles.getLength(); i++) {
                        particle((XSParticle) particles.item(i), isChoice, inner);
                    }
                    return inner;
                })
                .build());
    }

    /** The declared elements a wildcard admits. */
    private List<Variant> admitted(XSWildcard wildcard) {
        List<Variant> out = new ArrayList<>();
        XSNamedMap elements = model.getComponents(XSConstants.ELEMENT_DECLARATION);
        for (int i = 0; i < elements.getLength(); i++) {
            XSElementDeclaration d = (XSElementDeclaration) elements.item(i);
            if (!d.getAbstract() && Wildcards.admits(wildcard, d.getNamespace())) {
                out.add(new Variant(
                        new QualifiedName(own(d.getNamespace()), d.getName()),
                        true,
                        () -> null,
                        () -> element(d, 1, 1)));
            }
        }
        return out;
    }

    private List<Variant> variants(XSElementDeclaration d, int min, int max) {
        List<Variant> derivedTypes = d.getAbstract()
                ? List.of()
                : derivedVariants(d.getName(), own(d.getNamespace()), d.getTypeDefinition(), min, max, d.getNillable());
        XSObjectList members = hasGlobalElements ? model.getSubstitutionGroup(d) : null;
        if (members == null || members.getLength() == 0) {
            return derivedTypes;
        }
        List<Variant> out = new ArrayList<>(derivedTypes);
        for (int i = 0; i < members.getLength(); i++) {
            XSElementDeclaration member = (XSElementDeclaration) members.item(i);
            if (!member.getAbstract() && member != d) {
                out.add(new Variant(
                        new QualifiedName(own(member.getNamespace()), member.getName()),
                        true,
                        () -> Annotations.documentation(member.getAnnotations()),
                        () -> element(member, min, max)));
            }
        }
        return out;
    }

    /**
     * Made one by one when asked for: thousands of types can derive from one base, and thousands of elements be of it.
     */
    private List<Variant> derivedVariants(
            String name, String namespace, XSTypeDefinition type, int min, int max, boolean nillable) {
        if (type instanceof XSSimpleTypeDefinition) {
            return List.of();
        }
        List<XSTypeDefinition> kinds = this.kinds.computeIfAbsent(type, this::kindsOf);
        return kinds.isEmpty()
                ? List.of()
                : new AbstractList<>() {
                    @Override
                    public Variant get(int i) {
                        XSTypeDefinition t = kinds.get(i);
                        boolean isValue = t instanceof XSSimpleTypeDefinition;
                        return new Variant(
                                new QualifiedName(own(t.getNamespace()), t.getName()),
                                false,
                                () -> isValue
                                        ? null
                                        : typeDocumentation
                                                .computeIfAbsent(
                                                        t,
                                                        x -> Optional.ofNullable(Annotations.documentation(
                                                                ((XSComplexTypeDefinition) x).getAnnotations())))
                                                .orElse(null),
                                () -> ofType(name, namespace, t)
                                        .typed(typed || isValue)
                                        .occurs(min, max)
                                        .nillable(nillable)
                                        .build());
                    }

                    @Override
                    public int size() {
                        return kinds.size();
                    }
                };
    }

    private List<XSTypeDefinition> kindsOf(XSTypeDefinition type) {
        List<XSTypeDefinition> out = new ArrayList<>();
        if ("anyType".equals(type.getName())) {
            VALUES.forEach(value -> out.add(model.getTypeDefinition(value, XmlSchemas.XSD)));
        }
        Set<XSComplexTypeDefinition> found = new LinkedHashSet<>();
        collectDerived(type, found);
        found.stream().filter(t -> !t.getAbstract() && !t.getAnonymous()).forEach(out::add);
        return out;
    }

    private void collectDerived(XSTypeDefinition type, Set<XSComplexTypeDefinition> into) {
        for (XSComplexTypeDefinition t : derivedIndex().getOrDefault(type, List.of())) {
            if (into.add(t)) {
                collectDerived(t, into);
            }
        }
    }

    private synchronized Map<XSTypeDefinition, List<XSComplexTypeDefinition>> derivedIndex() {
        if (derived == null) {
            derived = new HashMap<>();
            XSNamedMap types = model.getComponents(XSConstants.TYPE_DEFINITION);
            for (int i = 0; i < types.getLength(); i++) {
                if (types.item(i) instanceof XSComplexTypeDefinition t
                        && t.getBaseType() != null
                        && t.getBaseType() != t) {
                    derived.computeIfAbsent(t.getBaseType(), k -> new ArrayList<>())
                            .add(t);
                }
            }
        }
        return derived;
    }

    private String own(String inSchema) {
        return namespaces.own(inSchema);
    }
}
