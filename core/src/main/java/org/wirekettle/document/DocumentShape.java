package org.wirekettle.document;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import javax.xml.stream.XMLStreamException;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.JsonCheck;
import org.wirekettle.contract.http.JsonSchemaText;
import org.wirekettle.http.JsonBody;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.SafeXml;
import org.wirekettle.xml.XmlElement;

/** A document's shape, read from its schemas. Immutable; shareable by threads. */
public final class DocumentShape {
    private static final String DOCUMENT = "document";

    private final Shape root;
    private final List<String> roots;
    private final List<Problem> notes;
    private final Form form;

    /** What it is written and checked as. */
    private interface Form {
        String text(Node document);

        List<Problem> check(String text);
    }

    private DocumentShape(Shape document, List<String> roots, List<Problem> notes, Form form) {
        this.root = Shape.element("message").children(() -> List.of(document)).build();
        this.roots = roots;
        this.notes = notes;
        this.form = form;
    }

    /**
     * Reads the schemas.
     *
     * @param files the first is the one that others belong to
     * @param wanted which of {@link #roots()} a document is; null for the first
     * @throws Refused with file and line, when they are none, or have no such root
     */
    public static DocumentShape read(DocumentLanguage language, List<SchemaText> files, @Nullable String wanted) {
        if (files.isEmpty()) {
            throw new Refused("shape.empty", null, "Give the schema.");
        }
        long all = files.stream().mapToLong(f -> f.text().length()).sum();
        if (files.size() > SchemaText.MAX_FILES || all > SchemaText.MAX_ALL_CHARS) {
            throw new Refused(
                    "shape.size",
                    null,
                    "A shape has at most " + SchemaText.MAX_FILES + " files of " + SchemaText.MAX_ALL_CHARS / 1_000_000
                            + " million characters together.");
        }
        return language == DocumentLanguage.XSD ? xml(files, wanted) : json(files);
    }

    private static DocumentShape xml(List<SchemaText> files, @Nullable String wanted) {
        List<Problem> notes = new ArrayList<>();
        Documents documents = documents(files);
        XmlSchemas.Builder builder = new XmlSchemas.Builder(notes, documents::resolve);
        Map<String, QualifiedName> roots = new LinkedHashMap<>();
        for (SchemaText f : files) {
            XmlElement schema = XmlElement.parse(f.name(), f.text());
            if (!schema.is(XmlSchemas.XSD, "schema")) {
                throw new Refused(
                        "shape.schema",
                        schema.place(),
                        "The outermost element of " + f.name() + " is <" + schema.name() + ">, not a schema.");
            }
            builder.add(f.name(), schema, f.text());
            String namespace = schema.attribute("targetNamespace") == null ? "" : schema.attribute("targetNamespace");
            schema.children(XmlSchemas.XSD, "element").stream()
                    .map(e -> e.attribute("name"))
                    .filter(n -> n != null && !n.isBlank())
                    .map(n -> new QualifiedName(namespace, n))
                    .forEach(q -> roots.putIfAbsent(roots.containsKey(q.local()) ? q.toString() : q.local(), q));
        }
        if (roots.isEmpty()) {
            throw new Refused(
                    "shape.root",
                    Place.of(files.get(0).name()),
                    "The schema declares no element that could be a document.");
        }
        String name =
                wanted == null || wanted.isBlank() ? roots.keySet().iterator().next() : wanted;
        XmlSchemas schemas = builder.compile();
        Shape document = java.util.Optional.ofNullable(roots.get(name))
                .flatMap(schemas::element)
                .orElseThrow(() -> new Refused(
                        "shape.root",
                        Place.of(files.get(0).name()),
                        "The schema declares no element " + name + "; it has "
                                + String.join(
                                        ", ", roots.keySet().stream().limit(20).toList()) + "."));
        return new DocumentShape(document, List.copyOf(roots.keySet()), List.copyOf(notes), new Form() {
            @Override
            public String text(Node n) {
                return NodeXml.write(n);
            }

            @Override
            public List<Problem> check(String text) {
                return schemas.validate(text);
            }
        });
    }

    private static Documents documents(List<SchemaText> files) {
        Map<String, byte[]> out = new LinkedHashMap<>();
        files.forEach(f -> out.put(f.name(), f.text().getBytes(StandardCharsets.UTF_8)));
        return Documents.of(out);
    }

    private static DocumentShape json(List<SchemaText> files) {
        JsonSchemaText schema =
                JsonSchemaText.read(documents(files), files.get(0).name());
        Shape document = schema.shape(DOCUMENT);
        JsonCheck check = new JsonCheck(schema::whole);
        return new DocumentShape(document, List.of(), schema.notes(), new Form() {
            @Override
            public String text(Node n) {
                return new String(JsonBody.write(n, document), StandardCharsets.UTF_8);
            }

            @Override
            public List<Problem> check(String text) {
                return check.check(DOCUMENT, text, 0);
            }
        });
    }

    /** Whether its documents are XML; otherwise they are JSON. */
    public boolean isXml() {
        return !roots.isEmpty();
    }

    /** As a fill has it: the document is its only child. */
    public Shape root() {
        return root;
    }

    /** The elements that could be a document, by the names they are asked for; none for JSON. */
    public List<String> roots() {
        return roots;
    }

    /** What was wrong in the schemas, and what was assumed. */
    public List<Problem> notes() {
        return notes;
    }

    /** The fields of a document, as far as they can be laid out. */
    public List<Field> fields() {
        return ShapeFields.of(root.children().get(0));
    }

    /** A document that a fill has written. @param xml of the document's element */
    public Node document(String xml) {
        try {
            return NodeXml.read(xml);
        } catch (XMLStreamException e) {
            throw SafeXml.refusal(DOCUMENT, e);
        }
    }

    /** How a document is written: XML, or JSON. */
    public String text(Node document) {
        return form.text(document);
    }

    /** @return what of a document's text does not fit its schemas; empty when all does */
    public List<Problem> check(String text) {
        return form.check(text);
    }
}
