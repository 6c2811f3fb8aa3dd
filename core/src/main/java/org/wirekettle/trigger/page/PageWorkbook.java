package org.wirekettle.trigger.page;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.file.SheetCells;
import org.wirekettle.trigger.page.PageForm.ShownField;

/** An answer as a workbook: its single values on a first sheet, each of its lists on one of its own. */
final class PageWorkbook {
    private static final int MAX_NAME = 28;
    /** Of a cell; programs that show workbooks take no more. */
    private static final int MAX_CELL_CHARS = 32_767;

    private static final String RESULT = "Result";

    private final Workbook book;
    private final Set<String> names = new LinkedHashSet<>();

    /** A value's place below where one looks, and its heading. */
    private record Column(List<String> path, String label, String type) {}

    private PageWorkbook(Workbook book) {
        this.book = book;
    }

    /**
     * Makes it.
     *
     * @param shown fields of the reply; null where they are not known: then those that are there
     * @throws IOException when there is nothing to be written
     */
    static byte[] of(@Nullable List<ShownField> shown, boolean isList, JsonNode reply) throws IOException {
        if (!reply.isContainerNode()) {
            throw new IOException("there is nothing in the answer for a workbook");
        }
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (Workbook book = new Workbook(out, "WireKettle", "1.0")) {
            PageWorkbook w = new PageWorkbook(book);
            List<ShownField> fields = shown != null ? shown : seen(isList || reply.isArray() ? reply.path(0) : reply);
            if (reply.isArray()) {
                w.table(RESULT, fields, reply);
            } else {
                w.values(fields, reply);
                w.lists(fields, reply);
            }
        }
        return out.toByteArray();
    }

    /** Fields as they are in an answer. */
    private static List<ShownField> seen(JsonNode in) {
        List<ShownField> out = new ArrayList<>();
        in.fields().forEachRemaining(m -> {
            JsonNode first = m.getValue().isArray() ? m.getValue().path(0) : m.getValue();
            boolean isGroup = first.isObject();
            out.add(new ShownField(
                    m.getKey(),
                    m.getKey(),
                    null,
                    isGroup ? "group" : first.isNumber() ? "number" : first.isBoolean() ? "truth" : "text",
                    m.getValue().isArray(),
                    isGroup ? seen(first) : null));
        });
        return out;
    }

    private void values(List<ShownField> fields, JsonNode reply) throws IOException {
        List<Column> columns = columns(fields, List.of(), "");
        if (columns.isEmpty()) {
            return;
        }
        Worksheet on = sheet(RESULT);
        for (int n = 0; n < columns.size(); n++) {
            on.value(n, 0, columns.get(n).label());
            cell(on, n, 1, columns.get(n), reply);
        }
        on.finish();
    }

    private void lists(List<ShownField> fields, JsonNode in) throws IOException {
        for (ShownField f : fields) {
            JsonNode there = in.path(f.name());
            if (f.kind().equals("group") && f.many()) {
                table(f.label(), f.fields() == null ? seen(there.path(0)) : f.fields(), there);
            } else if (f.kind().equals("group") && f.fields() != null) {
                lists(f.fields(), there);
            }
        }
    }

    private void table(String name, List<ShownField> fields, JsonNode rows) throws IOException {
        List<Column> columns = columns(fields, List.of(), "");
        Worksheet on = sheet(name);
        for (int c = 0; c < columns.size(); c++) {
            on.value(0, c, columns.get(c).label());
            on.style(0, c).bold().set();
        }
        on.freezePane(0, 1);
        int at = 1;
        for (JsonNode row : rows) {
            for (int c = 0; c < columns.size(); c++) {
                cell(on, at, c, columns.get(c), row);
            }
            at++;
        }
        on.finish();
    }

    /** Single values, those inside of groups with the name of the group before theirs. */
    private static List<Column> columns(List<ShownField> fields, List<String> at, String around) {
        List<Column> out = new ArrayList<>();
        for (ShownField f : fields) {
            List<String> path = new ArrayList<>(at);
            path.add(f.name());
            if (!f.kind().equals("group")) {
                out.add(new Column(
                        path, around + f.label() + (f.unit() == null ? "" : " (" + f.unit() + ")"), type(f)));
            } else if (!f.many() && f.fields() != null) {
                out.addAll(columns(f.fields(), path, around + f.label() + " "));
            }
        }
        return out;
    }

    private static String type(ShownField f) {
        return switch (f.kind()) {
            case "number", "integer" -> "decimal";
            case "truth" -> "boolean";
            case "date", "dateTime" -> f.kind();
            default -> "string";
        };
    }

    private static void cell(Worksheet on, int row, int column, Column c, JsonNode in) {
        JsonNode value = in;
        for (String name : c.path) {
            value = value.path(name);
        }
        String text = text(value);
        SheetCells.write(
                on,
                row,
                column,
                text.length() > MAX_CELL_CHARS ? text.substring(0, MAX_CELL_CHARS - 1) + "…" : text,
                c.type);
    }

    private static String text(JsonNode value) {
        if (!value.isArray()) {
            return value.isContainerNode() ? value.toString() : value.isNull() ? "" : value.asText("");
        }
        List<String> all = new ArrayList<>();
        value.forEach(v -> all.add(text(v)));
        return String.join(", ", all);
    }

    /** ECMA-376 part 1 §18.2.19: names of sheets are short, differ, and have none of some signs. */
    private Worksheet sheet(String name) {
        String plain = name.replaceAll("[\\\\/*?:\\[\\]']", " ").strip();
        String shortened = plain.isEmpty() ? RESULT : plain.length() > MAX_NAME ? plain.substring(0, MAX_NAME) : plain;
        String free = shortened;
        for (int n = 2; !names.add(free.toLowerCase(java.util.Locale.ROOT)); n++) {
            free = shortened + " " + n;
        }
        return book.newWorksheet(free);
    }
}
