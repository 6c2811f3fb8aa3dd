package org.wirekettle.connector.file;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Finds the columns of a file of fixed width: where all its lines are blank, one ends. */
final class FixedColumns {
    private static final int SAMPLED_LINES = 200;
    private static final int LEAST_LINES = 3;
    private static final int LEAST_COLUMNS = 2;
    /** Texts in lines have blanks, too, but hardly in the same places. */
    private static final int LEAST_WIDTH = 12;

    private static final String DELIMITERS = ";,\t|";

    private FixedColumns() {}

    /** @param text a file's beginning. @return empty when it does not look like one */
    static Optional<FixedFormat> of(String text) {
        List<String> lines =
                text.lines().filter(l -> !l.isBlank()).limit(SAMPLED_LINES).toList();
        if (lines.size() > 1 && text.length() >= CsvFormat.SAMPLED_BYTES / 2) {
            // The last one may be cut.
            lines = lines.subList(0, lines.size() - 1);
        }
        int width = lines.stream().mapToInt(String::length).max().orElse(0);
        if (lines.size() < LEAST_LINES || width < LEAST_WIDTH || hasDelimiter(lines) || !isPadded(lines, width)) {
            return Optional.empty();
        }
        List<FixedFormat.FixedColumn> columns = columns(lines, width);
        if (columns.size() < LEAST_COLUMNS || isRagged(lines, columns)) {
            return Optional.empty();
        }
        boolean hasHeader = isHeader(lines, columns);
        List<FixedFormat.FixedColumn> named = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            FixedFormat.FixedColumn c = columns.get(i);
            String name = hasHeader ? cell(lines.get(0), c) : "";
            named.add(new FixedFormat.FixedColumn(name.isEmpty() ? "column " + (i + 1) : name, c.from(), c.length()));
        }
        return Optional.of(new FixedFormat("UTF-8", hasHeader ? 1 : 0, named));
    }

    /** Lines of one length, or with more than one blank somewhere; sentences are neither. */
    private static boolean isPadded(List<String> lines, int width) {
        return lines.stream().allMatch(l -> l.length() == width)
                || lines.stream().allMatch(l -> l.strip().contains("  "));
    }

    private static boolean hasDelimiter(List<String> lines) {
        for (char d : DELIMITERS.toCharArray()) {
            long first = lines.get(0).chars().filter(c -> c == d).count();
            if (first > 0
                    && lines.stream()
                            .allMatch(l -> l.chars().filter(c -> c == d).count() == first)) {
                return true;
            }
        }
        return false;
    }

    private static List<FixedFormat.FixedColumn> columns(List<String> lines, int width) {
        List<FixedFormat.FixedColumn> out = new ArrayList<>();
        int from = -1;
        for (int i = 0; i <= width; i++) {
            boolean isBlank = i == width || isBlank(lines, i);
            if (!isBlank && from < 0) {
                from = i;
            } else if (isBlank && from >= 0 && (i == width || isBlank(lines, i))) {
                out.add(new FixedFormat.FixedColumn("c", from + 1, i - from));
                from = -1;
            }
        }
        return widened(out);
    }

    /** A column reaches to the next one: values may be longer than those that were seen. */
    private static List<FixedFormat.FixedColumn> widened(List<FixedFormat.FixedColumn> in) {
        List<FixedFormat.FixedColumn> out = new ArrayList<>();
        for (int i = 0; i < in.size(); i++) {
            FixedFormat.FixedColumn c = in.get(i);
            int end = i + 1 < in.size() ? in.get(i + 1).from() : c.from() + c.length();
            out.add(new FixedFormat.FixedColumn(c.name(), c.from(), end - c.from()));
        }
        return out;
    }

    private static boolean isBlank(List<String> lines, int at) {
        return lines.stream().allMatch(l -> at >= l.length() || l.charAt(at) == ' ');
    }

    /** Lines of words happen to have a common blank; values in columns begin or end where their column does. */
    private static boolean isRagged(List<String> lines, List<FixedFormat.FixedColumn> columns) {
        long cells = 0;
        long filled = 0;
        for (String l : lines) {
            for (FixedFormat.FixedColumn c : columns) {
                cells++;
                filled += cell(l, c).isEmpty() ? 0 : 1;
            }
        }
        return filled < cells / 2;
    }

    private static boolean isHeader(List<String> lines, List<FixedFormat.FixedColumn> columns) {
        boolean hasNumbersBelow = columns.stream()
                .anyMatch(c -> lines.stream().skip(1).allMatch(l -> cell(l, c).matches("[-+\\d.,:/]*")));
        return hasNumbersBelow
                && columns.stream().noneMatch(c -> cell(lines.get(0), c).matches("[-+\\d.,:/]*"));
    }

    private static String cell(String line, FixedFormat.FixedColumn c) {
        int from = Math.min(line.length(), c.from() - 1);
        return line.substring(from, Math.min(line.length(), from + c.length())).strip();
    }
}
