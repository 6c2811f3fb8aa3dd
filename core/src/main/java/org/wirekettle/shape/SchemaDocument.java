package org.wirekettle.shape;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.wirekettle.xml.Escape;
import org.wirekettle.xml.XmlElement;

/**
 * One XSD document, standing alone or cut out of a WSDL. Its text is padded so that lines are those of the file it came
 * from.
 *
 * @param id how the schema reader calls it
 * @param uri the file's address; several inline schemas share it
 */
record SchemaDocument(String id, String uri, XmlElement root, String text) {
    private static final String XSD = XmlSchemas.XSD;

    /** Cuts {@code schema} out of {@code fileText}, binding the prefixes its surroundings bind. */
    static SchemaDocument cut(String id, String uri, XmlElement schema, String fileText) {
        return new SchemaDocument(
                id,
                uri,
                schema,
                "\n".repeat(Math.max(0, schema.place().line() - 1)) + schema.bound(mended(schema, fileText)));
    }

    /** Mends two things in the text that XSD alone cannot express as it was meant; the lines stay the same. */
    private static String mended(XmlElement schema, String fileText) {
        List<XmlElement> found = new ArrayList<>();
        schema.walk(e -> {
            if (isSchemaReference(e) || isBareArray(e)) {
                found.add(e);
            }
        });
        StringBuilder out = new StringBuilder(fileText.substring(schema.start(), schema.end()));
        for (int i = found.size() - 1; i >= 0; i--) {
            XmlElement e = found.get(i);
            int from = e.start() - schema.start();
            int to = e.end() - schema.start();
            String old = out.substring(from, to);
            String prefix = old.substring(1, old.indexOf(e.name()));
            out.replace(from, to, e.name().equals("element") ? wildcardFor(e, prefix, old) : withItems(e, prefix, old));
        }
        return out.toString();
    }

    private static boolean refersTo(XmlElement e, String attribute, String namespace, String local) {
        String value =
                e.attribute(attribute) == null ? "" : e.attribute(attribute).strip();
        int colon = value.indexOf(':');
        return value.substring(colon + 1).equals(local)
                && namespace.equals(e.namespaceOf(colon < 0 ? "" : value.substring(0, colon)));
    }

    /**
     * A message may hold a whole schema; XSD's own schema is not among those read, so a wildcard for its namespace
     * stands in, which admits the same.
     */
    private static boolean isSchemaReference(XmlElement e) {
        return e.is(XSD, "element") && refersTo(e, "ref", XSD, "schema");
    }

    private static String wildcardFor(XmlElement e, String prefix, String old) {
        StringBuilder any = new StringBuilder("<" + prefix + "any namespace=\"" + XSD + "\" processContents=\"lax\"");
        for (String occurs : new String[] {"minOccurs", "maxOccurs"}) {
            if (e.attribute(occurs) != null) {
                any.append(' ')
                        .append(occurs)
                        .append("=\"")
                        .append(e.attribute(occurs))
                        .append('"');
            }
        }
        return any + "/>" + "\n".repeat((int) old.chars().filter(c -> c == '\n').count());
    }

    /**
     * A restriction of {@code soapenc:Array} that only names its item type has, by XSD, no content at all; meant are
     * the items (SOAP 1.1 §5.4.2).
     */
    private static boolean isBareArray(XmlElement e) {
        return e.is(XSD, "restriction")
                && refersTo(e, "base", XmlSchemas.SOAP_ENCODING, "Array")
                && e.children().stream().noneMatch(c -> List.of("sequence", "group", "choice", "all")
                        .contains(c.name()));
    }

    private static String withItems(XmlElement e, String prefix, String old) {
        String items = "<" + prefix + "sequence><" + prefix
                + "any namespace=\"##any\" processContents=\"lax\" minOccurs=\"0\" maxOccurs=\"unbounded\"/></" + prefix
                + "sequence>";
        int end = endOfTag(old, 0);
        // An annotation comes first (XSD part 1 §3.4.2).
        if (e.child(XSD, "annotation").isPresent()) {
            end = e.child(XSD, "annotation").get().end() - e.start() - 1;
            return old.substring(0, end + 1) + items + old.substring(end + 1);
        }
        return old.charAt(end - 1) == '/'
                ? old.substring(0, end - 1) + ">" + items + "</" + prefix + "restriction>"
                : old.substring(0, end + 1) + items + old.substring(end + 1);
    }

    String targetNamespace() {
        String ns = root.attribute("targetNamespace");
        return ns == null ? "" : ns.strip();
    }

    /** The namespaces of all components it refers to. */
    Set<String> referredNamespaces() {
        Set<String> out = new LinkedHashSet<>();
        root.walk(e -> {
            if (e.namespace().equals(XSD)) {
                for (String a : new String[] {"type", "ref", "base", "itemType", "substitutionGroup", "memberTypes"}) {
                    String value = e.attribute(a);
                    if (value != null) {
                        for (String name : value.strip().split("\\s+")) {
                            int colon = name.indexOf(':');
                            String ns = e.namespaceOf(colon < 0 ? "" : name.substring(0, colon));
                            out.add(ns == null ? "" : ns);
                        }
                    }
                }
            }
        });
        out.remove(XSD);
        out.remove("http://www.w3.org/XML/1998/namespace");
        return out;
    }

    /**
     * Its text with an import added for each of the namespaces: WSDLs often forget them between their inline schemas
     * (XSD part 1 §4.2.3).
     */
    String textImporting(Set<String> namespaces) {
        if (namespaces.isEmpty()) {
            return text;
        }
        int open = text.indexOf('<');
        int end = endOfTag(text, open);
        String prefix = text.substring(open + 1, Math.max(open + 1, text.indexOf("schema", open)));
        StringBuilder imports = new StringBuilder();
        for (String ns : namespaces) {
            imports.append('<')
                    .append(prefix)
                    .append("import")
                    .append(ns.isEmpty() ? "" : " namespace=\"" + Escape.xml(ns) + "\"")
                    .append("/>");
        }
        boolean empty = text.charAt(end - 1) == '/';
        return empty
                ? text.substring(0, end - 1) + ">" + imports + "</" + prefix + "schema>"
                : text.substring(0, end + 1) + imports + text.substring(end + 1);
    }

    private static int endOfTag(String text, int open) {
        char quote = 0;
        for (int i = open; i < text.length(); i++) {
            char c = text.charAt(i);
            if (quote != 0) {
                quote = c == quote ? 0 : quote;
            } else if (c == '"' || c == '\'') {
                quote = c;
            } else if (c == '>') {
                return i;
            }
        }
        return text.length() - 1;
    }
}
