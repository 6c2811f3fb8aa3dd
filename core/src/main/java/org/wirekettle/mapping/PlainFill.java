package org.wirekettle.mapping;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.Scope;
import org.wirekettle.record.Node;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.xml.Escape;

/**
 * A fill that is tags and values in a row, written in one pass over them straight into bytes: what most bulk runs do
 * for every record. It writes just what the rows themselves would; of a record with a problem, or that is unusual in
 * any other way, it says so, and the rows are asked. Any thread may use it.
 */
final class PlainFill {
    private static final int FIRST_BYTES = 8 * 1024;
    private static final int MAX_KEPT_BYTES = 256 * 1024;
    private static final int A_BLOCK = 4;
    private static final int[] NONE = {};
    /** Not 0 for the characters of ASCII that cannot stand as they are. */
    private static final byte[] CARE = new byte[128];

    private static final ThreadLocal<byte[]> BUFFERS = ThreadLocal.withInitial(() -> new byte[FIRST_BYTES]);

    static {
        Arrays.fill(CARE, 0, ' ', (byte) 1);
        for (char c : "<>&\"\u007f".toCharArray()) {
            CARE[c] = 1;
        }
    }

    /** What a step of it does. */
    enum Does {
        VALUE,
        BLOCK,
        END
    }

    /**
     * A value with the tags around it, or the start or end of what may turn out to be empty.
     *
     * @param before what is written in any case
     * @param open of a value its start tag, where that is not in any case; of a block its own
     * @param close the end tag; empty where it is written in any case
     * @param field which of the fields the value is; -1 for one that is computed
     * @param isRequired of a value, that nothing is a problem; of a block, that it is there in any case
     * @param isOmitted of a value, that an empty one is left out, or a problem where it is required
     * @param isNoBlank of a value, that one of blanks only is a problem
     * @param isFilled of a block, that it counts as one with a value
     */
    record Step(
            Does does,
            byte[] before,
            byte[] open,
            byte[] close,
            int field,
            @Nullable Expression value,
            @Nullable ScalarType type,
            boolean isBare,
            boolean isRequired,
            boolean isOmitted,
            boolean isNoBlank,
            boolean isFilled) {}

    /** Where the fields are in records whose fields have these names. @param places -1 for one that is not there */
    private record Layout(String[] names, int[] places) {}

    private final Step[] steps;
    private final byte[] last;
    private final String[] fields;
    private final int depth;
    /** Of all that is no value, in bytes. */
    private final int constants;

    /** Of the record before; that threads see different ones does no harm. */
    private @Nullable Layout known;

    /** @param last what follows the steps. @param fields of the record, by name. @param depth blocks in each other */
    PlainFill(List<Step> steps, byte[] last, List<String> fields, int depth) {
        this.steps = steps.toArray(new Step[0]);
        this.last = last;
        this.fields = fields.toArray(new String[0]);
        this.depth = depth;
        constants = last.length + steps.stream().mapToInt(PlainFill::tags).sum();
    }

    /** @return the body between what stands around it; null when the rows have to be asked */
    byte @Nullable [] write(Scope scope, byte[] head, byte[] tail) {
        try {
            return written(scope, head, tail);
        } catch (EvaluationFailed e) {
            return null;
        }
    }

