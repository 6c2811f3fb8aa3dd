package org.wirekettle.shape;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.List;
import java.util.Optional;

/** Where schemas that others refer to are found. */
public interface JsonSchemaSource {
    /**
     * A schema that has a name.
     *
     * @param base what references in it are relative to
     */
    record Found(JsonNode schema, String base, String name) {}

    /** @return empty when there is none; who gives it has said so */
    Optional<Found> find(String base, String reference);

    /** All schemas of a document that have names, such as those that say what they are kinds of. */
    List<Found> named(String base);
}
