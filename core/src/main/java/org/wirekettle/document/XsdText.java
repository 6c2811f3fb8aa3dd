package org.wirekettle.document;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.Escape;

/** Writes as XML Schema (XSD part 1) what was observed: a schema for each namespace. Used once. */
final class XsdText {
    private final Map<String, StringBuilder> byNamespace = new LinkedHashMap<>();
    private final Map<Observed, QualifiedName> types = new IdentityHashMap<>();
    private final Map<QualifiedName, Integer> taken = new HashMap<>();
    private final String file;

    private XsdText(String file) {
        this.file = file;
    }

    /** @param file the main schema's name, ending in .xsd */
    static List<SchemaText> of(String file, Observed root, Observed.Global global) {
        XsdText out = new XsdText(file);
        // The main one comes first, whatever is written first.
        out.in(root.name().namespace());
        root.kinds().keySet().forEach(k -> out.in(k.namespace()));
        out.global(root);
        for (List<Observed> left = new ArrayList<>(global.elements().values()); !left.isEmpty(); ) {
            out.global(left.remove(0));
        }
        return out.files();
    }

    private StringBuilder in(String namespace) {
        return byNamespace.computeIfAbsent(namespace, n -> new StringBuilder());
    }

    private String location(int i) {
        return i == 0 ? file : file.replaceFirst("\\.xsd$", "-" + (i + 1) + ".xsd");
    }

    private List<SchemaText> files() {
        List<String> namespaces = new ArrayList<>(byNamespace.keySet());
        List<SchemaText> out = new ArrayList<>();
        for (int i = 0; i < namespaces.size(); i++) {
            String own = namespaces.get(i);
            StringBuilder text = new StringBuilder("<xs:schema xmlns:xs=\"" + XmlSchemas.XSD + "\"");
            for (int j = 0; j < namespaces.size(); j++) {
                if (!namespaces.get(j).isEmpty()) {
                    text.append("\n    xmlns:n")
                            .append(j)
                            .append("=\"")
                            .append(Escape.xml(namespaces.get(j)))
                            .append('"');
                }
            }
            if (!own.isEmpty()) {
                text.append("\n    targetNamespace=\"")
                        .append(Escape.xml(own))
                        .append("\" elementFormDefault=\"qualified\"");
            }
            text.append(">\n");
            for (int j = 0; j < namespaces.size(); j++) {
                if (j != i) {
                    text.append("  <xs:import ")
                            .append(
                                    namespaces.get(j).isEmpty()
                                            ? ""
                                            : "namespace=\"" + Escape.xml(namespaces.get(j)) + "\" ")
                            .append("schemaLocation=\"")
                            .append(Escape.xml(location(j)))
                            .append("\"/>\n");
                }
            }
            out.add(new SchemaText(
                    location(i),
                    text.append(byNamespace.get(own)).append("</xs:schema>\n").toString()));
        }
        return out;
    }

    private String reference(QualifiedName n) {
        in(n.namespace());
        return n.namespace().isEmpty()
                ? n.local()
                : "n" + new ArrayList<>(byNamespace.keySet()).indexOf(n.namespace()) + ":" + n.local();
    }

    private void global(Observed o) {
        StringBuilder out = new StringBuilder();
        declaration(o, "", "  ", out);
        in(o.name().namespace()).append(out);
    }

    private void declaration(Observed o, String occurs, String indent, StringBuilder out) {
        out.append(indent)
                .append("<xs:element name=\"")
                .append(o.name().local())
                .append('"')
                .append(occurs);
        if (o.isNillable()) {
            out.append(" nillable=\"true\"");
        }
        if (o.isRecursive() || !o.kinds().isEmpty()) {
            out.append(" type=\"").append(reference(named(o))).append("\"/>\n");
            return;
        }
        boolean isPlain = o.text() != null && o.attributes().isEmpty() && !o.hasForeignAttributes();
        if (isPlain) {
            out.append(" type=\"").append(o.text()).append("\"/>\n");
            return;
        }
        out.append(">\n");
        type(o, "", List.of(), indent + "  ", out);
        out.append(indent).append("</xs:element>\n");
    }

    /** A type with a name, for what is inside of itself and what is of several kinds. */
    private QualifiedName named(Observed o) {
        QualifiedName known = types.get(o);
        if (known != null) {
            return known;
        }
        QualifiedName out = free(o.name().namespace(), capital(o.name().local()));
        types.put(o, out);
        StringBuilder text = new StringBuilder();
        String isAbstract = o.seen() == 0 && !o.kinds().isEmpty() ? " abstract=\"true\"" : "";
        type(o, " name=\"" + out.local() + "\"" + isAbstract, List.of(), "  ", text);
        in(out.namespace()).append(text);
        o.kinds().forEach((kind, own) -> {
            StringBuilder of = new StringBuilder();
            taken.put(kind, 1);
            kind(o, own, kind, reference(out), of);
            in(kind.namespace()).append(of);
        });
        return out;
    }

