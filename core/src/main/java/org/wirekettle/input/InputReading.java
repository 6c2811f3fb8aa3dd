package org.wirekettle.input;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import javax.xml.stream.XMLStreamException;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Scope;
import org.wirekettle.input.Inputs.One;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.JsonTree;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.ValueKind;
import org.wirekettle.xml.FieldNames;

/**
 * Reads what one request gives, from wherever it comes, and finds all that does not fit instead of the first. Used once
 * by one thread.
 */
public final class InputReading {
    /** Of one request; more are not listed. */
    public static final int MAX_PROBLEMS = 50;

    private static final int MAX_VALUES = 200_000;

    private final Map<String, One> inputs;
    private final Map<String, List<Node>> given = new HashMap<>();
    private final List<InputProblem> problems = new ArrayList<>();
    private int values;

    InputReading(Inputs inputs) {
        this.inputs = inputs.byName();
    }

    /**
     * What came of it.
     *
     * @param record what the flow works on; of no use where there are problems
     */
    public record Result(Node record, List<InputProblem> problems) {}

    /** Something does not fit that is no input's value. */
    public void problem(String at, String text) {
        note(InputProblem.of(at, text));
    }

    private void note(InputProblem p) {
        if (problems.size() < MAX_PROBLEMS) {
            problems.add(p);
        }
    }

    /**
     * Values that come as text, such as those of a path or a query.
     *
     * @param at where they stand, such as {@code query port}
     */
    public void texts(String input, String at, List<String> values) {
        One one = inputs.get(input);
        if (one == null) {
            note(InputProblem.of(at, "is no input of this flow"));
            return;
        }
        if (values.size() > 1 && !one.input().isMany()) {
            note(InputProblem.of(at, "is there " + values.size() + " times, and may be there once"));
            return;
        }
        List<Node> out = given.computeIfAbsent(input, k -> new ArrayList<>(1));
        for (String v : values) {
            if (one.type() == null) {
                json(one, at, v, out);
            } else {
                out.add(leaf(one, at, v));
            }
        }
    }

    /** A value with others inside is JSON where only a text can be. */
    private void json(One one, String at, String text, List<Node> out) {
        try (JsonParser in =
                JsonTree.parser(new ByteArrayInputStream(text.getBytes(java.nio.charset.StandardCharsets.UTF_8)))) {
            in.nextToken();
            Node read = item(in, one, at);
            if (read != null) {
                out.add(read);
            }
        } catch (IOException e) {
            note(InputProblem.of(at, text, "is no JSON"));
        }
    }

    private Node leaf(One one, String at, String text) {
        one.type().problem(text).ifPresent(why -> note(InputProblem.of(at, text, why)));
        return Node.leaf(one.element(), text);
    }

    /**
     * A body of JSON (RFC 8259): an object with a member for each input.
     *
     * @param elsewhere inputs that come from somewhere else, and not from here
     */
    public void json(byte[] body, Set<String> elsewhere) {
        try (JsonParser in = JsonTree.parser(new ByteArrayInputStream(body))) {
            if (in.nextToken() != JsonToken.START_OBJECT) {
                note(InputProblem.of("", in.currentToken() == null ? "there is no body" : "is no JSON object"));
                return;
            }
            members(in, inputs, elsewhere, "", given);
            if (in.nextToken() != null) {
                note(InputProblem.of("", "there is something after the end of the JSON"));
            }
        } catch (JsonProcessingException e) {
            note(InputProblem.of("", "is no JSON: " + JsonTree.words(e)));
        } catch (IOException e) {
            note(InputProblem.of("", "cannot be read: " + e.getMessage()));
        }
    }

    /** @param elsewhere members that there may not be */
    private void members(
            JsonParser in, Map<String, One> of, Set<String> elsewhere, String at, Map<String, List<Node>> into)
            throws IOException {
        Set<String> seen = new java.util.HashSet<>();
        while (in.nextToken() != JsonToken.END_OBJECT) {
            String name = in.currentName();
            String there = at + "/" + name.replace("~", "~0").replace("/", "~1");
            in.nextToken();
            One one = of.get(name);
            if (one == null || elsewhere.contains(name)) {
                note(InputProblem.of(there, "is not known here" + known(of, elsewhere)));
                in.skipChildren();
            } else if (!seen.add(name)) {
                note(InputProblem.of(there, "is there twice"));
                in.skipChildren();
            } else if (in.currentToken() != JsonToken.VALUE_NULL) {
                into.put(name, values(in, one, there));
            }
        }
    }

    private static String known(Map<String, One> of, Set<String> elsewhere) {
        List<String> names = of.keySet().stream()
                .filter(n -> !elsewhere.contains(n))
                .limit(12)
                .toList();
        return names.isEmpty() ? "" : "; there are " + String.join(", ", names);
    }

    private List<Node> values(JsonParser in, One one, String at) throws IOException {
        List<Node> out = new ArrayList<>(1);
        if (one.input().isMany() && in.currentToken() == JsonToken.START_ARRAY) {
            for (int n = 0; in.nextToken() != JsonToken.END_ARRAY; n++) {
                add(item(in, one, at + "/" + n), out);
            }
        } else if (one.input().isMany()) {
            note(InputProblem.of(at, "is no list"));
            in.skipChildren();
        } else {
            add(item(in, one, at), out);
        }
        return out;
    }

    private static void add(Node read, List<Node> to) {
        if (read != null) {
            to.add(read);
        }
    }