    private byte @Nullable [] written(Scope scope, byte[] head, byte[] tail) throws EvaluationFailed {
        List<Node> children = scope.context().children();
        Layout layout = layout(children);
        if (layout == null) {
            return null;
        }
        int tags = head.length + constants + tail.length;
        byte[] kept = BUFFERS.get();
        byte[] out = kept.length < tags ? new byte[tags * 2] : kept;
        int[] blocks = depth == 0 ? NONE : new int[depth * A_BLOCK];
        int open = 0;
        int filled = 0;
        int lacks = 0;
        int at = put(head, out, 0);
        for (Step s : steps) {
            at = put(s.before, out, at);
            if (s.does == Does.VALUE) {
                String v = s.field < 0 ? s.value.string(scope) : field(layout.places[s.field], children);
                if (v == null || v.isEmpty()) {
                    if (!s.isOmitted) {
                        return null;
                    }
                    lacks += s.isRequired ? 1 : 0;
                    continue;
                }
                filled++;
                if (v.length() > Running.MAX_CHARS - at) {
                    return null;
                }
                out = withRoom(out, at + v.length(), tags);
                at = put(s.open, out, at);
                boolean isBare = s.isBare && s.type.isSurely(v);
                int end = isBare ? bare(v, out, at) : text(v, out, at);
                boolean isSure = isBare || end >= 0 && s.type.isSurelyAsAscii(v);
                if (!isSure && s.type.problem(v).isPresent() || s.isNoBlank && isBlank(v)) {
                    lacks++;
                }
                if (end < 0) {
                    byte[] escaped = escaped(v);
                    if (escaped.length > Running.MAX_CHARS - at) {
                        return null;
                    }
                    out = withRoom(out, at + escaped.length, tags);
                    end = put(escaped, out, at);
                }
                at = put(s.close, out, end);
            } else if (s.does == Does.BLOCK) {
                blocks[open] = at;
                blocks[open + 2] = filled;
                blocks[open + 3] = lacks;
                at = put(s.open, out, at);
                blocks[open + 1] = at;
                open += A_BLOCK;
            } else {
                open -= A_BLOCK;
                if (filled == blocks[open + 2] && !s.isRequired) {
                    at = blocks[open];
                    lacks = blocks[open + 3];
                } else if (s.close.length > 0 && at == blocks[open + 1]) {
                    out[at - 1] = '/';
                    out[at++] = '>';
                } else {
                    at = put(s.close, out, at);
                }
                filled += s.isFilled ? 1 : 0;
            }
        }
        at = put(tail, out, put(last, out, at));
        if (out != kept && out.length <= MAX_KEPT_BYTES) {
            BUFFERS.set(out);
        }
        return lacks > 0 || at > Running.MAX_CHARS ? null : Arrays.copyOf(out, at);
    }

    /** So that all tags have room, too, whatever is still to come. */
    private static byte[] withRoom(byte[] out, int end, int tags) {
        return end <= out.length - tags ? out : Arrays.copyOf(out, (end + tags) * 2);
    }

    private static int put(byte[] what, byte[] out, int at) {
        int n = what.length;
        if (n > 0) {
            System.arraycopy(what, 0, out, at, n);
        }
        return at + n;
    }

    private static @Nullable String field(int place, List<Node> children) {
        return place < 0 ? null : children.get(place).string();
    }

    private static boolean isBlank(String v) {
        char first = v.charAt(0);
        return (first <= ' ' || first > '~') && v.isBlank();
    }

    /** What is of ASCII characters only is copied as it is. */
    @SuppressWarnings("deprecation")
    private static int bare(String v, byte[] out, int at) {
        int n = v.length();
        v.getBytes(0, n, out, at);
        return at + n;
    }

    /** @return where it ends; -1 when it has to be escaped or encoded */
    private static int text(String v, byte[] out, int at) {
        int n = v.length();
        for (int i = 0; i < n; i++) {
            char c = v.charAt(i);
            if (c > 127 || CARE[c] != 0) {
                return -1;
            }
            out[at + i] = (byte) c;
        }
        return at + n;
    }

    private static byte[] escaped(String v) {
        StringBuilder out = new StringBuilder(v.length() + 16);
        Escape.text(v, out);
        return out.toString().getBytes(StandardCharsets.UTF_8);
    }

    private static int tags(Step s) {
        return s.before.length + s.open.length + s.close.length + 1;
    }

    private @Nullable Layout layout(List<Node> children) {
        Layout l = known;
        int n = children.size();
        if (l == null || l.names.length != n) {
            return laidOut(children);
        }
        for (int i = 0; i < n; i++) {
            String name = children.get(i).name();
            if (name != l.names[i] && !name.equals(l.names[i])) {
                return laidOut(children);
            }
        }
        return l;
    }

    private @Nullable Layout laidOut(List<Node> children) {
        String[] names = children.stream().map(Node::name).toArray(String[]::new);
        int[] places = new int[fields.length];
        for (int f = 0; f < places.length; f++) {
            places[f] = -1;
            for (int i = 0; i < names.length; i++) {
                if (names[i].equals(fields[f])) {
                    if (places[f] >= 0) {
                        // Several of one name are one text for a value.
                        return null;
                    }
                    places[f] = i;
                }
            }
        }
        Layout out = new Layout(names, places);
        known = out;
        return out;
    }
}
