package org.wirekettle.shape;

import java.io.StringReader;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.xml.transform.Source;
import javax.xml.transform.stream.StreamSource;
import javax.xml.validation.Schema;
import javax.xml.validation.Validator;
import org.apache.xerces.impl.xs.XMLSchemaLoader;
import org.apache.xerces.impl.xs.util.XSGrammarPool;
import org.apache.xerces.jaxp.validation.XMLSchemaFactory;
import org.apache.xerces.xni.XMLResourceIdentifier;
import org.apache.xerces.xni.XNIException;
import org.apache.xerces.xni.grammars.XMLSchemaDescription;
import org.apache.xerces.xni.parser.XMLErrorHandler;
import org.apache.xerces.xni.parser.XMLInputSource;
import org.apache.xerces.xni.parser.XMLParseException;
import org.apache.xerces.xs.XSElementDeclaration;
import org.apache.xerces.xs.XSModel;
import org.apache.xerces.xs.XSTypeDefinition;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.xml.Escape;
import org.wirekettle.xml.XmlElement;
import org.xml.sax.SAXException;
import org.xml.sax.SAXParseException;

/**
 * All schemas of one contract, compiled together (XSD 1.0). Schema documents of one namespace are one whole, however
 * many files or inline pieces they come in, and each sees every other namespace present, imported or not. Shareable.
 */
public final class XmlSchemas {
    public static final String XSD = "http://www.w3.org/2001/XMLSchema";
    public static final String XSI = "http://www.w3.org/2001/XMLSchema-instance";
    /** SOAP 1.1 §5. */
    public static final String SOAP_ENCODING = "http://schemas.xmlsoap.org/soap/encoding/";

    private static final String BASE = "file:///wire-kettle/";
    private static final String DRIVER = BASE + "driver.xsd";
    private static final Pattern INTERNAL =
            Pattern.compile("(?:file:/+wire-kettle/)?((?:doc|ns|absent|missing|known)/-?\\d+\\.xsd|driver\\.xsd)");
    /** An xsi:type on the outermost element. */
    private static final Pattern TYPED =
            Pattern.compile("<[^>\"']*(?:(?:\"[^\"]*\"|'[^']*')[^>\"']*)*?\\s[\\w.-]+:type\\s*=");

    private static final int MAX_NOTES = 200;

    private final XSModel model;
    /** Of one element; whoever wrote more has to mend these first. */
    private static final int MAX_PROBLEMS = 5_000;

    private final Schema validation;
    private final XsdShapes shapes;
    private final XsdShapes encodedShapes;

    private final Namespaces namespaces;

    private XmlSchemas(XSModel model, Schema validation, Declarations declarations, Namespaces namespaces) {
        this.model = model;
        this.validation = validation;
        this.namespaces = namespaces;
        this.shapes = new XsdShapes(model, declarations, false, namespaces);
        this.encodedShapes = new XsdShapes(model, declarations, true, namespaces);
    }

    /** Collects the documents, then compiles them. Used once, by one thread. */
    public static final class Builder {
        private final List<Problem> notes;
        private final List<SchemaDocument> documents = new ArrayList<>();
        private final Map<String, SchemaDocument> byId = new LinkedHashMap<>();
        private final java.util.function.BinaryOperator<String> resolveUri;

        /** @param resolveUri from a base address and a reference to the address of a document given by {@link #add} */
        public Builder(List<Problem> notes, java.util.function.BinaryOperator<String> resolveUri) {
            this.notes = notes;
            this.resolveUri = resolveUri;
        }

        /** Adds a schema element of a file; {@code fileText} is the text its offsets point into. */
        public void add(String uri, XmlElement schema, String fileText) {
            SchemaDocument d = SchemaDocument.cut(BASE + "doc/" + documents.size() + ".xsd", uri, schema, fileText);
            documents.add(d);
            byId.put(d.id(), d);
        }

        public XmlSchemas compile() {
            return new Compilation(this).run();
        }
    }

