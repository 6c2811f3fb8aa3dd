package org.wirekettle.server.runs;

import de.siegmar.fastcsv.writer.CsvWriter;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.transaction.Transactional;
import java.io.IOException;
import java.io.InputStream;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.CsvFormat;
import org.wirekettle.connector.file.CsvSource;
import org.wirekettle.flow.Paths;
import org.wirekettle.problem.Show;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.xml.FieldNames;

/** Mends waiting records, one or many at once: by hand, by replacing a value in all of them, or from a CSV file. */
@ApplicationScoped
public class TrayEdits {
    private static final int PAGE = 1_000;
    private static final int MAX_CHARS = 10_000;
    private static final long MAX_VALUE_CHARS = 10_000_000;
    private static final int MAX_CSV_BYTES = 32 * 1024 * 1024;
    private static final int MAX_SAID = 5;
    /** No field's name has a blank in it. */
    private static final String NUMBER = "record number";

    private static final List<String> ABOUT = List.of(NUMBER, "failed step", "reason code", "reason text");

    private final RunMapper rows;
    private final Home home;

    TrayEdits(RunMapper rows, Home home) {
        this.rows = rows;
        this.home = home;
    }

    /**
     * A value to be replaced in all records that wait.
     *
     * @param code of the reason for which they wait; null for all
     * @param step that set them aside; null for all
     * @param find what stands there; empty for fields without a value
     * @param isWhole whether it is the whole value; otherwise each place where it occurs
     */
    public record Replace(
            @Nullable String code, @Nullable String step, String field, String find, String with, Boolean isWhole) {}

    /**
     * @param mended records that were changed
     * @param notWaiting records that are named, but do not wait
     */
    public record Mended(int mended, int notWaiting) {}

    /** Changes fields of a waiting record; it stays known what was read. */
    @Transactional
    void mend(long run, long number, Map<String, String> fields) {
        RunMapper.AsideRow a = rows.lockAside(run, number);
        if (a == null) {
            throw Wrong.notFound("waiting record", number);
        }
        Node record = RunRecords.record(a.record);
        fields.forEach((name, value) -> {
            Node field = record.child(name);
            if (field == null) {
                throw Wrong.input("run.mend", "The record has no field " + name + ".");
            }
            field.text(value == null ? "" : value);
        });
        rows.mend(run, number, NodeXml.write(record));
    }

    @Transactional
    Mended replace(long run, Replace in) {
        checked(in);
        int[] mended = {0};
        boolean[] isThere = {false};
        each(run, in.code(), in.step(), a -> {
            Node record = RunRecords.record(a.record);
            isThere[0] |= record.child(in.field()) != null;
            mended[0] += isReplaced(record, in) ? replace(run, a.number, in) : 0;
        });
        if (!isThere[0]) {
            throw Wrong.input("run.replace", "None of the waiting records has a field " + in.field() + ".");
        }
        return new Mended(mended[0], 0);
    }

    /** Looks again once nobody else can change the record. */
    private int replace(long run, long number, Replace in) {
        RunMapper.AsideRow now = rows.lockAside(run, number);
        Node record = now == null ? null : RunRecords.record(now.record);
        return record != null && isReplaced(record, in) ? rows.mend(run, number, NodeXml.write(record)) : 0;
    }

    /** @return whether the record is another one now */
    private static boolean isReplaced(Node record, Replace in) {
        Node field = record.child(in.field());
        String after = field == null || !field.isLeaf() ? null : replaced(field.string(), in);
        if (after != null) {
            field.text(after);
        }
        return after != null;
    }

    private static void checked(Replace in) {
        if (in.field() == null || in.find() == null || in.with() == null) {
            throw Wrong.input("run.replace", "Say the field, what to find in it and what to write instead.");
        }
        if (in.find().length() > MAX_CHARS || in.with().length() > MAX_CHARS) {
            throw Wrong.input("run.replace", "Texts to be replaced have at most " + MAX_CHARS + " characters.");
        }
    }

    /** @return null when it stays as it is */
    private static String replaced(String value, Replace in) {
        boolean isWhole = Boolean.TRUE.equals(in.isWhole()) || in.find().isEmpty();
        // Each place needs a character at least; a long text in each could fill the memory.
        if (!isWhole && (long) value.length() / in.find().length() * in.with().length() > MAX_VALUE_CHARS) {
            throw Wrong.input(
                    "run.replace",
                    "A value could get longer than " + MAX_VALUE_CHARS + " characters, the limit here. Find a longer"
                            + " text, or replace the whole value.");
        }
        String after = isWhole
                ? (in.find().isEmpty() ? value.isBlank() : value.equals(in.find())) ? in.with() : value
                : value.replace(in.find(), in.with());
        return after.equals(value) ? null : after;
    }

