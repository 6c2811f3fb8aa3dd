package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expression;
import org.wirekettle.mapping.Pick;
import org.wirekettle.record.Node;

/**
 * Gathers records into groups. Each record leaves an entry here; once all records have come so far, each group goes on
 * as one record: with its key, how many entries it has, and the entries. What a record did before stays done, whatever
 * happens to its group.
 *
 * @param by an expression: records with an equal value are a group; null for all of them together
 * @param most entries of a group: what comes after them begins another group; null for no limit but the engine's
 * @param as the entries' name afterwards; null for {@code entry}
 * @param columns of an entry; null or empty for the record's own fields
 * @param waits whether groups go on only when no record before here waits any more
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record GatherStep(
        @Nullable String by,
        @Nullable Integer most,
        @Nullable String as,
        @Nullable List<Pick.Column> columns,
        @Nullable Boolean waits)
        implements StepKind {
    /** Entries of one group: it is one record in memory. */
    public static final int MAX_ENTRIES = 100_000;

    static final int MAX_KEY_CHARS = 1_000;
    static final String KEY = "key";
    static final String COUNT = "count";
    private static final String ENTRY = "entry";

    @Override
    public String title() {
        String size = most == null ? "" : ", at most " + most;
        return (by == null || by.isBlank() ? (most == null ? "all into one group" : "into groups") : "by " + by) + size;
    }

    private String entry() {
        return as == null || as.isBlank() ? ENTRY : as;
    }

    @Override
    public Runner compile(FlowCompiler c) {
        if (!c.isOutermost() || c.isCalled()) {
            c.problem("Records are gathered outside of blocks, and not in a flow that another one runs.");
            return Runner.NONE;
        }
        if (entry().equals(KEY) || entry().equals(COUNT)) {
            c.problem("A group has a key and a count already: name its entries otherwise.");
        }
        if (most != null && (most < 1 || most > MAX_ENTRIES)) {
            c.problem("A group has 1 to " + MAX_ENTRIES + " entries.");
        }
        Optional<Expression> key = c.optional(by, "by");
        Pick made = Pick.compile(new Pick.Definition(null, columns), c.expressions());
        made.problems().forEach(c::problem);
        boolean isWhole = columns == null || columns.isEmpty();
        List<Field> fields = isWhole ? c.fieldsOf(null) : PickDesign.fieldsOf(made);
        String step = c.step().id();
        c.gathers(new Gather(step, most == null ? MAX_ENTRIES : most, Boolean.TRUE.equals(waits), entry()), fields);
        return frame -> {
            String value = key.isEmpty() ? "" : frame.string(key.get(), "by");
            if (value != null && value.length() > MAX_KEY_CHARS) {
                throw Failure.of("key too long", "by: its value has more than " + MAX_KEY_CHARS + " characters");
            }
            if (value != null && value.indexOf('\0') >= 0) {
                // A database's text cannot hold it: the record would stop its run.
                throw Failure.of("key does not fit", "by: its value has a NUL character, which cannot be kept");
            }
            List<Node> entries = isWhole ? List.of(frame.scope().context()) : entries(made, frame);
            frame.effects().gather(new Effects.Gathered(step, value == null ? "" : value, entries));
        };
    }

    private static List<Node> entries(Pick made, Frame frame) throws Failure {
        Pick.Picked picked = made.run(frame.scope());
        if (!picked.problems().isEmpty()) {
            throw Failure.of(picked.problems().get(0));
        }
        return picked.records();
    }

    /** What is known of a group's record when it is compiled. */
    static List<Field> groupFields(String entry) {
        return List.of(
                Field.of(KEY, KEY, "string"), Field.of(COUNT, COUNT, "integer"), Field.of(entry, entry, "string"));
    }

    /**
     * Where records are gathered.
     *
     * @param step its id
     * @param most entries of a group
     * @param waits whether groups wait for records that wait
     * @param entry the name of an entry
     */
    public record Gather(String step, int most, boolean waits, String entry) {
        /** The record of a group. @param entries in the order of their records */
        public Node group(String key, List<Node> entries) {
            Node out = new Node("", "record");
            out.add(Node.leaf(KEY, key));
            out.add(Node.leaf(COUNT, String.valueOf(entries.size())));
            for (Node e : entries) {
                out.add(named(e));
            }
            return out;
        }

        /** Its children move to an element of the entries' name. */
        private Node named(Node made) {
            Node out = new Node("", entry);
            if (made.isLeaf()) {
                out.text(made.string());
            }
            made.children().forEach(out::add);
            made.attributes().forEach(out::addAttribute);
            return out;
        }

        /** The entries of such a record. */
        List<Node> entries(Node group) {
            return group.children().stream().filter(n -> n.name().equals(entry)).toList();
        }
    }
}
