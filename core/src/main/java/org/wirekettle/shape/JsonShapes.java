package org.wirekettle.shape;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.shape.JsonForm.Value;
import org.wirekettle.shape.JsonSchemaSource.Found;
import org.wirekettle.shape.Shape.Kind;
import org.wirekettle.shape.Shape.Variant;
import org.wirekettle.xml.FieldNames;

/**
 * Makes shapes of JSON Schemas (2020-12) with what OpenAPI 3.1 §4.8.24 adds: discriminators, and how they look as XML.
 * A member is an element of its name, an array that element once for each item, an array inside another one elements
 * named {@code item}. Shareable.
 */
public final class JsonShapes {
    /** An extension: the element has a text beside its attributes, which OpenAPI has no word for. */
    public static final String TEXT_TOO = "x-text";

    private static final String ITEM = "item";
    /** The row of members that no schema names. */
    private static final String MORE = "*";

    private static final QualifiedName ANY = new QualifiedName("", "JSON");

    private final JsonSchemaSource source;
    private final boolean isXml;
    /** What a schema says of members that only go the other way; null where there is no other way. */
    private final @Nullable String leftOut;

    /**
     * @param isXml whether the message is written as XML: names and attributes are then as the schemas' {@code xml} has
     *     them
     * @param isRequest whether it is sent to the service: what only its answers have is left out; otherwise the reverse
     */
    public JsonShapes(JsonSchemaSource source, boolean isXml, boolean isRequest) {
        this(source, isXml, isRequest ? "readOnly" : "writeOnly");
    }

    private JsonShapes(JsonSchemaSource source, boolean isXml, @Nullable String leftOut) {
        this.source = source;
        this.isXml = isXml;
        this.leftOut = leftOut;
    }

    /** Of JSON documents that are nobody's request or answer. */
    public static JsonShapes ofDocuments(JsonSchemaSource source) {
        return new JsonShapes(source, false, null);
    }

    /** A value in its place. An array becomes an element with its items inside. */
    public Shape.Builder whole(String label, JsonNode schema, String base) {
        JsonSchemaView v = JsonSchemaView.of(source, schema, base);
        if (v.value() != Value.ARRAY) {
            return content(label, v);
        }
        return element(label, v)
                .json(JsonForm.of(Value.ARRAY))
                .children(() -> List.of(items(ITEM, v, true).build()));
    }

    /** A member of an object, or what is like one: a parameter, a field of a form. */
    public Shape.Builder member(String label, JsonNode schema, String base, boolean isRequired) {
        JsonSchemaView v = JsonSchemaView.of(source, schema, base);
        if (v.value() != Value.ARRAY) {
            return content(label, v).occurs(isRequired ? 1 : 0, 1);
        }
        if (isXml
                && v.part("xml")
                        .map(x -> x.schema().path("wrapped").asBoolean())
                        .orElse(false)) {
            return element(label, v)
                    .occurs(isRequired ? 1 : 0, 1)
                    .children(() -> List.of(items(itemName(v, label), v, true).build()));
        }
        return items(isXml ? itemName(v, label) : label, v, isRequired);
    }

    private String itemName(JsonSchemaView array, String otherwise) {
        return array.part("items")
                .map(i -> JsonSchemaView.of(source, i.schema(), i.base())
                        .get("xml")
                        .map(x -> x.path("name").asText()))
                .flatMap(n -> n)
                .filter(n -> !n.isEmpty())
                .orElse(otherwise);
    }

    /** An array as its items. */
    private Shape.Builder items(String label, JsonSchemaView array, boolean isRequired) {
        Optional<Found> items = array.part("items");
        Shape.Builder out = items.isEmpty()
                ? any(label, array)
                : whole(label, items.get().schema(), items.get().base());
        Shape made = out.build();
        int least = array.get("minItems").map(JsonNode::asInt).orElse(0);
        int most = array.get("maxItems").map(JsonNode::asInt).orElse(Shape.UNBOUNDED);
        Value value = made.json() == null ? Value.ANY : made.json().value();
        return out.occurs(isRequired ? Math.max(0, least) : 0, most == 0 ? 1 : most)
                .documentation(array.text("description") == null ? made.documentation() : array.text("description"))
                .json(new JsonForm(value, true, isRequired));
    }

    private Shape.Builder element(String label, JsonSchemaView v) {
        String named = v.get("xml")
                .map(x -> x.path("name").asText())
                .filter(n -> isXml && !n.isEmpty())
                .orElse(label);
        boolean isAttribute =
                isXml && v.get("xml").map(x -> x.path("attribute").asBoolean()).orElse(false);
        String name = FieldNames.name(named);
        Shape.Builder out = isAttribute ? Shape.of(Kind.ATTRIBUTE, name) : Shape.element(name);
        return out.label(named)
                .namespace(
                        isXml
                                ? v.get("xml")
                                        .map(x -> x.path("namespace").asText())
                                        .orElse("")
                                : "")
                .type(v.name() == null ? null : new QualifiedName("", v.name()))
                .nillable(v.isNullable())
                .documentation(documentation(v));
    }

    private static String documentation(JsonSchemaView v) {
        String said = v.text("description") == null ? v.text("title") : v.text("description");
        String example = v.get("example")
                .or(() -> v.get("examples").map(x -> x.path(0)))
                .filter(JsonNode::isValueNode)
                .map(JsonNode::asText)
                .filter(t -> !t.isBlank())
                .map(t -> "Such as " + t + ".")
                .orElse(null);
        String all = (v.is("deprecated") ? "No longer to be used. " : "")
                + (said == null ? "" : said.strip() + " ")
                + (example == null ? "" : example);
        return all.isBlank() ? null : all.strip();
    }

