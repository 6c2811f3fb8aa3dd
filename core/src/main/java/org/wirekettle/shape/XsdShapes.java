package org.wirekettle.shape;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.apache.xerces.xs.XSAnnotation;
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
import org.wirekettle.shape.Shape.Kind;
import org.wirekettle.shape.Shape.Variant;

/** Makes shapes of XSD components (XSD part 1 §3): element declarations, particles, attribute uses, derived types and substitution groups. */
final class XsdShapes {
    private static final Pattern DOCUMENTATION = Pattern.compile("<(?:[\\w.-]+:)?documentation[^>]*?(?<!/)>(.*?)</(?:[\\w.-]+:)?documentation>", Pattern.DOTALL);

    private final XSModel model;
    private Map<XSTypeDefinition, List<XSComplexTypeDefinition>> derived;

    XsdShapes(XSModel model) {
        this.model = model;
    }

    Shape element(XSElementDeclaration d, int min, int max) {
        XSTypeDefinition type = d.getTypeDefinition();
        boolean isAbstract = d.getAbstract() || isAbstract(type);
        Shape.Builder b = ofType(d.getName(), d.getNamespace(), type).occurs(min, max).nillable(d.getNillable()).isAbstract(isAbstract);
        if (d.getConstraintType() == XSConstants.VC_FIXED) {
            b.fixed(d.getValueConstraintValue().getNormalizedValue());
        } else if (d.getConstraintType() == XSConstants.VC_DEFAULT) {
            b.defaultValue(d.getValueConstraintValue().getNormalizedValue());
        }
        String documentation = documentation(d.getAnnotations());
        if (documentation != null) {
            b.documentation(documentation);
        }
        return b.variants(() -> variants(d, min, max)).build();
    }

    Shape elementOfType(String name, String namespace, XSTypeDefinition type, boolean typed) {
        return ofType(name, namespace, type).isAbstract(isAbstract(type)).typed(typed).nillable(typed).variants(() -> {
            List<Variant> out = new ArrayList<>();
            addDerived(out, name, namespace, type, 1, 1, false);
            return out;
        }).build();
    }

    private static boolean isAbstract(XSTypeDefinition type) {
        return type instanceof XSComplexTypeDefinition c && c.getAbstract();
    }

    private Shape.Builder ofType(String name, String namespace, XSTypeDefinition type) {
        Shape.Builder b = Shape.element(name).namespace(namespace);
        if (!type.getAnonymous()) {
            b.type(new QualifiedName(type.getNamespace(), type.getName()));
        }
        if (type instanceof XSSimpleTypeDefinition simple) {
            b.scalar(ScalarType.of(simple)).documentation(documentation(simple.getAnnotations()));
        } else {
            XSComplexTypeDefinition complex = (XSComplexTypeDefinition) type;
            if (complex.getContentType() == XSComplexTypeDefinition.CONTENTTYPE_SIMPLE) {
                b.scalar(ScalarType.of(complex.getSimpleType()));
            }
            b.documentation(documentation(complex.getAnnotations())).children(() -> content(complex));
        }
        return b;
    }

    private List<Shape> content(XSComplexTypeDefinition type) {
        List<Shape> out = new ArrayList<>();
        XSObjectList uses = type.getAttributeUses();
        for (int i = 0; i < uses.getLength(); i++) {
            out.add(attribute((XSAttributeUse) uses.item(i)));
        }
        if (type.getParticle() != null) {
            particle(type.getParticle(), false, out);
        }
        return out;
    }

