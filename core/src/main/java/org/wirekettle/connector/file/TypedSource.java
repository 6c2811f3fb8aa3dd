package org.wirekettle.connector.file;

import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Functions;
import org.wirekettle.problem.Show;
import org.wirekettle.record.Node;
import org.wirekettle.shape.ScalarType;

/** A source whose fields are read as the types that somebody has said. Immutable. */
public final class TypedSource implements RecordSource {
    private final RecordSource source;
    private final Map<String, ReadAs> fields = new LinkedHashMap<>();

    /** @throws IllegalArgumentException in words, when a type is none */
    public TypedSource(RecordSource source, List<ReadAs> fields) {
        this.source = source;
        for (ReadAs f : fields) {
            check(f);
            this.fields.put(f.field(), f);
        }
    }

    /** @throws IllegalArgumentException in words, when nothing can be read so */
    public static void check(ReadAs f) {
        if (f.field() == null || f.field().isBlank() || f.type() == null) {
            throw new IllegalArgumentException("Say which field is read as which type.");
        }
        switch (f.type()) {
            case "string", "integer" -> {}
            case "decimal" -> {
                if (f.pattern() != null && !f.pattern().matches("0?[^0-9A-Za-z]0|0[^0-9A-Za-z]000[^0-9A-Za-z]0")) {
                    throw new IllegalArgumentException("A decimal is written as 0,0 or 0.000,0: " + f.pattern()
                            + " does not say which its signs are.");
                }
            }
            case "boolean" -> {
                if (f.pattern() != null && !f.pattern().matches("[^/]+/[^/]+")) {
                    throw new IllegalArgumentException("A truth value is written as yes/no, with the words used.");
                }
            }
            case "date", "dateTime" -> {
                if (f.pattern() != null) {
                    try {
                        Functions.apply("format-date", "2031-04-02T06:11:00", f.pattern());
                    } catch (EvaluationFailed e) {
                        throw new IllegalArgumentException(e.getMessage(), e);
                    }
                }
            }
            default ->
                throw new IllegalArgumentException(
                        "A field is read as string, integer, decimal, boolean, date or dateTime, not as " + f.type()
                                + ".");
        }
    }

    @Override
    public boolean isRepeatable() {
        return source.isRepeatable();
    }

    @Override
    public long count() throws IOException {
        return source.count();
    }

    @Override
    public Stream open() throws IOException {
        Stream in = source.open();
        return new Stream() {
            @Override
            public List<Field> columns() {
                return in.columns();
            }

            @Override
            public Node next() throws IOException {
                Node r = in.next();
                return r == null || BadRecord.reason(r).isPresent() ? r : read(r);
            }

            @Override
            public void close() throws IOException {
                in.close();
            }
        };
    }

    private Node read(Node record) {
        String bad = null;
        for (ReadAs f : fields.values()) {
            String wrong = read(record, f.field().split("/"), 0, f);
            bad = bad == null ? wrong : bad;
        }
        return bad == null ? record : BadRecord.mark(record, bad);
    }

    /** @return what is wrong, or null */
    private static String read(Node in, String[] path, int at, ReadAs f) {
        if (at == path.length) {
            return in.isLeaf() ? convert(in, f) : null;
        }
        String bad = null;
        if (path[at].startsWith("@")) {
            Node a = in.attribute(path[at].substring(1));
            return a == null ? null : convert(a, f);
        }
        for (Node c : in.children()) {
            if (c.name().equals(path[at])) {
                String wrong = read(c, path, at + 1, f);
                bad = bad == null ? wrong : bad;
            }
        }
        return bad;
    }

    private static String convert(Node n, ReadAs f) {
        String value = n.string().strip();
        if (value.isEmpty()) {
            return null;
        }
        try {
            n.text(converted(value, f));
            return null;
        } catch (EvaluationFailed e) {
            return f.field() + ": " + e.getMessage();
        }
    }

    private static String converted(String value, ReadAs f) throws EvaluationFailed {
        switch (f.type()) {
            case "date", "dateTime" -> {
                if (f.pattern() != null) {
                    return Functions.apply(f.type().equals("date") ? "date" : "date-time", value, f.pattern());
                }
            }
            case "decimal" -> {
                if (f.pattern() != null) {
                    int end = f.pattern().length() - 2;
                    String decimalSign = f.pattern().substring(end, end + 1);
                    String grouping = f.pattern().length() > 5 ? f.pattern().substring(1, 2) : null;
                    return Functions.apply("number", value, decimalSign, grouping);
                }
            }
            case "boolean" -> {
                String[] words = f.pattern() == null ? null : f.pattern().split("/", 2);
                String v = value.toLowerCase(Locale.ROOT);
                if (words != null && (v.equalsIgnoreCase(words[0]) || v.equalsIgnoreCase(words[1]))) {
                    return String.valueOf(v.equalsIgnoreCase(words[0]));
                }
                if (words != null) {
                    throw new EvaluationFailed(Show.value(value) + " is neither " + words[0] + " nor " + words[1]);
                }
            }
            default -> {
                // its own form is looked at below
            }
        }
        Optional<String> wrong = ScalarType.builtIn(f.type()).problem(value);
        if (wrong.isPresent()) {
            throw new EvaluationFailed(wrong.get());
        }
        return value;
    }
}
