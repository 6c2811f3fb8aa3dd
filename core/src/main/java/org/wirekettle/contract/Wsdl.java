package org.wirekettle.contract;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.XmlElement;
import org.wirekettle.xml.XmlText;

/**
 * The definitions of a WSDL and everything it imports, gathered by name but not yet put together (WSDL 1.1 §2.1). Used
 * by one reading.
 */
final class Wsdl {
    static final String WSDL = "http://schemas.xmlsoap.org/wsdl/";
    static final String SOAP11 = "http://schemas.xmlsoap.org/wsdl/soap/";
    static final String SOAP12 = "http://schemas.xmlsoap.org/wsdl/soap12/";
    static final String HTTP = "http://schemas.xmlsoap.org/wsdl/http/";
    private static final java.util.regex.Pattern OLD_XSD =
            java.util.regex.Pattern.compile("http://www\\.w3\\.org/(?:1999|2000/10)/XMLSchema(-instance)?(?=[\"'])");

    final Map<String, XmlElement> messages = new LinkedHashMap<>();
    final Map<String, XmlElement> portTypes = new LinkedHashMap<>();
    final Map<String, XmlElement> bindings = new LinkedHashMap<>();
    final List<XmlElement> services = new ArrayList<>();
    final List<XmlElement> roots = new ArrayList<>();
    final Map<String, Contract.Document> documents = new LinkedHashMap<>();
    final XmlSchemas.Builder schemas;
    final List<Problem> notes;
    XmlElement root;
    private final Documents source;
    private final Budget budget = new Budget();

    Wsdl(Documents source, List<Problem> notes) {
        this.source = source;
        this.notes = notes;
        this.schemas = new XmlSchemas.Builder(notes, source::resolve);
    }

    void readRoot(String uri) {
        byte[] bytes;
        try {
            bytes = source.get(uri);
        } catch (java.io.IOException e) {
            throw new Refused("wsdl.unavailable", Place.of(uri), "The description cannot be had: " + e.getMessage(), e);
        }
        XmlText.Parsed parsed = load(uri, bytes);
        root = parsed.root();
        if (root.namespace().equals(XmlSchemas.XSD) && root.name().equals("schema")) {
            throw new Refused(
                    "wsdl.schema",
                    root.place(),
                    "This is an XML schema, not a WSDL. Import the WSDL that uses it; schemas come along.");
        }
        if (!root.name().equals("definitions")) {
            String more = root.name().equals("description")
                    ? " It looks like WSDL 2.0; ask for the WSDL 1.1 description."
                    : "";
            throw new Refused(
                    "wsdl.root",
                    root.place(),
                    "The root element is <" + root.name() + ">, not WSDL's <definitions>." + more);
        }
        definitions(uri, parsed);
    }

    private XmlText.Parsed load(String uri, byte[] bytes) {
        budget.take(uri, bytes);
        documents.put(uri, new Contract.Document(uri, bytes));
        return modern(XmlText.read(uri, bytes, notes));
    }

    /** Descriptions older than XSD 1.0 name its drafts; what they use of it is the same but for a few type names. */
    private XmlText.Parsed modern(XmlText.Parsed parsed) {
        String text = parsed.text();
        if (!OLD_XSD.matcher(text).find()) {
            return parsed;
        }
        notes.add(Problem.warning(
                        "schema.draft",
                        parsed.root().place(),
                        "The namespace of a draft of XML Schema is used.",
                        "XSD part 1 §1.2",
                        "It was taken for " + XmlSchemas.XSD + ".")
                .affectingMessages());
        String modern = OLD_XSD.matcher(text).replaceAll("http://www.w3.org/2001/XMLSchema$1");
        return new XmlText.Parsed(modern, XmlElement.parse(parsed.root().place().document(), modern));
    }

    private void definitions(String uri, XmlText.Parsed parsed) {
        XmlElement top = parsed.root();
        roots.add(top);
        String tns = targetNamespace(top);
        for (XmlElement e : top.children()) {
            if (!e.namespace().equals(WSDL)) {
                if (e.name().equalsIgnoreCase("script")) {
                    notes.add(Problem.warning(
                            "wsdl.stray",
                            e.place(),
                            "A <" + e.name() + "> element stands in the description.",
                            "WSDL 1.1 §2.1",
                            "It was skipped."));
                }
                continue;
            }
            switch (e.name()) {
                case "import" -> importWsdl(uri, e);
                case "types" ->
                    e.children().stream()
                            .filter(c -> c.is(XmlSchemas.XSD, "schema"))
                            .forEach(s -> addSchema(uri, s, parsed.text()));
                case "message" -> define(messages, tns, e);
                case "portType" -> define(portTypes, tns, e);
                case "binding" -> define(bindings, tns, e);
                case "service" -> services.add(e);
                default -> {}
            }
        }
    }

    private void define(Map<String, XmlElement> into, String tns, XmlElement e) {
        String key = new QualifiedName(tns, nameOf(e)).toString();
        if (into.putIfAbsent(key, e) != null) {
            notes.add(Problem.warning(
                    "wsdl.duplicate",
                    e.place(),
                    "A " + e.name() + " named " + nameOf(e) + " is defined twice.",
                    "WSDL 1.1 §2.1.1",
                    "The first was taken."));
        }
    }

