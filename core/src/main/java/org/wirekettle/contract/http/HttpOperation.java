package org.wirekettle.contract.http;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.HttpTemplate;
import org.wirekettle.contract.HttpTemplate.Answer;
import org.wirekettle.contract.HttpTemplate.Body;
import org.wirekettle.contract.HttpTemplate.Form;
import org.wirekettle.contract.HttpTemplate.In;
import org.wirekettle.contract.HttpTemplate.Style;
import org.wirekettle.contract.JsonCheck;
import org.wirekettle.contract.Operation;
import org.wirekettle.contract.Operation.DeclaredFault;
import org.wirekettle.contract.Operation.Direction;
import org.wirekettle.contract.Operation.Message;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.shape.JsonSchemaSource.Found;
import org.wirekettle.shape.JsonShapes;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.shape.Shape;
import org.wirekettle.xml.FieldNames;

/** Reads one operation of an OpenAPI description (3.1 §4.8.10). Used once. */
final class HttpOperation {
    /** What the call itself, or its connection, says (OpenAPI 3.1 §4.8.12.1). */
    private static final Set<String> NOT_OURS = Set.of("accept", "content-type", "authorization");

    /** It goes into headers: nothing else may stand in it (RFC 9110 §8.3.1). */
    private static final Pattern MEDIA_TYPE = Pattern.compile("[\\w!#$&^.+*-]+/[\\w!#$&^.+*-]+(;[ -~]*)?");

    private static final List<Form> PREFERRED =
            List.of(Form.JSON, Form.FORM, Form.XML, Form.PARTS, Form.TEXT, Form.BYTES);

    private final ApiDocuments documents;
    private final List<Problem> notes;
    private final Place place;

    HttpOperation(ApiDocuments documents, List<Problem> notes, Place place) {
        this.documents = documents;
        this.notes = notes;
        this.place = place;
    }

    Operation read(String name, String method, String path, JsonNode op, String base, List<Found> given) {
        RequestParts values = new RequestParts(path);
        given.forEach(p -> parameter(p, values));
        values.complete()
                .forEach(v ->
                        noted("The path has {" + v + "}, which no parameter says more of.", "It is taken for a text."));
        List<Shape> parts = values.shapes();
        Found request = documents.followed(op.path("requestBody"), base);
        Optional<Content> body = content(request);
        body.ifPresent(c -> parts.add(body(c, request.schema().path("required").asBoolean())));
        JsonCheck check = body.filter(c -> Form.of(c.mediaType) == Form.JSON)
                .map(c -> check(documents, c, true))
                .orElse(null);
        Answers answers = new Answers(documents, op.path("responses"), base);
        HttpTemplate template = new HttpTemplate(
                method.toUpperCase(Locale.ROOT),
                path,
                values.parameters(),
                body.map(c -> new Body(c.mediaType, Form.of(c.mediaType))).orElse(null),
                answers.expected());
        String said = op.path("description").asText(op.path("summary").asText(""));
        return new Operation(
                name,
                said.isBlank() ? null : said.strip(),
                Operation.Style.DOCUMENT,
                Operation.Use.LITERAL,
                Direction.REQUEST_ANSWER,
                "",
                new Message(Shape.record("message", parts), null, check),
                answers.good(),
                answers.faults(),
                "",
                null,
                place,
                template);
    }

    private void parameter(Found given, RequestParts values) {
        JsonNode p = given.schema();
        String label = p.path("name").asText("");
        In in;
        try {
            in = In.valueOf(p.path("in").asText("").toUpperCase(Locale.ROOT));
        } catch (IllegalArgumentException e) {
            if (!p.isMissingNode()) {
                noted(
                        "The parameter " + label + " is in “" + p.path("in").asText() + "”, which is no place.",
                        "Left out.");
            }
            return;
        }
        if (in == In.HEADER && NOT_OURS.contains(label.toLowerCase(Locale.ROOT))) {
            return;
        }
        if (in == In.PATH && !values.isInPath(label)) {
            noted("The path has no {" + label + "}, as its parameter says.", "The parameter is left out.");
            return;
        }
        JsonNode schema = p.path("schema");
        boolean isJson = !p.has("schema") && p.path("content").size() == 1;
        Shape.Builder shape = isJson || !p.has("schema")
                ? RequestParts.text(label)
                : new JsonShapes(documents, false, true).member(label, schema, given.base(), true);
        boolean isRequired = in == In.PATH || p.path("required").asBoolean();
        Shape made = shape.build();
        Shape.Builder out = made.copy().occurs(isRequired ? 1 : 0, made.max());
        if (p.path("description").isTextual()) {
            out.documentation(p.get("description").asText().strip());
        }
        values.add(in, label, style(in, p, made, isJson), out.build());
    }

