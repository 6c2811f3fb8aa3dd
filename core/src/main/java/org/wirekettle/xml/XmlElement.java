package org.wirekettle.xml;

import java.io.StringReader;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import org.codehaus.stax2.XMLStreamReader2;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Refused;

/** An element of a description document with the place and the characters it came from. Built once, then only read. */
public final class XmlElement {
    private final XmlElement parent;
    private final String name;
    private final String namespace;
    private final Place place;
    private final int start;
    private int end;
    private final Map<String, String> attributes = new LinkedHashMap<>();
    private final Map<String, String> declared = new LinkedHashMap<>();
    private final List<XmlElement> children = new ArrayList<>();
    private final StringBuilder text = new StringBuilder();

    private XmlElement(XmlElement parent, String name, String namespace, Place place, int start) {
        this.parent = parent;
        this.name = name;
        this.namespace = namespace;
        this.place = place;
        this.start = start;
    }

    /**
     * @param document what to call it in places
     * @throws Refused when it is not well-formed or exceeds a limit of {@link SafeXml}
     */
    public static XmlElement parse(String document, String text) {
        try {
            XMLStreamReader2 in = SafeXml.reader(new StringReader(text));
            try {
                return read(in, document);
            } finally {
                in.close();
            }
        } catch (XMLStreamException e) {
            throw SafeXml.refusal(document, e);
        }
    }

    private static XmlElement read(XMLStreamReader2 in, String document) throws XMLStreamException {
        XmlElement root = null;
        XmlElement at = null;
        while (in.hasNext()) {
            switch (in.next()) {
                case XMLStreamConstants.START_ELEMENT -> {
                    Place place = new Place(
                            document,
                            in.getLocation().getLineNumber(),
                            in.getLocation().getColumnNumber());
                    XmlElement next = new XmlElement(at, in.getLocalName(), orEmpty(in.getNamespaceURI()), place, (int)
                            in.getLocationInfo().getStartingCharOffset());
                    for (int i = 0; i < in.getNamespaceCount(); i++) {
                        next.declared.put(orEmpty(in.getNamespacePrefix(i)), orEmpty(in.getNamespaceURI(i)));
                    }
                    for (int i = 0; i < in.getAttributeCount(); i++) {
                        String ns = orEmpty(in.getAttributeNamespace(i));
                        next.attributes.put(
                                ns.isEmpty()
                                        ? in.getAttributeLocalName(i)
                                        : "{" + ns + "}" + in.getAttributeLocalName(i),
                                in.getAttributeValue(i));
                    }
                    if (at == null) {
                        root = next;
                    } else {
                        at.children.add(next);
                    }
                    at = next;
                }
                case XMLStreamConstants.END_ELEMENT -> {
                    at.end = (int) in.getLocationInfo().getEndingCharOffset();
                    at = at.parent;
                }
                case XMLStreamConstants.CHARACTERS, XMLStreamConstants.CDATA -> {
                    if (at != null) {
                        at.text.append(in.getText());
                    }
                }
                default -> {}
            }
        }
        if (root == null) {
            throw new Refused("xml.empty", Place.of(document), "There is no XML element in it.");
        }
        return root;
    }

    private static String orEmpty(String s) {
        return s == null ? "" : s;
    }

    public String name() {
        return name;
    }

    public String namespace() {
        return namespace;
    }

    public boolean is(String ns, String local) {
        return name.equals(local) && namespace.equals(ns);
    }

    public Place place() {
        return place;
    }

    /** Offset of its first character in the text it was parsed from. */
    public int start() {
        return start;
    }

    /** Offset after its last character. */
    public int end() {
        return end;
    }

    public Optional<XmlElement> parent() {
        return Optional.ofNullable(parent);
    }

    public List<XmlElement> children() {
        return children;
    }

    public List<XmlElement> children(String ns, String local) {
        return children.stream().filter(c -> c.is(ns, local)).toList();
    }

    public Optional<XmlElement> child(String ns, String local) {
        return children.stream().filter(c -> c.is(ns, local)).findFirst();
    }

    /** Null when absent. */
    public String attribute(String attribute) {
        return attributes.get(attribute);
    }

    public Map<String, String> attributes() {
        return attributes;
    }

    /** All text inside, its descendants' included, with runs of white space made one. */
    public String text() {
        StringBuilder out = new StringBuilder();
        collect(out);
        return out.toString().strip().replaceAll("\\s+", " ");
    }

    /** The text directly inside, as it stands. */
    public String ownText() {
        return text.toString();
    }

    private void collect(StringBuilder out) {
        out.append(text);
        for (XmlElement child : children) {
            out.append(' ');
            child.collect(out);
        }
    }

    /** The namespace bound to a prefix here, or null. */
    public String namespaceOf(String prefix) {
        for (XmlElement e = this; e != null; e = e.parent) {
            String found = e.declared.get(prefix);
            if (found != null) {
                return found;
            }
        }
        return prefix.equals("xml") ? "http://www.w3.org/XML/1998/namespace" : null;
    }

    /** All prefixes in scope that its ancestors declare and itself does not. */
    public Map<String, String> inheritedNamespaces() {
        Map<String, String> out = new LinkedHashMap<>();
        for (XmlElement e = parent; e != null; e = e.parent) {
            e.declared.forEach(out::putIfAbsent);
        }
        out.keySet().removeAll(declared.keySet());
        return out;
    }

    /** Its own text, cut out of the text it was parsed from, with the prefixes bound that its surroundings bind. */
    public String standalone(String text) {
        return bound(text.substring(start, end));
    }

    /** Text that begins with this element's tag, with the prefixes bound that its surroundings bind. */
    public String bound(String own) {
        StringBuilder declarations = new StringBuilder();
        inheritedNamespaces().forEach((prefix, ns) -> {
            if (!ns.isEmpty()) {
                declarations
                        .append(prefix.isEmpty() ? " xmlns" : " xmlns:" + prefix)
                        .append("=\"")
                        .append(Escape.xml(ns))
                        .append('"');
            }
        });
        return withAttributes(own, declarations);
    }

    /** XML text with more written into its first tag, which it begins with. */
    public static String withAttributes(String xml, CharSequence attributes) {
        int afterName = 1;
        while (afterName < xml.length() && " \t\r\n/>".indexOf(xml.charAt(afterName)) < 0) {
            afterName++;
        }
        return xml.substring(0, afterName) + attributes + xml.substring(afterName);
    }

    /** Itself and all below, in document order. */
    public void walk(java.util.function.Consumer<XmlElement> visitor) {
        visitor.accept(this);
        for (XmlElement child : children) {
            child.walk(visitor);
        }
    }
}
