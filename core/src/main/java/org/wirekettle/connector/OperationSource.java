package org.wirekettle.connector;

import java.io.IOException;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/**
 * The rows that an operation answers with, asked for page by page. The request may name {@code $page}, counted from 1,
 * and {@code $reply}, the answer before; nothing else is known to it. Every opening asks anew. Shareable.
 */
public final class OperationSource implements RecordSource {
    /** Pages of one reading: a service that never ends its list is asked no longer. */
    static final int MAX_PAGES = 100_000;

    private static final String PAGE = "page";
    private static final String REPLY = "reply";
    private static final List<String> NAMES = List.of(PAGE, REPLY);

    private final Opening opening;
    private final Expression rows;
    private final @Nullable Expression more;
    private final List<Field> known;

    /** Makes the way to the service; closed when a reading ends. */
    @FunctionalInterface
    public interface Opening {
        Asking open() throws IOException;
    }

    /** Asks the service. Used by one thread. */
    public interface Asking extends AutoCloseable {
        /** @return what the answer says. @throws IOException in words, when there is none that counts */
        Node ask(Scope scope) throws IOException;

        @Override
        void close();
    }

    /** What requests and expressions of such a source may name. */
    public static Expressions knowing(Expressions all) {
        return all.knowing(NAMES);
    }

    /**
     * @param rows an expression over {@code $reply}: each of its items is a record
     * @param more an expression over {@code $reply}: while it holds the next page is asked for; null for one page
     * @param known the fields that were seen before: nobody is asked for them
     * @throws ExpressionFault when one of them is none
     */
    public OperationSource(
            Opening opening, String rows, @Nullable String more, List<Field> known, Expressions expressions)
            throws ExpressionFault {
        this.opening = opening;
        this.rows = knowing(expressions).compile(rows);
        this.more = more == null || more.isBlank() ? null : knowing(expressions).compile(more);
        this.known = List.copyOf(known);
    }

    @Override
    public List<Field> fields() {
        return known;
    }

    @Override
    public boolean isRepeatable() {
        return false;
    }

    @Override
    public boolean isCostly() {
        return true;
    }

    /** Nobody is asked only to be counted. */
    @Override
    public long count() throws IOException {
        throw new IOException("how many rows a service has is known when it was asked for them");
    }

    @Override
    public Stream open() throws IOException {
        return new Pages(opening.open());
    }

    private final class Pages implements Stream {
        private final Asking asking;
        private final Deque<Node> waiting = new ArrayDeque<>();
        private int page;
        private boolean isOver;
        private List<Node> reply = List.of();
        private String last;

        Pages(Asking asking) {
            this.asking = asking;
        }

        @Override
        public List<Field> columns() {
            return known;
        }

        @Override
        public Node next() throws IOException {
            while (waiting.isEmpty() && !isOver) {
                ask();
            }
            return waiting.poll();
        }

        private void ask() throws IOException {
            if (++page > MAX_PAGES) {
                throw new IOException("the service has more than " + MAX_PAGES + " pages; it is asked no longer");
            }
            Node answer;
            try {
                answer = asking.ask(scope());
            } catch (IOException e) {
                throw new IOException("page " + page + ": " + e.getMessage(), e);
            }
            String text = more == null ? null : NodeXml.write(answer);
            if (text != null && text.equals(last)) {
                throw new IOException("page " + page + " is the same as the page before it: the service may not know"
                        + " which page it is asked for, and would be asked without end");
            }
            last = text;
            reply = List.of(answer);
            try {
                rows.nodes(scope()).forEach(row -> waiting.add(record(row)));
                isOver = more == null || !more.test(scope());
            } catch (EvaluationFailed e) {
                throw new IOException("page " + page + ": " + e.getMessage(), e);
            }
        }

        private Scope scope() {
            return Scope.of(new Node("", "record"))
                    .with(PAGE, Node.leaf(PAGE, String.valueOf(page)))
                    .with(REPLY, reply);
        }

        @Override
        public void close() {
            asking.close();
        }
    }

    /** A row stands alone, however it was found; a value without fields has one. */
    private static Node record(Node row) {
        if (row.isLeaf() && row.attributes().isEmpty()) {
            Node out = new Node("", "record");
            out.add(Node.leaf("value", row.string()));
            return out;
        }
        return row.copy();
    }
}
