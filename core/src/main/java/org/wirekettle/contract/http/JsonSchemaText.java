package org.wirekettle.contract.http;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.contract.Documents;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.JsonSchemaSource.Found;
import org.wirekettle.shape.JsonShapes;
import org.wirekettle.shape.Shape;

/** A schema of JSON documents (JSON Schema 2020-12) with what it refers to. Read once; then any thread may look. */
public final class JsonSchemaText {
    /** Lists inside of each other around a document. */
    private static final int MAX_LISTS = 20;

    private final ApiDocuments documents;
    private final Found root;
    private final List<Problem> notes;

    private JsonSchemaText(ApiDocuments documents, Found root, List<Problem> notes) {
        this.documents = documents;
        this.root = root;
        this.notes = notes;
    }

    /**
     * @param files all that it may refer to. @param main the one that describes a document
     * @throws Refused with the line, when it is no schema
     */
    public static JsonSchemaText read(Documents files, String main) {
        List<Problem> notes = new ArrayList<>();
        ApiDocuments documents = new ApiDocuments(files, notes);
        Found at = documents.followed(documents.root(main), main);
        if (!at.schema().isObject()) {
            throw new Refused("shape.schema", Place.of(main), "It is no JSON Schema: that is an object.");
        }
        // Of a list each item is a document.
        Found items = at;
        for (int depth = 0; isList(items.schema()); depth++) {
            if (depth >= MAX_LISTS) {
                throw new Refused("shape.schema", Place.of(main), "It describes lists of lists without an end.");
            }
            items = documents.followed(items.schema().get("items"), items.base());
        }
        if (items != at) {
            notes.add(
                    Problem.info("shape.list", Place.of(main), "It describes a list: a document is one of its items."));
        }
        return new JsonSchemaText(documents, items, notes);
    }

    private static boolean isList(JsonNode schema) {
        return schema.path("type").asText().equals("array")
                && schema.path("items").isObject();
    }

    /** @param label of the document */
    public Shape shape(String label) {
        return JsonShapes.ofDocuments(documents)
                .whole(label, root.schema(), root.base())
                .occurs(1, 1)
                .build();
    }

    /** The schema with all that it refers to. */
    public JsonNode whole() {
        return new Bundle(documents, true).of(root.schema(), root.base());
    }

    /** What was wrong, and what was assumed. */
    public List<Problem> notes() {
        return notes;
    }
}
