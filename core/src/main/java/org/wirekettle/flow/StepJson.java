package org.wirekettle.flow;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.databind.DeserializationContext;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.SerializerProvider;
import com.fasterxml.jackson.databind.deser.std.StdDeserializer;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.databind.ser.std.StdSerializer;
import java.io.IOException;
import java.util.Iterator;
import java.util.Map;

/** A step as one JSON object: its own fields beside those of its kind. */
final class StepJson {
    private static final String ID = "id";
    private static final String OFF = "off";

    private StepJson() {}

    /** Takes the step's own fields out; the rest is the kind's. */
    static final class Reader extends StdDeserializer<Step> {
        private static final long serialVersionUID = 1;

        Reader() {
            super(Step.class);
        }

        @Override
        public Step deserialize(JsonParser in, DeserializationContext context) throws IOException {
            JsonNode read = context.readTree(in);
            if (!(read instanceof ObjectNode step)) {
                return context.reportInputMismatch(this, "a step is an object");
            }
            JsonNode id = step.remove(ID);
            JsonNode off = step.remove(OFF);
            StepKind kind = context.readTreeAsValue(step, StepKind.class);
            return new Step(id == null || id.isNull() ? null : id.asText(), off != null && off.asBoolean(), kind);
        }
    }

    /** Writes {@code off} only where it is. */
    static final class Writer extends StdSerializer<Step> {
        private static final long serialVersionUID = 1;

        Writer() {
            super(Step.class);
        }

        @Override
        public void serialize(Step step, JsonGenerator out, SerializerProvider provider) throws IOException {
            out.writeStartObject();
            provider.defaultSerializeField(ID, step.id(), out);
            provider.defaultSerializeField("kind", step.kindName(), out);
            if (step.off()) {
                out.writeBooleanField(OFF, true);
            }
            ObjectNode kind = ((com.fasterxml.jackson.databind.ObjectMapper) out.getCodec()).valueToTree(step.kind());
            kind.remove("kind");
            for (Iterator<Map.Entry<String, JsonNode>> f = kind.fields(); f.hasNext(); ) {
                Map.Entry<String, JsonNode> field = f.next();
                out.writeFieldName(field.getKey());
                out.writeTree(field.getValue());
            }
            out.writeEndObject();
        }
    }
}