    /** In the order of their numbers. */
    private void each(long run, String code, String step, Consumer<RunMapper.AsideRow> visitor) {
        for (int offset = 0; ; offset += PAGE) {
            List<RunMapper.AsideRow> page = rows.asides(run, code, PAGE, offset);
            page.stream()
                    .filter(a -> step == null || step.equals(Paths.step(a.path)))
                    .forEach(visitor);
            if (page.size() < PAGE) {
                return;
            }
        }
    }

    /** All that wait, with a column for each field; what is nested is left out. */
    String csv(long run, String code, String step) {
        Set<String> fields = new LinkedHashSet<>();
        each(
                run,
                code,
                step,
                a -> fields.addAll(RunRecords.flat(RunRecords.record(a.record)).keySet()));
        StringWriter text = new StringWriter();
        CsvWriter out = CsvWriter.builder().build(text);
        List<String> header = new ArrayList<>(ABOUT);
        header.addAll(fields);
        out.writeRecord(header);
        each(run, code, step, a -> {
            Map<String, String> values = RunRecords.flat(RunRecords.record(a.record));
            List<String> line = new ArrayList<>(List.of(
                    Long.toString(a.number),
                    Paths.step(a.path),
                    a.code == null ? "" : a.code,
                    a.reason == null ? "" : a.reason));
            fields.forEach(f -> line.add(values.getOrDefault(f, "")));
            out.writeRecord(line);
        });
        return text.toString();
    }

    /** Mends records from such a file: all that are named in it and wait, or none when something in it is wrong. */
    @Transactional
    Mended mendFrom(long run, InputStream csv) throws IOException {
        Path file = Files.createTempFile(home.uploads(), "tray", ".part");
        try {
            byte[] bytes = csv.readNBytes(MAX_CSV_BYTES + 1);
            if (bytes.length == 0 || bytes.length > MAX_CSV_BYTES) {
                throw Wrong.input(
                        "run.csv",
                        bytes.length == 0
                                ? "The file is empty."
                                : "The file is longer than " + MAX_CSV_BYTES / 1024 / 1024 + " MB, the limit here.");
            }
            Files.write(file, bytes);
            CsvFormat f = CsvFormat.recognise(file);
            return mendFrom(run, new CsvSource(file, new CsvFormat(f.delimiter(), f.quote(), f.encoding(), true)));
        } catch (IOException e) {
            throw Wrong.input("run.csv", "The file cannot be read: " + e.getMessage());
        } finally {
            Files.delete(file);
        }
    }

    private Mended mendFrom(long run, CsvSource source) throws IOException {
        Map<String, String> fieldOf = fieldsByColumn(run);
        int mended = 0;
        int notWaiting = 0;
        try (RecordSource.Stream lines = source.open()) {
            Node line;
            for (int at = 2; (line = lines.next()) != null; at++) {
                RunMapper.AsideRow a = rows.lockAside(run, number(line, at));
                if (a == null) {
                    notWaiting++;
                } else {
                    mended += mendFrom(run, a, line, fieldOf, at);
                }
            }
        }
        return new Mended(mended, notWaiting);
    }

    /** As a reader of CSV names the columns. */
    private Map<String, String> fieldsByColumn(long run) {
        Map<String, String> out = new LinkedHashMap<>();
        each(run, null, null, a -> RunRecords.flat(RunRecords.record(a.record))
                .keySet()
                .forEach(f -> out.put(FieldNames.name(f), f)));
        ABOUT.forEach(a -> out.put(FieldNames.name(a), NUMBER));
        return out;
    }

    private static long number(Node line, int at) {
        Node cell = line.child(FieldNames.name(NUMBER));
        if (cell == null) {
            throw Wrong.input(
                    "run.csv",
                    "Line " + at + " has no number: the column “" + NUMBER + "” says which record a line is of.");
        }
        try {
            return Long.parseLong(cell.string().strip());
        } catch (NumberFormatException e) {
            throw Wrong.input("run.csv", "Line " + at + ": " + Show.value(cell.string()) + " is no record's number.");
        }
    }

    private int mendFrom(long run, RunMapper.AsideRow a, Node line, Map<String, String> fieldOf, int at) {
        Node record = RunRecords.record(a.record);
        boolean isChanged = false;
        for (Node cell : line.children()) {
            String name = fieldOf.get(cell.name());
            if (NUMBER.equals(name)) {
                continue;
            }
            Node field = name == null ? null : record.child(name);
            if (field == null || !field.isLeaf()) {
                // The column of another record's field.
                if (name == null || !cell.string().isEmpty()) {
                    throw Wrong.input(
                            "run.csv",
                            "Line " + at + ": record " + a.number + " has no field " + cell.name() + "; it has "
                                    + some(RunRecords.flat(record).keySet()) + ".");
                }
            } else if (!field.string().equals(cell.string())) {
                field.text(cell.string());
                isChanged = true;
            }
        }
        return isChanged ? rows.mend(run, a.number, NodeXml.write(record)) : 0;
    }

    private static String some(Set<String> names) {
        List<String> first = names.stream().limit(MAX_SAID).toList();
        return String.join(", ", first) + (names.size() > MAX_SAID ? " and more" : "");
    }
}