    private Shape attribute(XSAttributeUse use) {
        var d = use.getAttrDeclaration();
        Shape.Builder b = Shape.of(Kind.ATTRIBUTE, d.getName()).namespace(d.getNamespace()).occurs(use.getRequired() ? 1 : 0, 1)
                .scalar(ScalarType.of(d.getTypeDefinition())).documentation(documentation(d.getAnnotations()));
        if (!d.getTypeDefinition().getAnonymous()) {
            b.type(new QualifiedName(d.getTypeDefinition().getNamespace(), d.getTypeDefinition().getName()));
        }
        short constraint = use.getConstraintType() == XSConstants.VC_NONE ? d.getConstraintType() : use.getConstraintType();
        if (constraint != XSConstants.VC_NONE) {
            String value = (use.getConstraintType() == XSConstants.VC_NONE ? d.getValueConstraintValue() : use.getValueConstraintValue()).getNormalizedValue();
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
            out.add(Shape.of(Kind.ANY, "any").occurs(min, max).documentation("Any element may stand here.").build());
        }
    }

    private void group(XSModelGroup group, int min, int max, boolean isBranch, List<Shape> out) {
        XSObjectList particles = group.getParticles();
        boolean isChoice = group.getCompositor() == XSModelGroup.COMPOSITOR_CHOICE;
        boolean once = min == 1 && max == 1;
        if (particles.getLength() == 0) {
            return;
        }
        boolean foldsIntoParent = once && (isChoice ? isBranch || particles.getLength() == 1 : !isBranch || particles.getLength() == 1);
        if (foldsIntoParent) {
            for (int i = 0; i < particles.getLength(); i++) {
                particle((XSParticle) particles.item(i), isBranch, out);
            }
            return;
        }
        out.add(Shape.of(isChoice ? Kind.CHOICE : Kind.GROUP, isChoice ? "choice" : "group").occurs(min, max).children(() -> {
            List<Shape> inner = new ArrayList<>();
            for (int i = 0; i < particles.getLength(); i++) {
                particle((XSParticle) particles.item(i), isChoice, inner);
            }
            return inner;
        }).build());
    }

    private List<Variant> variants(XSElementDeclaration d, int min, int max) {
        List<Variant> out = new ArrayList<>();
        addDerived(out, d.getName(), d.getNamespace(), d.getTypeDefinition(), min, max, d.getNillable());
        XSObjectList members = model.getSubstitutionGroup(d);
        for (int i = 0; members != null && i < members.getLength(); i++) {
            XSElementDeclaration member = (XSElementDeclaration) members.item(i);
            if (!member.getAbstract() && member != d) {
                out.add(new Variant(new QualifiedName(member.getNamespace(), member.getName()), true, documentation(member.getAnnotations()),
                        () -> element(member, min, max)));
            }
        }
        return out;
    }

    private void addDerived(List<Variant> out, String name, String namespace, XSTypeDefinition type, int min, int max, boolean nillable) {
        if (type instanceof XSSimpleTypeDefinition || "anyType".equals(type.getName())) {
            return;
        }
        Set<XSComplexTypeDefinition> found = new LinkedHashSet<>();
        collectDerived(type, found);
        for (XSComplexTypeDefinition t : found) {
            if (!t.getAbstract() && !t.getAnonymous()) {
                out.add(new Variant(new QualifiedName(t.getNamespace(), t.getName()), false, documentation(t.getAnnotations()),
                        () -> ofType(name, namespace, t).occurs(min, max).nillable(nillable).build()));
            }
        }
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
                if (types.item(i) instanceof XSComplexTypeDefinition t && t.getBaseType() != null && t.getBaseType() != t) {
                    derived.computeIfAbsent(t.getBaseType(), k -> new ArrayList<>()).add(t);
                }
            }
        }
        return derived;
    }

    /** The text of xs:documentation, or null. */
    private static String documentation(XSObjectList annotations) {
        if (annotations == null) {
            return null;
        }
        StringBuilder out = new StringBuilder();
        for (int i = 0; i < annotations.getLength(); i++) {
            Matcher m = DOCUMENTATION.matcher(((XSAnnotation) annotations.item(i)).getAnnotationString());
            while (m.find()) {
                out.append(out.length() == 0 ? "" : "\n").append(m.group(1).replaceAll("<[^>]+>", " ").replaceAll("\\s+", " ").strip()
                        .replace("&lt;", "<").replace("&gt;", ">").replace("&amp;", "&"));
            }
        }
        return out.length() == 0 ? null : out.toString();
    }
}