    private static final class Compilation implements XMLErrorHandler, org.apache.xerces.xni.parser.XMLEntityResolver {
        private final Builder in;
        private final Map<String, List<SchemaDocument>> roots = new LinkedHashMap<>();
        private final Map<String, String> syntheticByNamespace = new LinkedHashMap<>();
        private final Map<String, String> uriById = new LinkedHashMap<>();
        private final Set<String> said = new HashSet<>();
        /** The second reading, for validation only: what is wrong was said in the first. */
        private boolean capped;

        private final Namespaces namespaces;

        Compilation(Builder in) {
            this.in = in;
            Set<String> names = new LinkedHashSet<>();
            for (SchemaDocument d : in.documents) {
                names.add(d.targetNamespace());
                d.root().children(XSD, "import").stream()
                        .map(e -> e.attribute("namespace"))
                        .filter(java.util.Objects::nonNull)
                        .forEach(names::add);
            }
            this.namespaces = new Namespaces(names);
        }

        private XMLInputSource text(String id, String xml) {
            return new XMLInputSource(null, id, null, new StringReader(namespaces.inText(xml)), null);
        }

        /** The description's first file, for what is wrong in none of them. */
        private String root() {
            return in.documents.isEmpty() ? "" : in.documents.get(0).uri();
        }

        XmlSchemas run() {
            groupByNamespace();
            XSGrammarPool pool = load();
            XSModel model = pool.toXSModel();
            capped = Occurrences.areTooMany(model);
            try {
                return new XmlSchemas(
                        model,
                        new XMLSchemaFactory().newSchema(capped ? load() : pool),
                        Declarations.of(in.documents),
                        namespaces);
            } catch (SAXException e) {
                throw unreadable(e);
            }
        }

        private Refused unreadable(Exception e) {
            return new Refused(
                    "schema.unreadable", Place.of(root()), "The schemas cannot be read: " + e.getMessage(), e);
        }

        private XSGrammarPool load() {
            XMLSchemaLoader loader = new XMLSchemaLoader();
            XSGrammarPool pool = new XSGrammarPool();
            loader.setErrorHandler(this);
            loader.setEntityResolver(this);
            loader.setProperty("http://apache.org/xml/properties/internal/grammar-pool", pool);
            loader.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
            loader.setFeature("http://apache.org/xml/features/continue-after-fatal-error", true);
            try {
                loader.loadGrammar(text(DRIVER, driver()));
                return pool;
            } catch (java.io.IOException | XNIException e) {
                throw unreadable(e);
            }
        }

        private void groupByNamespace() {
            Set<SchemaDocument> included = new HashSet<>();
            for (SchemaDocument d : in.documents) {
                uriById.put(d.id(), d.uri());
                for (XmlElement e : d.root().children()) {
                    String location = e.attribute("schemaLocation");
                    if (location != null && (e.is(XSD, "include") || e.is(XSD, "redefine"))) {
                        find(d.uri(), location).filter(other -> other != d).ifPresent(included::add);
                    }
                }
            }
            for (SchemaDocument d : in.documents) {
                List<SchemaDocument> ofNamespace = roots.computeIfAbsent(d.targetNamespace(), k -> new ArrayList<>());
                if (!included.contains(d)) {
                    ofNamespace.add(d);
                }
            }
            for (SchemaDocument d : in.documents) {
                List<SchemaDocument> ofNamespace = roots.get(d.targetNamespace());
                if (ofNamespace.isEmpty() && (!d.targetNamespace().isEmpty() || in.documents.size() == 1)) {
                    ofNamespace.add(d);
                }
            }
            roots.values().removeIf(List::isEmpty);
            int n = 0;
            for (String ns : roots.keySet()) {
                syntheticByNamespace.put(ns, BASE + "ns/" + n++ + ".xsd");
            }
        }

        private Optional<SchemaDocument> find(String base, String location) {
            String uri = in.resolveUri.apply(base, location);
            return in.documents.stream().filter(d -> d.uri().equals(uri)).findFirst();
        }