    private void noted(String what, String assumed) {
        notes.add(Problem.warning("openapi.parameter", place, what, "OpenAPI 3.1 §4.8.12", assumed));
    }

    private static Style style(In in, JsonNode p, Shape shape, boolean isJson) {
        if (isJson) {
            return Style.JSON;
        }
        boolean isQuery = in == In.QUERY || in == In.COOKIE;
        String said = p.path("style").asText(isQuery ? "form" : "simple");
        boolean explodes = p.path("explode").asBoolean(said.equals("form"));
        return switch (said) {
            case "spaceDelimited" -> explodes ? Style.AGAIN : Style.SPACES;
            case "pipeDelimited" -> explodes ? Style.AGAIN : Style.PIPES;
            case "deepObject" -> Style.DEEP;
            default -> isQuery && explodes && shape.isRepeated() ? Style.AGAIN : Style.LISTED;
        };
    }

    private static JsonCheck check(ApiDocuments documents, Content c, boolean isRequest) {
        return new JsonCheck(() -> new Bundle(documents, isRequest).of(c.media.path("schema"), c.base));
    }

    /** One way a message can be written. */
    record Content(String mediaType, JsonNode media, String base) {}

    /** The best of the ways it can be written. */
    static Optional<Content> content(Found of) {
        List<Content> all = new ArrayList<>();
        of.schema().path("content").fields().forEachRemaining(e -> {
            if (MEDIA_TYPE.matcher(e.getKey()).matches()) {
                all.add(new Content(named(e.getKey()), e.getValue(), of.base()));
            }
        });
        return all.stream().min(java.util.Comparator.comparingInt(c -> PREFERRED.indexOf(Form.of(c.mediaType))));
    }

    /** A range of types stands for the one most services mean. */
    private static String named(String mediaType) {
        return mediaType.startsWith("*/*") || mediaType.startsWith("application/*") ? "application/json" : mediaType;
    }

    private Shape body(Content c, boolean isRequired) {
        Form form = Form.of(c.mediaType);
        JsonNode schema = c.media.path("schema");
        Shape.Builder out =
                switch (form) {
                    case JSON, FORM, PARTS ->
                        new JsonShapes(documents, false, true).whole(HttpTemplate.BODY, schema, c.base);
                    case XML -> {
                        Shape root = root(documents, schema, c.base, true);
                        yield Shape.record(HttpTemplate.BODY, List.of(root)).copy();
                    }
                    case TEXT -> Shape.element(HttpTemplate.BODY).scalar(ScalarType.builtIn("string"));
                    case BYTES -> Shape.element(HttpTemplate.BODY).scalar(ScalarType.builtIn("base64Binary"));
                };
        return out.occurs(isRequired ? 1 : 0, 1).build();
    }

    /** The outermost element of a message of XML: named as its schema says (OpenAPI 3.1 §4.8.26). */
    static Shape root(ApiDocuments documents, JsonNode schema, String base, boolean isRequest) {
        Found f = documents.followed(schema, base);
        return new JsonShapes(documents, true, isRequest)
                .whole(f.name() == null ? "root" : f.name(), schema, base)
                .build();
    }

