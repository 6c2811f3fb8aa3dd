package org.wirekettle.connector.file;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.util.MinimalPrettyPrinter;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/**
 * Rows as JSON values (RFC 8259): the items of an array, or one a line. What a field is, a number, a truth value, a
 * list, its definition says; where that is not known it is a text, and a list when it is there more than once.
 */
public final class JsonRows implements RowFormat {
    private static final JsonFactory JSON = new JsonFactory();
    /** RFC 8259 §6. */
    private static final Pattern NUMBER = Pattern.compile("-?(0|[1-9]\\d*)(\\.\\d+)?([eE][+-]?\\d+)?");
    /** Of a file's end, in which the array's is looked for. */
    private static final int LOOKED_BACK = 4_096;

    private final Map<String, Field> fields;
    private final boolean isLines;

    /** @param isLines a value a line, instead of an array */
    public JsonRows(List<Field> fields, boolean isLines) {
        this.fields = byName(fields);
        this.isLines = isLines;
    }

    private static Map<String, Field> byName(List<Field> fields) {
        Map<String, Field> out = new HashMap<>();
        if (fields != null) {
            fields.forEach(f -> out.putIfAbsent(f.name(), f));
        }
        return out;
    }

    @Override
    public byte[] head() {
        return isLines ? new byte[0] : ascii("[\n");
    }

    @Override
    public byte[] tail() {
        return isLines ? new byte[0] : ascii("\n]\n");
    }

    private static byte[] ascii(String s) {
        return s.getBytes(StandardCharsets.US_ASCII);
    }

    @Override
    public byte[] rows(List<Node> rows, boolean isFirst) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (JsonGenerator json = JSON.createGenerator(out)) {
            json.setPrettyPrinter(new MinimalPrettyPrinter(""));
            boolean first = isFirst;
            for (Node r : rows) {
                if (!isLines && !first) {
                    json.flush();
                    out.writeBytes(ascii(",\n"));
                }
                first = false;
                object(json, r, fields);
                if (isLines) {
                    json.flush();
                    out.write('\n');
                }
            }
        } catch (IOException e) {
            throw new UncheckedIOException("memory takes all that is written", e);
        }
        return out.toByteArray();
    }

    private static void object(JsonGenerator json, Node n, Map<String, Field> fields) throws IOException {
        json.writeStartObject();
        for (Node a : n.attributes()) {
            if (!BadRecord.isReason(a) && !a.name().equals("nil")) {
                json.writeFieldName("@" + a.name());
                json.writeString(a.string());
            }
        }
        Map<String, List<Node>> members = new LinkedHashMap<>();
        n.children().forEach(c -> members.computeIfAbsent(c.name(), k -> new ArrayList<>(1))
                .add(c));
        for (Map.Entry<String, List<Node>> m : members.entrySet()) {
            Field f = fields.get(m.getKey());
            json.writeFieldName(f == null ? FieldNames.label(m.getKey()) : f.label());
            List<Node> all = m.getValue();
            boolean isList = all.size() > 1 || f != null && Field.isMany(f);
            if (isList) {
                json.writeStartArray();
            }
            for (Node c : all) {
                value(json, c, f);
            }
            if (isList) {
                json.writeEndArray();
            }
        }
        if (n.isMixed()
                || n.isLeaf() && !n.attributes().isEmpty() && !n.string().isEmpty()) {
            json.writeFieldName("text");
            json.writeString(n.string());
        }
        json.writeEndObject();
    }

    private static void value(JsonGenerator json, Node n, Field f) throws IOException {
        if (n.isNil()) {
            json.writeNull();
        } else if (!n.isLeaf() || !n.attributes().isEmpty()) {
            object(json, n, f == null ? Map.of() : byName(f.fields()));
        } else if (f != null && Field.NESTED.equals(f.type()) && n.string().isEmpty()) {
            object(json, n, Map.of());
        } else {
            scalar(json, n.string(), f == null ? "string" : f.type());
        }
    }

    /** A value that is not what its type says is written as the text it is: nothing is lost. */
    private static void scalar(JsonGenerator json, String text, String type) throws IOException {
        String t = text.strip();
        switch (type) {
            case "integer", "decimal", "double", "float", "int", "long", "short" -> {
                if (NUMBER.matcher(t).matches()) {
                    json.writeNumber(t);
                    return;
                }
                if (t.isEmpty()) {
                    json.writeNull();
                    return;
                }
            }
            case "boolean" -> {
                if (t.equals("true") || t.equals("false") || t.equals("1") || t.equals("0")) {
                    json.writeBoolean(t.equals("true") || t.equals("1"));
                    return;
                }
                if (t.isEmpty()) {
                    json.writeNull();
                    return;
                }
            }
            case Field.JSON -> {
                if (isJson(t)) {
                    json.writeRawValue(t);
                    return;
                }
            }
            default -> {
                // a text
            }
        }
        json.writeString(text);
    }

    /** A line break inside would end a row of JSON lines: such a text is written as one. */
    private static boolean isJson(String text) {
        if (text.isEmpty() || text.indexOf('\n') >= 0 || text.indexOf('\r') >= 0) {
            return false;
        }
        try (JsonParser in = JSON.createParser(text)) {
            in.nextToken();
            in.skipChildren();
            return in.nextToken() == null;
        } catch (IOException e) {
            return false;
        }
    }

    @Override
    public boolean isFirst(FileBytes file, long offset) throws IOException {
        int length = (int) Math.min(LOOKED_BACK, offset);
        String before = new String(file.read(offset - length, length), StandardCharsets.ISO_8859_1).strip();
        return before.isEmpty() || before.endsWith("[");
    }

    /** A list that is there goes on where it ends. */
    @Override
    public void reopen(Path there, Path underWay) throws IOException {
        RowFormat.copy(there, underWay);
        if (isLines) {
            return;
        }
        boolean isArray = FileEnd.cut(underWay, "]");
        if (!isArray) {
            throw new IOException("the file " + there.getFileName() + " is no JSON array that could be added to");
        }
    }

    @Override
    public Optional<String> problem(Path file) throws IOException {
        if (Files.notExists(file) || Files.size(file) == 0) {
            return Optional.empty();
        }
        FileKind kind = FileKind.of(file);
        boolean fits = isLines ? kind == FileKind.JSON_LINES || kind == FileKind.JSON : kind == FileKind.JSON;
        return fits
                ? Optional.empty()
                : Optional.of("The file " + file.getFileName() + " is " + kind.words() + ", to which no "
                        + (isLines ? "lines of JSON" : "items of a list") + " can be added.");
    }
}