        private String driver() {
            StringBuilder out = new StringBuilder(
                    "<xs:schema xmlns:xs=\"" + XSD + "\" targetNamespace=\"urn:wire-kettle:driver\">");
            syntheticByNamespace.forEach((ns, id) -> out.append("<xs:import")
                    .append(ns.isEmpty() ? "" : " namespace=\"" + Escape.xml(ns) + "\"")
                    .append(" schemaLocation=\"")
                    .append(id)
                    .append("\"/>"));
            for (String ns : WellKnownSchemas.namespaces()) {
                if (!syntheticByNamespace.containsKey(ns)) {
                    out.append("<xs:import namespace=\"").append(ns).append("\"/>");
                }
            }
            return out.append("</xs:schema>").toString();
        }

        private String synthetic(String ns) {
            StringBuilder out = new StringBuilder("<xs:schema xmlns:xs=\"" + XSD + "\""
                    + (ns.isEmpty() ? "" : " targetNamespace=\"" + Escape.xml(ns) + "\"") + ">");
            roots.get(ns).forEach(d -> out.append("<xs:include schemaLocation=\"")
                    .append(d.id())
                    .append("\"/>"));
            return out.append("</xs:schema>").toString();
        }

        @Override
        public XMLInputSource resolveEntity(XMLResourceIdentifier wanted) {
            String literal = wanted.getLiteralSystemId();
            short context = wanted instanceof XMLSchemaDescription d
                    ? d.getContextType()
                    : XMLSchemaDescription.CONTEXT_INCLUDE;
            if (context == XMLSchemaDescription.CONTEXT_IMPORT) {
                return imported(wanted.getNamespace() == null ? "" : namespaces.own(wanted.getNamespace()), wanted);
            }
            if (literal != null && in.byId.containsKey(literal)) {
                return source(in.byId.get(literal));
            }
            String base = uriById.get(wanted.getBaseSystemId());
            Optional<SchemaDocument> found = base == null || literal == null ? Optional.empty() : find(base, literal);
            if (found.isPresent()) {
                return source(found.get());
            }
            missing(wanted, literal);
            return empty("missing/" + said.size(), "");
        }

        private XMLInputSource imported(String ns, XMLResourceIdentifier wanted) {
            if (syntheticByNamespace.containsKey(ns)) {
                return text(syntheticByNamespace.get(ns), synthetic(ns));
            }
            String stub = WellKnownSchemas.text(ns);
            if (stub != null) {
                return text(BASE + "known/" + ns.hashCode() + ".xsd", stub);
            }
            missing(wanted, ns);
            return empty("absent/" + ns.hashCode(), ns);
        }

        private void missing(XMLResourceIdentifier wanted, String what) {
            String location = wanted.getLiteralSystemId();
            boolean isKnown = location != null
                    && in.notes.stream()
                            .anyMatch(n ->
                                    n.code().equals("wsdl.missing") && n.text().contains(location));
            // Importing XSD's own namespace is allowed and needs no schema: its types are built in.
            if (XSD.equals(wanted.getNamespace()) || !said.add("missing " + what + location) || isKnown) {
                return;
            }
            String base = uriById.getOrDefault(wanted.getBaseSystemId(), root());
            String namespace =
                    wanted.getNamespace() == null ? "" : " for the namespace " + namespaces.own(wanted.getNamespace());
            // A file can only be added where the description says that there is one.
            in.notes.add(
                    location == null || location.startsWith(BASE)
                            ? Problem.warning(
                                            "schema.absent",
                                            Place.of(base),
                                            "The description has no schema" + namespace
                                                    + ", and does not say where one is.",
                                            "XSD part 1 §4.2.3",
                                            "What refers to it was taken as any content.")
                                    .affectingMessages()
                            : Problem.warning(
                                            "schema.missing",
                                            Place.of(base),
                                            "A schema" + namespace + " is missing; it is expected at " + location + ".",
                                            "XSD part 1 §4.2.3",
                                            "What refers to it was taken as any content. Add the file to have it"
                                                    + " typed.")
                                    .affectingMessages());
        }