    private Shape.Builder any(String label, JsonSchemaView v) {
        return element(label, v)
                .type(v.name() == null ? ANY : new QualifiedName("", v.name()))
                .scalar(ScalarType.builtIn("string"))
                .json(JsonForm.of(Value.ANY));
    }

    private Shape.Builder content(String label, JsonSchemaView v) {
        Value value = v.value();
        return switch (value) {
            case OBJECT -> object(label, v);
            case TEXT, NUMBER, TRUTH -> {
                Shape.Builder out = element(label, v)
                        .json(JsonForm.of(value))
                        .scalar(v.kinds().isEmpty() ? JsonScalars.of(v, value) : either(v, value));
                yield out.fixed(v.text("const")).defaultValue(v.text("default"));
            }
            default -> any(label, v);
        };
    }

    /** Of several types the first when they are the same, otherwise that of all of them. */
    private ScalarType either(JsonSchemaView v, Value value) {
        List<ScalarType> all = v.kinds().stream()
                .map(k -> JsonScalars.of(JsonSchemaView.of(source, k.schema(), k.base()), value))
                .toList();
        String base = all.get(0).base();
        boolean isSame = all.stream()
                .allMatch(t ->
                        t.base().equals(base) && t.limits().equals(all.get(0).limits()));
        return isSame
                ? all.get(0)
                : ScalarType.builtIn(value == Value.NUMBER ? "decimal" : value == Value.TRUTH ? "boolean" : "string");
    }

    private Shape.Builder object(String label, JsonSchemaView v) {
        Shape.Builder out = element(label, v).json(JsonForm.of(Value.OBJECT));
        if (isXml && v.is(TEXT_TOO)) {
            out.scalar(ScalarType.builtIn("string"));
        }
        if (!v.kinds().isEmpty()) {
            return out.isAbstract(true).children(() -> members(v, Map.of())).variants(() -> kinds(label, v, v.kinds()));
        }
        return out.children(() -> members(v, Map.of())).variants(() -> kinds(label, v, derived(v)));
    }

    /** Schemas that have this one, which tells its kinds apart, among all that must hold (OpenAPI 3.1 §4.8.25). */
    private List<Found> derived(JsonSchemaView v) {
        Optional<Found> discriminator = v.part("discriminator");
        if (discriminator.isEmpty() || v.name() == null) {
            return List.of();
        }
        List<Found> out = new ArrayList<>();
        for (Found f : source.named(discriminator.get().base())) {
            for (JsonNode a : f.schema().path("allOf")) {
                String ref = a.path("$ref").asText();
                if (ref.endsWith("/" + v.name()) && !f.name().equals(v.name())) {
                    out.add(f);
                }
            }
        }
        return out;
    }

    private List<Variant> kinds(String label, JsonSchemaView of, List<Found> branches) {
        JsonNode discriminator = of.get("discriminator").orElse(null);
        List<Variant> out = new ArrayList<>();
        for (Found b : branches) {
            JsonSchemaView own = JsonSchemaView.of(source, b.schema(), b.base());
            String name = b.name() != null
                    ? b.name()
                    : own.name() != null
                            ? own.name()
                            : own.text("title") != null ? own.text("title") : "kind " + (out.size() + 1);
            Map<String, String> fixed = discriminator == null
                    ? Map.of()
                    : Map.of(discriminator.path("propertyName").asText(), said(discriminator, name));
            out.add(new Variant(
                    new QualifiedName("", FieldNames.name(name)), false, () -> own.text("description"), () -> element(
                                    label, own)
                            .type(new QualifiedName("", FieldNames.name(name)))
                            .json(JsonForm.of(Value.OBJECT))
                            .children(() -> members(own, fixed))
                            .build()));
        }
        return out;
    }

    /** What the discriminating member says for a kind: its name, or what is mapped to it. */
    private static String said(JsonNode discriminator, String name) {
        var all = discriminator.path("mapping").fields();
        while (all.hasNext()) {
            var e = all.next();
            String to = e.getValue().asText();
            if (to.equals(name) || to.endsWith("/" + name)) {
                return e.getKey();
            }
        }
        return name;
    }

    /** @param fixed members whose value is known by what kind of object it is */
    private List<Shape> members(JsonSchemaView v, Map<String, String> fixed) {
        Set<String> required = v.required();
        List<Shape> attributes = new ArrayList<>();
        List<Shape> out = new ArrayList<>();
        v.properties().forEach((label, p) -> {
            JsonSchemaView own = JsonSchemaView.of(source, p.schema(), p.base());
            if (leftOut != null && own.is(leftOut)) {
                return;
            }
            String value = fixed.get(label);
            Shape s = value == null
                    ? member(label, p.schema(), p.base(), required.contains(label))
                            .build()
                    : element(label, own)
                            .json(JsonForm.of(Value.TEXT))
                            .scalar(ScalarType.builtIn("string"))
                            .fixed(value)
                            .build();
            (s.kind() == Kind.ATTRIBUTE ? attributes : out).add(s);
        });
        if (v.hasMore() && !isXml) {
            out.add(Shape.element(FieldNames.name(MORE))
                    .label(MORE)
                    .occurs(0, 1)
                    .type(ANY)
                    .scalar(ScalarType.builtIn("string"))
                    .documentation("Further members, as the text of a JSON object.")
                    .json(JsonForm.of(Value.MEMBERS))
                    .build());
        }
        attributes.addAll(out);
        return attributes;
    }
}
