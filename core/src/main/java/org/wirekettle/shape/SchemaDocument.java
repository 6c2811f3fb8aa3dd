package org.wirekettle.shape;

import java.util.LinkedHashSet;
import java.util.Set;
import org.wirekettle.xml.XmlElement;

/**
 * One XSD document, standing alone or cut out of a WSDL. Its text is padded so that lines are those of the file it came from.
 *
 * @param id how the schema reader calls it
 * @param uri the file's address; several inline schemas share it
 */
record SchemaDocument(String id, String uri, XmlElement root, String text) {
    private static final String XSD = XmlSchemas.XSD;

    /** Cuts {@code schema} out of {@code fileText}, binding the prefixes its surroundings bind. */
    static SchemaDocument cut(String id, String uri, XmlElement schema, String fileText) {
        return new SchemaDocument(id, uri, schema, "\n".repeat(Math.max(0, schema.place().line() - 1)) + schema.standalone(fileText));
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

    /** Its text with an import added for each of the namespaces: WSDLs often forget them between their inline schemas (XSD part 1 §4.2.3). */
    String textImporting(Set<String> namespaces) {
        if (namespaces.isEmpty()) {
            return text;
        }
        int open = text.indexOf('<');
        int end = endOfTag(open);
        String prefix = text.substring(open + 1, Math.max(open + 1, text.indexOf("schema", open)));
        StringBuilder imports = new StringBuilder();
        for (String ns : namespaces) {
            imports.append('<').append(prefix).append("import").append(ns.isEmpty() ? "" : " namespace=\"" + escape(ns) + "\"").append("/>");
        }
        boolean empty = text.charAt(end - 1) == '/';
        return empty ? text.substring(0, end - 1) + ">" + imports + "</" + prefix + "schema>" : text.substring(0, end + 1) + imports + text.substring(end + 1);
    }

    private int endOfTag(int open) {
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

    private static String escape(String s) {
        return s.replace("&", "&amp;").replace("<", "&lt;").replace("\"", "&quot;");
    }
}