    private void kind(Observed declared, Observed own, QualifiedName kind, String base, StringBuilder out) {
        List<QualifiedName> known =
                declared.children().stream().map(c -> c.of.name()).toList();
        out.append("  <xs:complexType name=\"").append(kind.local()).append("\">\n    <xs:complexContent>\n");
        out.append("      <xs:extension base=\"").append(base).append("\">\n");
        content(own, known, "        ", out);
        attributes(own, declared, "        ", out);
        out.append("      </xs:extension>\n    </xs:complexContent>\n  </xs:complexType>\n");
    }

    private QualifiedName free(String namespace, String wanted) {
        QualifiedName out = new QualifiedName(namespace, wanted);
        while (taken.containsKey(out)) {
            out = new QualifiedName(
                    namespace, wanted + taken.merge(new QualifiedName(namespace, wanted), 1, Integer::sum));
        }
        taken.put(out, 1);
        return out;
    }

    private static String capital(String name) {
        return Character.toUpperCase(name.charAt(0)) + name.substring(1);
    }

    private void type(Observed o, String head, List<QualifiedName> known, String indent, StringBuilder out) {
        out.append(indent).append("<xs:complexType").append(head);
        if (o.isMixed()) {
            out.append(" mixed=\"true\"");
        }
        out.append(">\n");
        if (o.text() != null && o.kinds().isEmpty()) {
            out.append(indent).append("  <xs:simpleContent>\n");
            out.append(indent)
                    .append("    <xs:extension base=\"")
                    .append(o.text())
                    .append("\">\n");
            attributes(o, null, indent + "      ", out);
            out.append(indent).append("    </xs:extension>\n");
            out.append(indent).append("  </xs:simpleContent>\n");
        } else {
            content(o, known, indent + "  ", out);
            attributes(o, null, indent + "  ", out);
        }
        out.append(indent).append("</xs:complexType>\n");
    }

    private void content(Observed o, List<QualifiedName> known, String indent, StringBuilder out) {
        List<Observed.Inside> children =
                o.children().stream().filter(c -> !known.contains(c.of.name())).toList();
        if (children.isEmpty()) {
            return;
        }
        boolean isOrdered = o.isOrdered();
        boolean isAll = !isOrdered && children.stream().allMatch(c -> c.most <= 1) && known.isEmpty();
        String group = isOrdered ? "sequence" : isAll ? "all" : "choice";
        out.append(indent).append("<xs:").append(group);
        out.append(group.equals("choice") ? " minOccurs=\"0\" maxOccurs=\"unbounded\">\n" : ">\n");
        for (Observed.Inside c : children) {
            String occurs = group.equals("choice")
                    ? ""
                    : (o.least(c) == 0 ? " minOccurs=\"0\"" : "") + (c.most > 1 ? " maxOccurs=\"unbounded\"" : "");
            child(o, c.of, occurs, indent + "  ", out);
        }
        out.append(indent).append("</xs:").append(group).append(">\n");
    }

    private void child(Observed parent, Observed child, String occurs, String indent, StringBuilder out) {
        String namespace = child.name().namespace();
        if (!namespace.isEmpty() && !namespace.equals(parent.name().namespace())) {
            out.append(indent)
                    .append("<xs:element ref=\"")
                    .append(reference(child.name()))
                    .append('"');
            out.append(occurs).append("/>\n");
            return;
        }
        boolean isBare = namespace.isEmpty() && !parent.name().namespace().isEmpty();
        declaration(child, occurs + (isBare ? " form=\"unqualified\"" : ""), indent, out);
    }

    private static void attributes(Observed o, Observed declared, String indent, StringBuilder out) {
        o.attributes().forEach((name, values) -> {
            if (declared != null && declared.attributes().containsKey(name)) {
                return;
            }
            out.append(indent).append("<xs:attribute name=\"").append(name).append("\" type=\"");
            out.append(Observed.typeOf(values)).append('"');
            out.append(o.isInAll(name) ? " use=\"required\"/>\n" : "/>\n");
        });
        if (o.hasForeignAttributes()) {
            out.append(indent).append("<xs:anyAttribute namespace=\"##other\" processContents=\"lax\"/>\n");
        }
    }
}