        private XMLInputSource empty(String id, String ns) {
            return text(
                    BASE + id + ".xsd",
                    "<xs:schema xmlns:xs=\"" + XSD + "\""
                            + (ns.isEmpty() ? "" : " targetNamespace=\"" + Escape.xml(ns) + "\"") + "/>");
        }

        private XMLInputSource source(SchemaDocument d) {
            Set<String> lacking = new LinkedHashSet<>(d.referredNamespaces());
            lacking.remove(d.targetNamespace());
            Set<String> imported = new HashSet<>();
            d.root()
                    .children(XSD, "import")
                    .forEach(e -> imported.add(e.attribute("namespace") == null ? "" : e.attribute("namespace")));
            lacking.removeAll(imported);
            lacking.removeIf(ns -> !syntheticByNamespace.containsKey(ns) && WellKnownSchemas.text(ns) == null);
            if (d.targetNamespace().isEmpty()) {
                lacking.remove("");
            }
            for (String ns : lacking) {
                if (!ns.isEmpty() && !capped) {
                    in.notes.add(Problem.warning(
                            "schema.import.missing",
                            d.root().place(),
                            "Names of the namespace " + ns + " are used without an xs:import.",
                            "XSD part 1 §4.2.3",
                            "The schema with that namespace was imported."));
                }
            }
            lacking.remove("");
            String text = d.textImporting(lacking);
            return text(d.id(), capped ? Occurrences.capped(text) : text);
        }

        @Override
        public void warning(String domain, String key, XMLParseException e) {
            // Xerces warns of what the resolver has already said in words
        }

        @Override
        public void error(String domain, String key, XMLParseException e) {
            String text = plain(e.getMessage().replaceFirst("^[\\w.-]+: ", ""));
            if (capped || said.size() > MAX_NOTES || !said.add(text)) {
                return;
            }
            String uri = uriById.get(e.getExpandedSystemId());
            // A schema of ours that only holds others together has no lines anybody could look at.
            Place place = uri == null
                    ? Place.of(root())
                    : new Place(uri, Math.max(0, e.getLineNumber()), Math.max(0, e.getColumnNumber()));
            boolean dangling = key.startsWith("src-resolve");
            in.notes.add(Problem.warning(
                            "schema." + key,
                            place,
                            text,
                            "XSD part 1, " + key,
                            dangling
                                    ? "It was taken as any content."
                                    : key.startsWith("sch-props-correct")
                                            ? "The first definition was taken."
                                            : "The rest of the schema was read.")
                    .affectingMessages());
        }

        /** Without names that only we know. */
        private String plain(String message) {
            String out = namespaces.outOf(message);
            Matcher m = INTERNAL.matcher(out);
            StringBuilder text = new StringBuilder();
            while (m.find()) {
                String uri = uriById.get(BASE + m.group(1));
                m.appendReplacement(
                        text,
                        Matcher.quoteReplacement(
                                uri == null ? "a schema that is not there" : uri.substring(uri.lastIndexOf('/') + 1)));
            }
            return m.appendTail(text).toString();
        }

        @Override
        public void fatalError(String domain, String key, XMLParseException e) {
            error(domain, key, e);
        }
    }

    /** Whether the namespace's schema ships with us and need not be fetched. */
    public static boolean isWellKnown(String namespace) {
        return namespace != null && WellKnownSchemas.text(namespace) != null;
    }

    /**
     * Whether ours is taken even when a file is given: the published ones of these say less than the standards they
     * belong to.
     */
    public static boolean isAlwaysOurs(String namespace) {
        return WellKnownSchemas.namespaces().contains(namespace);
    }

