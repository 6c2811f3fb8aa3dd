package org.wirekettle.flow;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.record.Node;

/**
 * What a record will have done when it is accounted for: rows for targets, log lines, additions to the run's totals. A
 * record that fails drops them; an attempt drops those of the steps that failed.
 */
public final class Effects {
    private final List<Row> rows = new ArrayList<>(2);
    private List<LogLine> lines = List.of();
    private List<Addition> additions = List.of();
    private List<Kept> kept = List.of();
    private Gathered gathered;

    /**
     * A row to be written.
     *
     * @param output index of the target among the flow's
     * @param step index of the write step's counter
     * @param path of the write step
     * @param likeness by which it is left out when it is as it was; null to write it in any case
     */
    public record Row(
            int output,
            int step,
            String path,
            Node record,
            @Nullable Likeness likeness) {}

    /** @param path of the step that logs */
    public record LogLine(long atMillis, String level, String path, String text) {}

    /** @param name of the run's total */
    public record Addition(String name, BigDecimal value) {}

    /** A value for later runs. */
    public record Kept(String name, KeepStep.Rule rule, String value) {}

    /**
     * What a record leaves where records are gathered.
     *
     * @param step the id of the step that gathers
     */
    public record Gathered(String step, String key, List<Node> entries) {}

    /** How much there was at some time. */
    record Mark(int rows, int lines, int additions, int kept) {}

    void add(Row row) {
        rows.add(row);
    }

    void add(LogLine line) {
        lines = lines.isEmpty() ? new ArrayList<>(2) : lines;
        lines.add(line);
    }

    void add(Addition addition) {
        additions = additions.isEmpty() ? new ArrayList<>(2) : additions;
        additions.add(addition);
    }

    void add(Kept value) {
        kept = kept.isEmpty() ? new ArrayList<>(2) : kept;
        kept.add(value);
    }

    void gather(Gathered entries) {
        gathered = entries;
    }

    /** Those of a part, after what there is. */
    void add(Effects part) {
        rows.addAll(part.rows);
        part.lines.forEach(this::add);
        part.additions.forEach(this::add);
        part.kept.forEach(this::add);
    }

    Mark mark() {
        return new Mark(rows.size(), lines.size(), additions.size(), kept.size());
    }

    /** Drops what came since. */
    void back(Mark to) {
        shorten(rows, to.rows);
        shorten(lines, to.lines);
        shorten(additions, to.additions);
        shorten(kept, to.kept);
    }

    private static void shorten(List<?> list, int to) {
        if (list.size() > to) {
            list.subList(to, list.size()).clear();
        }
    }

    void clear() {
        rows.clear();
        lines = List.of();
        additions = List.of();
        kept = List.of();
        gathered = null;
    }

    public List<Row> rows() {
        return rows;
    }

    public List<LogLine> lines() {
        return lines;
    }

    public List<Addition> additions() {
        return additions;
    }

    public List<Kept> kept() {
        return kept;
    }

    /** Null unless the record came to a step that gathers. */
    public Gathered gathered() {
        return gathered;
    }
}