    /** The value of an answer with what is told beside it: its status, and headers. */
    static Shape told(Shape value, List<Shape> headers) {
        List<Shape> attributes = new ArrayList<>();
        attributes.add(Shape.of(Shape.Kind.ATTRIBUTE, HttpTemplate.STATUS)
                .occurs(0, 1)
                .scalar(ScalarType.builtIn("int"))
                .documentation("The status of the answer.")
                .build());
        attributes.addAll(headers);
        return value.copy()
                .children(() -> {
                    List<Shape> all = new ArrayList<>(attributes);
                    all.addAll(value.children());
                    return all;
                })
                .build();
    }

    /** What an operation may answer. */
    private static final class Answers {
        private final ApiDocuments documents;
        private final List<Answer> expected = new ArrayList<>();
        private final List<DeclaredFault> faults = new ArrayList<>();
        private Message good;

        Answers(ApiDocuments documents, JsonNode responses, String base) {
            this.documents = documents;
            boolean hasGood = false;
            for (var all = responses.fields(); all.hasNext(); ) {
                hasGood |= all.next().getKey().startsWith("2");
            }
            for (var all = responses.fields(); all.hasNext(); ) {
                Map.Entry<String, JsonNode> e = all.next();
                if (e.getKey().startsWith("x-")) {
                    continue;
                }
                Found response = documents.followed(e.getValue(), base);
                Content c = content(response).orElse(null);
                String status = e.getKey();
                List<String> headers = new ArrayList<>();
                response.schema().path("headers").fieldNames().forEachRemaining(headers::add);
                expected.add(new Answer(status, c == null ? null : c.mediaType, headers));
                Shape shape = shape(response, c);
                if (status.startsWith("2") || status.equals("default") && !hasGood) {
                    boolean isBetter = good == null || c != null && isEmpty(good);
                    JsonCheck check =
                            c != null && Form.of(c.mediaType) == Form.JSON ? check(documents, c, false) : null;
                    good = isBetter ? new Message(Shape.record("message", List.of(shape)), null, check) : good;
                } else {
                    faults.add(new DeclaredFault("HTTP " + status, shape, false));
                }
            }
            if (good == null) {
                good = new Message(
                        Shape.record("message", List.of(shape(new Found(responses, base, null), null))), null);
            }
        }

        private static boolean isEmpty(Message m) {
            return m.root().children().get(0).name().equals(HttpTemplate.NO_ANSWER);
        }

        private Shape shape(Found response, @Nullable Content c) {
            Shape value;
            if (c == null) {
                value = Shape.record(HttpTemplate.NO_ANSWER, List.of());
            } else {
                JsonNode schema = c.media.path("schema");
                value = switch (Form.of(c.mediaType)) {
                    case JSON ->
                        new JsonShapes(documents, false, false)
                                .whole(HttpTemplate.JSON_ANSWER, schema, c.base)
                                .build();
                    case XML -> root(documents, schema, c.base, false);
                    case TEXT, FORM, PARTS ->
                        Shape.element(HttpTemplate.TEXT_ANSWER)
                                .scalar(ScalarType.builtIn("string"))
                                .build();
                    case BYTES ->
                        Shape.element(HttpTemplate.TEXT_ANSWER)
                                .scalar(ScalarType.builtIn("base64Binary"))
                                .build();
                };
            }
            return told(value, attributes(response));
        }

        /** The headers that are told of. */
        private List<Shape> attributes(Found response) {
            List<Shape> out = new ArrayList<>();
            for (var all = response.schema().path("headers").fields(); all.hasNext(); ) {
                Map.Entry<String, JsonNode> e = all.next();
                Found h = documents.followed(e.getValue(), response.base());
                Shape typed = new JsonShapes(documents, false, false)
                        .member(e.getKey(), h.schema().path("schema"), h.base(), false)
                        .build();
                out.add(Shape.of(Shape.Kind.ATTRIBUTE, FieldNames.name(e.getKey()))
                        .label(e.getKey())
                        .occurs(0, 1)
                        .scalar(typed.scalar() == null ? ScalarType.builtIn("string") : typed.scalar())
                        .documentation(h.schema().path("description").asText(null))
                        .build());
            }
            return out;
        }

        List<Answer> expected() {
            return List.copyOf(expected);
        }

        Message good() {
            return good;
        }

        List<DeclaredFault> faults() {
            return List.copyOf(faults);
        }
    }
}