    private void importWsdl(String uri, XmlElement e) {
        String location = e.attribute("location");
        if (location == null) {
            notes.add(Problem.warning(
                    "wsdl.import.location",
                    e.place(),
                    "A wsdl:import has no location.",
                    "WSDL 1.1 §2.1.1",
                    "It was skipped."));
            return;
        }
        fetch(uri, location, e, "WSDL 1.1 §2.1.1", parsed -> {
            String at = source.resolve(uri, location);
            if (parsed.root().is(XmlSchemas.XSD, "schema")) {
                addSchema(at, parsed.root(), parsed.text());
            } else {
                definitions(at, parsed);
            }
        });
    }

    private void addSchema(String uri, XmlElement schema, String text) {
        schemas.add(uri, schema, text);
        for (XmlElement e : schema.children()) {
            String location = e.attribute("schemaLocation");
            boolean refers = e.is(XmlSchemas.XSD, "import")
                    || e.is(XmlSchemas.XSD, "include")
                    || e.is(XmlSchemas.XSD, "redefine");
            boolean isOurs = XmlSchemas.isWellKnown(e.attribute("namespace"))
                    && (XmlSchemas.isAlwaysOurs(e.attribute("namespace"))
                            || location == null
                            || !source.isAtHand(source.resolve(uri, location)));
            if (refers && location != null && !isOurs) {
                fetch(uri, location, e, "XSD part 1 §4.2", parsed -> {
                    if (parsed.root().is(XmlSchemas.XSD, "schema")) {
                        String found = parsed.root().attribute("targetNamespace");
                        String wanted = e.attribute("namespace");
                        if (e.name().equals("import") && wanted != null && !wanted.equals(found)) {
                            notes.add(Problem.warning(
                                    "schema.import.namespace",
                                    e.place(),
                                    "The import says namespace " + wanted + ", the schema there has "
                                            + (found == null ? "none" : found) + ".",
                                    "XSD part 1 §4.2.3",
                                    "The schema's own was taken."));
                        }
                        addSchema(source.resolve(uri, location), parsed.root(), parsed.text());
                    } else {
                        inlineSchemas(source.resolve(uri, location), parsed);
                    }
                });
            }
        }
    }

    /** An import may point at another WSDL for the schemas in it; widespread, though XSD does not foresee it. */
    private void inlineSchemas(String uri, XmlText.Parsed parsed) {
        for (XmlElement types : parsed.root().children(WSDL, "types")) {
            types.children(XmlSchemas.XSD, "schema").forEach(s -> addSchema(uri, s, parsed.text()));
        }
    }

    private void fetch(String base, String location, XmlElement from, String section, Consumer<XmlText.Parsed> then) {
        String uri = source.resolve(base, location);
        if (documents.containsKey(uri)) {
            return;
        }
        try {
            then.accept(load(uri, source.get(uri)));
        } catch (java.io.IOException e) {
            notes.add(Problem.warning(
                            "wsdl.missing",
                            from.place(),
                            "The file " + location + " is missing: " + e.getMessage() + ".",
                            section,
                            "It was left out; the file can be added later.")
                    .affectingMessages());
        } catch (Refused e) {
            documents.remove(uri);
            notes.add(Problem.warning("wsdl.unreadable", e.place(), e.getMessage(), section, "The file was left out.")
                    .affectingMessages());
        }
    }

    static String targetNamespace(XmlElement definitions) {
        String ns = definitions.attribute("targetNamespace");
        return ns == null ? "" : ns.strip();
    }

    /** An element's name; one without gets a word, since names are how people find things. */
    static String nameOf(XmlElement e) {
        String name = e.attribute("name");
        return name == null || name.isBlank() ? e.name() : name.strip();
    }

    /** Finds what a QName attribute refers to: in its namespace, or, with a note, the only one with that local name. */
    Optional<XmlElement> find(Map<String, XmlElement> in, XmlElement at, String attribute) {
        String value = at.attribute(attribute);
        if (value == null) {
            return Optional.empty();
        }
        QualifiedName name = qualified(at, value);
        XmlElement exact = in.get(name.toString());
        if (exact != null) {
            return Optional.of(exact);
        }
        List<Map.Entry<String, XmlElement>> sameLocal = in.entrySet().stream()
                .filter(e -> QualifiedName.parse(e.getKey()).local().equals(name.local()))
                .toList();
        if (sameLocal.size() == 1) {
            notes.add(Problem.warning(
                    "wsdl.reference",
                    at.place(),
                    attribute + "=\"" + value + "\" names nothing in the namespace " + name.namespace() + ".",
                    "WSDL 1.1 §2.1.2",
                    "The only definition with that local name was taken."));
            return Optional.of(sameLocal.get(0).getValue());
        }
        return Optional.empty();
    }

    /** A QName value; an unprefixed or unbound one falls to the target namespace, as is common in the wild. */
    static QualifiedName qualified(XmlElement at, String value) {
        String v = value.strip();
        int colon = v.indexOf(':');
        String ns = at.namespaceOf(colon < 0 ? "" : v.substring(0, colon));
        if (colon < 0 && (ns == null || ns.equals(WSDL)) || ns == null) {
            XmlElement top = at;
            while (top.parent().isPresent()) {
                top = top.parent().get();
            }
            ns = targetNamespace(top);
        }
        return new QualifiedName(ns, v.substring(colon + 1));
    }
}
