package org.wirekettle.connector.file;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.JsonTree;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/**
 * A JSON file (RFC 8259) as records: each value at a path, read one after the other whatever the file's length. An
 * array is its items; those of one that has no name are {@code item}. Immutable.
 */
public final class JsonSource implements RecordSource {
    /** A part that is looked at to find where records may be. */
    private static final int SAMPLED_TOKENS = 200_000;

    private final Path file;
    private final RecordPath path;

    public JsonSource(Path file, RecordPath path) {
        this.file = file;
        this.path = path;
    }

    @Override
    public boolean isRepeatable() {
        return true;
    }

    @Override
    public Stream open() throws IOException {
        return new JsonStream();
    }

    private static JsonParser parser(Path file) throws IOException {
        return JsonTree.parser(new BufferedInputStream(Files.newInputStream(file), 1 << 16));
    }

    /** An object or array that is open around what is read. */
    private record Around(boolean isArray, List<String> names) {
        /** The names of a value inside. @param member null in an array */
        List<String> inside(String member) {
            return isArray ? names : with(names, member);
        }
    }

    private static List<String> with(List<String> names, String name) {
        List<String> out = new ArrayList<>(names.size() + 1);
        out.addAll(names);
        out.add(name);
        return out;
    }

    /** The array that begins here. @param parent null for none. @param own the array's names, as if it were a value */
    private static Around array(Around parent, List<String> own) {
        boolean hasName = parent != null && !parent.isArray();
        return new Around(true, hasName ? own : with(own, JsonTree.ITEMS));
    }

    private final class JsonStream implements Stream {
        private final JsonParser in;
        private final Deque<Around> around = new ArrayDeque<>();
        private String member;
        private long line = 1;
        private boolean isOver;

        JsonStream() throws IOException {
            in = parser(file);
        }

        @Override
        public Node next() throws IOException {
            if (isOver) {
                return null;
            }
            try {
                Node out = find();
                isOver = out == null;
                return out;
            } catch (JsonProcessingException e) {
                isOver = true;
                return BadRecord.ofText(
                        "", "the file cannot be read on: " + JsonTree.words(e) + ". What follows was not read.");
            }
        }

        private Node find() throws IOException {
            for (JsonToken t = in.nextToken(); t != null; t = in.nextToken()) {
                switch (t) {
                    case FIELD_NAME -> member = FieldNames.name(in.currentName());
                    case END_OBJECT, END_ARRAY -> around.pop();
                    default -> {
                        Node found = value(t);
                        if (found != null) {
                            return found;
                        }
                    }
                }
            }
            return null;
        }

        /** @return null when it is no record */
        private Node value(JsonToken t) throws IOException {
            Around parent = around.peek();
            List<String> own = parent == null ? List.of() : parent.inside(member);
            boolean isItsItems = t == JsonToken.START_ARRAY && parent != null && !parent.isArray();
            if (path.fits(own) && !isItsItems) {
                return record();
            }
            if (t == JsonToken.START_ARRAY) {
                around.push(array(parent, own));
            } else if (t == JsonToken.START_OBJECT) {
                around.push(new Around(false, own));
            }
            return null;
        }

        private Node record() throws IOException {
            line = in.currentTokenLocation().getLineNr();
            int depth = in.getParsingContext().getNestingDepth();
            boolean isScalar = in.currentToken().isScalarValue();
            try {
                Node out = JsonTree.value(in, "record", RecordLimits.MAX_NODES);
                return isScalar ? new Node("", "record").add(Node.leaf("value", out.string())) : out;
            } catch (JsonTree.Unreadable e) {
                while (in.getParsingContext().getNestingDepth() >= depth && in.nextToken() != null) {
                    // to its end
                }
                return BadRecord.ofText(
                        "", "the record that begins in line " + line + " is too large: " + e.getMessage());
            }
        }

        @Override
        public void close() throws IOException {
            in.close();
        }
    }

    /** The places in a file's beginning that may be its records. */
    static PathCounts places(Path file) throws IOException {
        PathCounts out = new PathCounts();
        Deque<Around> around = new ArrayDeque<>();
        Deque<Boolean> counted = new ArrayDeque<>();
        String member = null;
        try (JsonParser in = parser(file)) {
            JsonToken t;
            for (int n = 0; n < SAMPLED_TOKENS && (t = in.nextToken()) != null; n++) {
                Around parent = around.peek();
                if (t == JsonToken.FIELD_NAME) {
                    member = FieldNames.name(in.currentName());
                } else if (t == JsonToken.END_OBJECT || t == JsonToken.END_ARRAY) {
                    around.pop();
                    if (counted.pop()) {
                        out.leave();
                    }
                } else {
                    boolean isArray = t == JsonToken.START_ARRAY;
                    boolean isItsItems = isArray && parent != null && !parent.isArray();
                    String name = parent == null
                            ? null
                            : parent.isArray()
                                    ? parent.names().get(parent.names().size() - 1)
                                    : member;
                    boolean isCounted = name != null && !isItsItems;
                    if (isCounted) {
                        out.enter(name);
                    }
                    if (t == JsonToken.START_OBJECT || isArray) {
                        List<String> own = parent == null ? List.of() : parent.inside(member);
                        around.push(isArray ? array(parent, own) : new Around(false, own));
                        counted.push(isCounted);
                    } else if (isCounted) {
                        out.leave();
                    }
                }
            }
        } catch (JsonProcessingException e) {
            // What was seen before counts; reading tells what is wrong.
            return out;
        }
        return out;
    }
}
