package org.wirekettle.document;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.contract.http.JsonSamples;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.XmlElement;

/**
 * Writes the schema that samples suggest: what is in all of them is always there, what is there twice repeats, what
 * says what it is has kinds. A sample that is a schema itself is taken as it is.
 */
public final class Samples {
    /** Samples that are held against what was learnt from them. */
    private static final int MAX_CHECKED = 200;

    private static final int MAX_NOTES = 20;

    /**
     * What was learnt.
     *
     * @param files the schema, one file for each namespace
     * @param notes samples that do not fit it all the same
     */
    public record Learnt(DocumentLanguage language, List<SchemaText> files, List<Problem> notes) {}

    private Samples() {}

    /**
     * @param name of the shape
     * @param samples texts of JSON, JSON lines or XML, of one kind
     * @throws Refused with sample and line, when they are no such texts, or of more than one kind
     */
    public static Learnt learn(String name, List<SchemaText> samples) {
        List<SchemaText> given =
                samples.stream().filter(s -> !s.text().isBlank()).toList();
        if (given.isEmpty()) {
            throw new Refused("sample.empty", null, "Give a sample: a document of JSON or XML.");
        }
        if (given.stream().mapToLong(s -> s.text().length()).sum() > SchemaText.MAX_ALL_CHARS) {
            throw new Refused(
                    "sample.size",
                    null,
                    "The samples have more than " + SchemaText.MAX_ALL_CHARS / 1_000_000
                            + " million characters together, the limit: a few of them tell as much.");
        }
        long xml = given.stream()
                .filter(s -> s.text().stripLeading().startsWith("<"))
                .count();
        if (xml == given.size()) {
            return ofXml(name, given);
        }
        if (xml > 0) {
            throw new Refused("sample.kinds", null, "Some of the samples are XML and some are not.");
        }
        return ofJson(name, given);
    }

    private static Learnt ofJson(String name, List<SchemaText> samples) {
        List<JsonNode> documents = new ArrayList<>();
        for (SchemaText s : samples) {
            documents.addAll(JsonSamples.documents(s.name(), s.text()));
        }
        if (documents.isEmpty()) {
            throw new Refused("sample.empty", Place.of(samples.get(0).name()), "There is no value in it.");
        }
        if (samples.size() == 1 && documents.size() == 1 && JsonSamples.isSchema(documents.get(0))) {
            return new Learnt(DocumentLanguage.JSON_SCHEMA, List.of(as(name + ".json", samples.get(0))), List.of());
        }
        SchemaText schema = new SchemaText(name + ".json", JsonSamples.schema(documents, name));
        return checked(
                DocumentLanguage.JSON_SCHEMA,
                List.of(schema),
                documents.stream().map(JsonNode::toString).toList());
    }

    /** The schema of rows. @param tables the fields of each delimited file or sheet, as its records suggest them */
    public static Learnt ofRows(String name, List<List<Field>> tables) {
        SchemaText schema = new SchemaText(name + ".json", FieldSchema.of(name, tables));
        return new Learnt(DocumentLanguage.JSON_SCHEMA, List.of(schema), List.of());
    }

    private static Learnt ofXml(String name, List<SchemaText> samples) {
        List<XmlElement> roots = new ArrayList<>();
        for (SchemaText s : samples) {
            roots.add(XmlElement.parse(s.name(), s.text()));
        }
        if (roots.stream().allMatch(r -> r.is(XmlSchemas.XSD, "schema"))) {
            return new Learnt(DocumentLanguage.XSD, samples, List.of());
        }
        XmlElement first = roots.get(0);
        for (XmlElement r : roots) {
            if (!r.is(first.namespace(), first.name())) {
                throw new Refused(
                        "sample.kinds",
                        r.place(),
                        "The samples are of different documents: " + first.name() + " and " + r.name() + ".");
            }
        }
        Observed.Global global = new Observed.Global(new LinkedHashMap<>());
        Observed root = new Observed(Observed.nameOf(first));
        roots.forEach(r -> root.see(r, global, List.of()));
        List<SchemaText> files = XsdText.of(name + ".xsd", root, global);
        return checked(
                DocumentLanguage.XSD,
                files,
                samples.stream().map(SchemaText::text).toList());
    }

    private static SchemaText as(String name, SchemaText s) {
        return new SchemaText(name, s.text());
    }

    /** What was learnt has to fit what it was learnt from; where it does not, that is said. */
    private static Learnt checked(DocumentLanguage language, List<SchemaText> files, List<String> documents) {
        DocumentShape shape = DocumentShape.read(language, files, null);
        List<Problem> notes = new ArrayList<>(shape.notes());
        int number = 0;
        for (String d : documents) {
            number++;
            if (number > MAX_CHECKED || notes.size() >= MAX_NOTES) {
                break;
            }
            int at = number;
            shape.check(d).stream()
                    .limit(1)
                    .map(p -> Problem.warning(
                            "sample.unfit",
                            Place.of("sample " + at),
                            "Sample " + at + " does not fit what was learnt: " + p.text(),
                            p.section(),
                            "Mend the schema by hand."))
                    .forEach(notes::add);
        }
        return new Learnt(language, files, notes);
    }
}