    /** @return null after noting why it does not fit */
    private Node item(JsonParser in, One one, String at) throws IOException {
        if (++values > MAX_VALUES) {
            throw new IOException("it has more than " + MAX_VALUES + " values");
        }
        if (one.isJson()) {
            return Node.leaf(one.element(), Copied.text(in));
        }
        if (one.type() != null) {
            return scalar(in, one, at);
        }
        if (in.currentToken() != JsonToken.START_OBJECT) {
            note(InputProblem.of(at, "is no object"));
            in.skipChildren();
            return null;
        }
        if (one.inside() == null) {
            try {
                return JsonTree.value(in, one.element(), MAX_VALUES);
            } catch (JsonTree.Unreadable e) {
                throw new IOException(e.getMessage(), e);
            }
        }
        Map<String, List<Node>> inside = new HashMap<>();
        members(in, one.inside(), Set.of(), at, inside);
        Node out = new Node("", one.element());
        complete(one.inside(), inside, at, null, out);
        return out;
    }

    private Node scalar(JsonParser in, One one, String at) throws IOException {
        JsonToken t = in.currentToken();
        ValueKind kind = ValueKind.of(one.input().typeName());
        boolean isNumber = kind == ValueKind.NUMBER;
        boolean isTruth = kind == ValueKind.TRUTH;
        boolean fits = isNumber
                ? t.isNumeric() || t == JsonToken.VALUE_STRING && isNoNumber(in.getText())
                : isTruth ? t.isBoolean() : t == JsonToken.VALUE_STRING;
        if (!fits) {
            boolean isValue = t.isScalarValue() && t != JsonToken.VALUE_NULL;
            note(new InputProblem(
                    at,
                    isValue ? in.getText() : null,
                    isTruth ? "is not true or false" : isNumber ? "is no number" : "is no text"));
            in.skipChildren();
            return null;
        }
        return leaf(one, at, in.getText());
    }

    /** What is no number in JSON (RFC 8259 §6), but is one in XSD part 2 §3.2.4. */
    private static boolean isNoNumber(String text) {
        return text.equals("NaN") || text.equals("INF") || text.equals("-INF");
    }

    /**
     * A body of XML: whatever its root is, with an element for each input.
     *
     * @param elsewhere inputs that come from somewhere else, and not from here
     */
    public void xml(byte[] body, Set<String> elsewhere) {
        try {
            Node root = NodeXml.read(body);
            for (Node c : root.children()) {
                if (elsewhere.contains(c.name())) {
                    problem("/" + c.name(), "does not come from the body");
                    return;
                }
            }
            tree(root);
        } catch (XMLStreamException | Refused e) {
            problem("body", "is no XML: " + e.getMessage().replaceAll("\\s*\\n.*", ""));
        }
    }

    /** A tree of values with the names of inputs, such as a record that was mended by hand. */
    public void tree(Node record) {
        tree(record, inputs, "", given);
    }

    private void tree(Node from, Map<String, One> of, String at, Map<String, List<Node>> into) {
        for (Node c : from.children()) {
            String name = FieldNames.label(c.name());
            String there = at + "/" + name;
            One one = of.get(name);
            if (one == null) {
                note(InputProblem.of(there, "is not known here" + known(of, Set.of())));
                continue;
            }
            if (c.isNil()) {
                // As null in JSON: not given (XSD part 1 §2.6.2).
                continue;
            }
            List<Node> all = into.computeIfAbsent(name, k -> new ArrayList<>(1));
            String place = one.input().isMany() ? there + "/" + all.size() : there;
            if (!all.isEmpty() && !one.input().isMany()) {
                note(InputProblem.of(there, "is there twice"));
            } else if (one.inside() != null) {
                Map<String, List<Node>> inside = new HashMap<>();
                tree(c, one.inside(), place, inside);
                Node out = new Node("", one.element());
                complete(one.inside(), inside, place, null, out);
                all.add(out);
            } else {
                all.add(one.type() == null ? c.copy(one.element()) : leaf(one, place, c.string()));
            }
        }
    }

    /**
     * Puts all together, with what is otherwise taken for what was not given.
     *
     * @param now what expressions take for the time
     */
    public Result finish(Instant now, long seed) {
        Node record = new Node("", "record");
        complete(inputs, given, "", Scope.of(record, now, seed), record);
        return new Result(record, List.copyOf(problems));
    }

    /** What was given as far as it fits, without what would be otherwise. */
    public Result given() {
        Node record = new Node("", "record");
        inputs.keySet().forEach(n -> given.getOrDefault(n, List.of()).forEach(record::add));
        return new Result(record, List.copyOf(problems));
    }

    /** In the order of the inputs. @param scope null inside of others, where nothing is otherwise taken */
    private void complete(Map<String, One> of, Map<String, List<Node>> from, String at, Scope scope, Node into) {
        for (One one : of.values()) {
            List<Node> all = from.getOrDefault(one.input().name(), List.of());
            all.forEach(into::add);
            if (!all.isEmpty() || from.containsKey(one.input().name())) {
                continue;
            }
            if (one.otherwise() != null && scope != null) {
                otherwise(one, at, scope, into);
            } else if (one.input().isRequired()) {
                note(InputProblem.of(at + "/" + one.input().name(), "is missing"));
            }
        }
    }

    private void otherwise(One one, String at, Scope scope, Node into) {
        try {
            String value = one.otherwise().string(scope);
            if (value != null) {
                into.add(one.type() == null ? Node.leaf(one.element(), value) : leaf(one, at, value));
            }
        } catch (EvaluationFailed e) {
            note(InputProblem.of(at + "/" + one.input().name(), "is missing, and cannot be made: " + e.getMessage()));
        }
    }
}
