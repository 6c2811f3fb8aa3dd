package org.wirekettle.connector.file;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** What stands where in the beginning of a nested file, and how often: the places that may be its records. */
public final class PathCounts {
    private static final int MAX_PATHS = 200;
    private static final String ROOT = "";

    private final Map<String, Count> counts = new LinkedHashMap<>();
    private final List<String> path = new ArrayList<>();

    /**
     * A place that records may be at.
     *
     * @param path as {@link RecordPath} reads it
     * @param records how many there are in the part that was looked at
     * @param repeats whether there are several in one
     */
    public record RecordPlace(String path, int records, boolean repeats) {}

    private static final class Count {
        private final int depth;
        private int times;
        private int parents;
        private int lastParent = -1;
        private boolean hasInside;

        Count(int depth) {
            this.depth = depth;
        }
    }

    private final List<Integer> open = new ArrayList<>(List.of(0));
    private int ids;

    /** @param name for expressions */
    void enter(String name) {
        Count around = counts.get(joined());
        if (around != null) {
            around.hasInside = true;
        }
        path.add(name);
        String at = joined();
        Count c = counts.get(at);
        if (c == null && counts.size() < MAX_PATHS) {
            c = new Count(path.size());
            counts.put(at, c);
        }
        int parent = open.get(open.size() - 1);
        if (c != null) {
            c.times++;
            c.parents += c.lastParent == parent ? 0 : 1;
            c.lastParent = parent;
        }
        open.add(++ids);
    }

    void leave() {
        path.remove(path.size() - 1);
        open.remove(open.size() - 1);
    }

    /** What is at hand has more than a text. */
    void hasInside() {
        Count c = counts.get(joined());
        if (c != null) {
            c.hasInside = true;
        }
    }

    private String joined() {
        return path.isEmpty() ? ROOT : String.join("/", path);
    }

    /** Those with something inside, and those that repeat, as they come. */
    List<RecordPlace> places() {
        List<RecordPlace> out = new ArrayList<>();
        counts.forEach((path, c) -> {
            boolean repeats = c.times > c.parents;
            if (c.hasInside || repeats) {
                out.add(new RecordPlace(path, c.times, repeats));
            }
        });
        return out;
    }

    /** The most likely one: the outermost of those that repeat, with something inside if there is one. */
    String best() {
        Map.Entry<String, Count> best = null;
        for (Map.Entry<String, Count> e : counts.entrySet()) {
            Count c = e.getValue();
            if (c.times > c.parents && (best == null || isBetter(c, best.getValue()))) {
                best = e;
            }
        }
        return best == null ? "" : best.getKey();
    }

    private static boolean isBetter(Count c, Count than) {
        return c.hasInside != than.hasInside ? c.hasInside : c.depth < than.depth;
    }
}
