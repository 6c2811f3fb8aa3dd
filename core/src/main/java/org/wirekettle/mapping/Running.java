package org.wirekettle.mapping;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** What one run of a mapping finds out. Used once, by one thread. */
final class Running {
    private static final int MAX_SHOWN_VALUES = 20;
    private final List<MappingProblem> problems = new ArrayList<>(0);
    private final Map<String, List<String>> becomes;

    /** @param watching whether to keep each row's values, for showing */
    Running(boolean watching) {
        becomes = watching ? new LinkedHashMap<>() : null;
    }

    void problem(String path, String code, String text) {
        problems.add(MappingProblem.of(path, code, text));
    }

    boolean hasProblem(String path) {
        for (MappingProblem p : problems) {
            if (p.path().equals(path)) {
                return true;
            }
        }
        return false;
    }

    int mark() {
        return problems.size();
    }

    void rollback(int mark) {
        while (problems.size() > mark) {
            problems.remove(problems.size() - 1);
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

    List<MappingProblem> problems() {
        return problems;
    }

    Map<String, List<String>> becomes() {
        return becomes == null ? Map.of() : becomes;
    }
}
