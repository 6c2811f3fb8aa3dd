package org.wirekettle.connector;

import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/** The fields of a source, as a sample of its records tells: names, nesting, types, how sure. Used by one thread. */
public final class RecordProfile {
    /** Records looked at. */
    public static final int SAMPLED_RECORDS = 5_000;
    /** Values looked at: large records are fewer. */
    private static final int MAX_NODES = 1_000_000;
    /** Fields of one source, all levels together. */
    private static final int MAX_FIELDS = 5_000;

    private static final int MAX_DEPTH = 40;
    private static final String XSI = "http://www.w3.org/2001/XMLSchema-instance";

    private final Column root = new Column("", "");
    private int nodes;
    private int columns;
    private int times;

    /** One field at one place. */
    private static final class Column {
        private final String name;
        private final String label;
        private final Map<String, Column> inside = new LinkedHashMap<>();
        private final TypeGuess guess = new TypeGuess();
        /** Elements of it that were seen. */
        private int times;
        /** Parents in which it has a value, or something inside. */
        private int filledParents;

        private int lastParent = -1;
        private int lastFilledParent = -1;
        private boolean isMany;

        Column(String name, String label) {
            this.name = name;
            this.label = label;
        }
    }

    /** The fields of what a stream gives first. Records that could not be read tell nothing. */
    public static List<Field> of(RecordSource source) throws IOException {
        RecordProfile out = new RecordProfile();
        try (RecordSource.Stream in = source.open()) {
            in.columns().forEach(c -> out.column(out.root, c.name(), c.label()));
            long n = 0;
            for (Node r; n < SAMPLED_RECORDS && out.nodes < MAX_NODES && (r = in.next()) != null; ) {
                n++;
                if (BadRecord.reason(r).isEmpty()) {
                    out.see(r, n);
                }
            }
        }
        return out.fields();
    }

    /** The fields of records that were read already. */
    public static List<Field> of(List<Node> records) {
        RecordProfile out = new RecordProfile();
        for (int i = 0; i < records.size(); i++) {
            if (BadRecord.reason(records.get(i)).isEmpty()) {
                out.see(records.get(i), i + 1L);
            }
        }
        return out.fields();
    }

    /** Looks at a record, unless enough were seen. @param number of the record, from 1 */
    public void see(Node record, long number) {
        if (nodes < MAX_NODES) {
            see(root, record, number, 0);
        }
    }

    private void see(Column c, Node n, long number, int depth) {
        int id = times++;
        c.times++;
        nodes++;
        for (Node a : n.attributes()) {
            if (!BadRecord.isReason(a) && !a.namespace().equals(XSI)) {
                child(c, "@" + a.name(), id, a, number, depth);
            }
        }
        if (n.isLeaf()) {
            c.guess.see(n.string(), number);
        }
        for (Node child : n.children()) {
            child(c, child.name(), id, child, number, depth);
        }
    }

    private void child(Column in, String name, int parent, Node n, long number, int depth) {
        Column c = column(in, name, null);
        if (c == null) {
            return;
        }
        c.isMany |= c.lastParent == parent;
        c.lastParent = parent;
        if (depth < MAX_DEPTH) {
            see(c, n, number, depth + 1);
        }
        boolean isFilled =
                !n.isLeaf() || !n.attributes().isEmpty() || !n.string().isBlank();
        if (isFilled && c.lastFilledParent != parent) {
            c.lastFilledParent = parent;
            c.filledParents++;
        }
    }

    /** @return null when there are too many */
    private Column column(Column in, String name, String label) {
        Column known = in.inside.get(name);
        if (known == null && columns < MAX_FIELDS) {
            columns++;
            known = new Column(name, label == null ? FieldNames.label(name) : label);
            in.inside.put(name, known);
        }
        return known;
    }

    /** What is known by now. */
    public List<Field> fields() {
        return inside(root);
    }

    /** Likewise where names and types are known: what the sample told of their values. */
    public List<Field> fields(List<Field> declared) {
        List<Field> out = new ArrayList<>();
        for (Field f : declared) {
            Column c = root.inside.get(f.name());
            Field.Seen seen = c == null
                    ? new Field.Seen(root.times, root.times, 0, null, 0, null)
                    : c.guess
                            .field(c.name, c.label, root.times, root.times - c.filledParents)
                            .seen();
            Field.Seen sure = new Field.Seen(seen.sampled(), seen.blank(), seen.distinct(), seen.common(), 0, null);
            out.add(new Field(
                    f.name(),
                    f.label(),
                    f.type(),
                    f.pattern(),
                    f.required(),
                    f.key(),
                    f.many(),
                    f.fields(),
                    sure,
                    null));
        }
        return out;
    }

    private static List<Field> inside(Column of) {
        List<Field> out = new ArrayList<>();
        for (Column c : of.inside.values()) {
            Field f = c.guess.field(c.name, c.label, of.times, of.times - c.filledParents);
            List<Field> fields = c.inside.isEmpty() ? null : inside(c);
            boolean isNested = fields != null && c.guess.filled() == 0;
            out.add(new Field(
                    f.name(),
                    f.label(),
                    isNested ? Field.NESTED : f.type(),
                    isNested ? null : f.pattern(),
                    null,
                    null,
                    c.isMany ? true : null,
                    fields,
                    f.seen(),
                    null));
        }
        return out;
    }
}