    public Optional<Shape> element(QualifiedName name) {
        XSElementDeclaration d = model.getElementDeclaration(
                name.local(), name.namespace().isEmpty() ? null : namespaces.inSchema(name.namespace()));
        return Optional.ofNullable(d).map(e -> shapes.element(e, 1, 1));
    }

    /**
     * An element that the schemas do not declare, such as an RPC part, having a declared type.
     *
     * @param typed whether it and the elements in it carry xsi:type (SOAP 1.1 §5)
     */
    public Optional<Shape> elementOfType(
            String elementName, String elementNamespace, QualifiedName type, boolean typed) {
        XSTypeDefinition t = model.getTypeDefinition(
                type.local(), type.namespace().isEmpty() ? null : namespaces.inSchema(type.namespace()));
        return Optional.ofNullable(t)
                .map(x -> (typed ? encodedShapes : shapes).elementOfType(elementName, elementNamespace, x));
    }

    /** Validates an element that no schema declares against a type (XSD part 1 §2.6.1: by xsi:type). */
    public List<Problem> validateAs(String xml, QualifiedName type) {
        // What the element itself says it is counts; what something inside it says does not.
        if (TYPED.matcher(xml).lookingAt()) {
            return validate(xml);
        }
        String prefix = type.namespace().isEmpty() ? "" : "wk-type:";
        return validate(XmlElement.withAttributes(
                xml,
                " xmlns:wk-xsi=\"" + XSI + "\""
                        + (prefix.isEmpty() ? "" : " xmlns:wk-type=\"" + Escape.xml(type.namespace()) + "\"")
                        + " wk-xsi:type=\"" + prefix + type.local() + "\""));
    }

    /**
     * Validates one element, given as a document.
     *
     * @return what is wrong, in the validator's words, with lines of the given text, and as rows the elements that are
     *     concerned; empty when valid
     */
    public List<Problem> validate(String xml) {
        String text = namespaces.inText(xml);
        List<Problem> out = validate(new StreamSource(new StringReader(text)), () -> null);
        if (out.isEmpty()) {
            return out;
        }
        // Where in the tree it is, is worth a second look only for what does not fit.
        ElementPath path = new ElementPath();
        List<Problem> placed = validate(path.source(text), path::now);
        return placed.size() == out.size() ? placed : out;
    }

    /** @param path of the element that is being read; null where that is not known */
    private List<Problem> validate(Source source, Supplier<String> path) {
        List<Problem> out = new ArrayList<>();
        Validator v = validation.newValidator();
        v.setErrorHandler(new org.xml.sax.ErrorHandler() {
            @Override
            public void warning(SAXParseException e) {
                // nothing a message has to heed
            }

            @Override
            public void error(SAXParseException e) throws SAXException {
                String text = namespaces.outOf(e.getMessage());
                int colon = text.indexOf(": ");
                String code = colon > 0 && text.indexOf(' ') > colon ? text.substring(0, colon) : "invalid";
                // Each bad value is reported twice: once as a bad value, once as the element having it.
                if (!code.startsWith("cvc-type.3.1.3")
                        && !code.startsWith("cvc-attribute.3")
                        && !code.startsWith("cvc-complex-type.2.2")) {
                    out.add(Problem.error(
                            code,
                            new Place("message", e.getLineNumber(), e.getColumnNumber(), null, path.get(), null),
                            colon > 0 ? text.substring(colon + 2) : text,
                            "XSD part 1"));
                }
                if (out.size() >= MAX_PROBLEMS) {
                    throw new SAXException("there is more");
                }
            }

            @Override
            public void fatalError(SAXParseException e) throws SAXException {
                error(e);
                throw e;
            }
        });
        try {
            v.setFeature(ElementPath.NO_DOCTYPE, true);
            v.validate(source);
        } catch (SAXException | java.io.IOException e) {
            if (out.isEmpty()) {
                out.add(Problem.error("invalid", Place.of("message"), String.valueOf(e.getMessage()), "XSD part 1"));
            }
        }
        return out;
    }
}
