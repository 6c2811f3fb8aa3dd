package org.wirekettle.mapping;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.wirekettle.problem.Problem;

/** What one run of a mapping finds out. Used once, by one thread. */
final class Running {
    private static final int MAX_SHOWN_VALUES = 20;
    private static final int MAX_PROBLEMS = 1_000;
    /** Elements and attributes of one message; its characters; and the time for filling it. */
    static final int MAX_ROWS = 1_000_000;

    static final int MAX_CHARS = 64_000_000;
    private static final long MAX_NANOS = 20_000_000_000L;
    private static final int ROWS_BETWEEN_LOOKS = 32;
    /** Since the first look at the clock; most messages are through before. */
    private long startNanos;

    private boolean isTimed;
    private int rows;
    private long chars;
    private boolean isOver;
    /** Of most messages there are none. */
    private List<Problem> problems = List.of();
    /** Rows that have one; there may be thousands. */
    private Set<String> withProblem = Set.of();

    private final Map<String, List<String>> becomes;

    /** @param watching whether to keep each row's values, for showing */
    Running(boolean watching) {
        becomes = watching ? new LinkedHashMap<>() : null;
    }

    void problem(String path, String code, String text) {
        if (problems.isEmpty()) {
            problems = new ArrayList<>();
            withProblem = new HashSet<>();
        }
        if (problems.size() < MAX_PROBLEMS && !isOver) {
            problems.add(Problem.ofRow(path, code, text));
            withProblem.add(path);
        }
    }

    /** Whether another row may be written; a message without end is said once, and then nothing more is written. */
    boolean goesOn(String path) {
        if (isOver) {
            return false;
        }
        boolean late = ++rows % ROWS_BETWEEN_LOOKS == 0 && isLate();
        if (rows > MAX_ROWS || chars > MAX_CHARS || late) {
            problem(
                    path,
                    "limit",
                    late
                            ? "takes longer than " + MAX_NANOS / 1_000_000_000 + " seconds to be filled"
                            : "makes more than " + MAX_ROWS + " elements or " + MAX_CHARS
                                    + " characters, the limit for one message");
            isOver = true;
        }
        return !isOver;
    }

    private boolean isLate() {
        if (!isTimed) {
            isTimed = true;
            startNanos = System.nanoTime();
        }
        return System.nanoTime() - startNanos > MAX_NANOS;
    }

    void wrote(String value) {
        chars += value.length();
    }

    boolean hasProblem(String path) {
        return withProblem.contains(path);
    }

    int mark() {
        return problems.size();
    }

    void rollback(int mark) {
        if (isOver) {
            return;
        }
        if (problems.size() > mark) {
            problems.subList(mark, problems.size()).clear();
            withProblem.clear();
            problems.forEach(p -> withProblem.add(p.row()));
        }
    }

    void becomes(String path, String value) {
        if (becomes != null) {
            List<String> values = becomes.computeIfAbsent(path, k -> new ArrayList<>());
            if (values.size() < MAX_SHOWN_VALUES) {
                values.add(value);
            }
        }
    }

    void count(String path, int items) {
        becomes(path, items == 1 ? "once" : items + " times");
    }

    List<Problem> problems() {
        return problems;
    }

    Map<String, List<String>> becomes() {
        return becomes == null ? Map.of() : becomes;
    }
}
