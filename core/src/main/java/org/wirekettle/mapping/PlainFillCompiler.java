package org.wirekettle.mapping;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.mapping.Mapping.WhenEmpty;
import org.wirekettle.mapping.PlainFill.Does;
import org.wirekettle.mapping.PlainFill.Step;
import org.wirekettle.shape.Shape.Kind;
import org.wirekettle.shape.Shape.Role;
import org.wirekettle.xml.Escape;

/** Makes the plain form of a compiled fill, where it has one: nothing repeated, no kind by rule, nothing free. */
final class PlainFillCompiler {
    private static final int MAX_STEPS = 2_000;
    /** A plain message is written without a look at the clock: each of these has a limit of its own. */
    private static final int MAX_COMPUTED = 32;

    private static final byte[] NOTHING = new byte[0];

    private final List<Step> steps = new ArrayList<>();
    private final List<String> fields = new ArrayList<>();
    /** What is written in any case before the next step. */
    private final ByteArrayOutputStream pending = new ByteArrayOutputStream();

    private int computed;
    private int depth;
    private int maxDepth;
    /** Whether what is open holds a value in any case. */
    private boolean holdsConstant;

    private PlainFillCompiler() {}

    /** A row that is not plain. */
    private static final class NotPlain extends Exception {
        private static final long serialVersionUID = 1;

        NotPlain() {
            super(null, null, false, false);
        }
    }

    /** @return empty when one of the rows is not plain */
    static Optional<PlainFill> compile(List<Row> rows) {
        PlainFillCompiler c = new PlainFillCompiler();
        try {
            c.all(rows);
        } catch (NotPlain e) {
            return Optional.empty();
        }
        return Optional.of(new PlainFill(c.steps, c.pending.toByteArray(), c.fields, c.maxDepth));
    }

    private void all(List<Row> rows) throws NotPlain {
        for (Row r : rows) {
            row(r);
        }
    }

    private static void need(boolean isPlain) throws NotPlain {
        if (!isPlain) {
            throw new NotPlain();
        }
    }

    private void row(Row r) throws NotPlain {
        need(r.each == null
                && r.kinds.isEmpty()
                && r.copy == null
                && r.arrayType == null
                && r.shape.role() == Role.BODY
                && steps.size() < MAX_STEPS);
        switch (r.shape.kind()) {
            case GROUP -> all(r.children);
            case CHOICE -> choice(r);
            case ELEMENT -> {
                if (r.hasScalar) {
                    leaf(r);
                } else {
                    element(r);
                }
            }
            default -> need(false);
        }
    }

    /** The branch is known, or not there at all. */
    private void choice(Row r) throws NotPlain {
        need(r.children.size() == 1);
        if (r.shape.isRequired()) {
            all(r.children);
            return;
        }
        boolean isFilled = block(NOTHING, r.children);
        end(NOTHING, isFilled, isFilled);
    }

    private void element(Row r) throws NotPlain {
        need(r.value == null && r.constant == null && r.whenEmpty != WhenEmpty.NIL);
        String open = r.openTag + attributes(r) + ">";
        if (r.shape.isRequired() && r.whenEmpty == WhenEmpty.OMIT && hasContent(r)) {
            write(open);
            all(r.children);
            write(r.closeTag);
            return;
        }
        boolean holds = block(bytes(open), r.children);
        boolean isFilled = holds || r.whenEmpty == WhenEmpty.KEEP;
        end(bytes(r.closeTag), isFilled || r.shape.isRequired(), isFilled);
    }

    /** @return whether a value is in it in any case */
    private boolean block(byte[] open, List<Row> children) throws NotPlain {
        boolean before = holdsConstant;
        holdsConstant = false;
        step(Does.BLOCK, open, NOTHING, false, false);
        maxDepth = Math.max(maxDepth, ++depth);
        all(children);
        depth--;
        boolean holds = holdsConstant;
        holdsConstant = before || holds;
        return holds;
    }

    private void end(byte[] close, boolean isThere, boolean isFilled) {
        step(Does.END, NOTHING, close, isThere, isFilled);
    }

    private void step(Does does, byte[] open, byte[] close, boolean isThere, boolean isFilled) {
        steps.add(new Step(does, taken(), open, close, -1, null, null, false, isThere, false, false, isFilled));
    }

    private byte[] taken() {
        byte[] out = pending.toByteArray();
        pending.reset();
        return out;
    }

    /** Whether an element is written in it, whatever the record: then its own tags are. */
    private static boolean hasContent(Row r) {
        return r.children.stream().anyMatch(c -> switch (c.shape.kind()) {
            case ELEMENT -> c.shape.isRequired() || c.hasScalar && c.value == null;
            case CHOICE -> c.shape.isRequired() && hasContent(c);
            default -> hasContent(c);
        });
    }

    private void leaf(Row r) throws NotPlain {
        need(!r.isFile && !r.isOnlyShown);
        String open = r.openTag + attributes(r) + ">";
        if (r.value == null) {
            need(r.constant != null && !r.constant.isEmpty());
            need(r.shape.scalar().problem(r.constant).isEmpty());
            StringBuilder text = new StringBuilder();
            Escape.text(r.constant, text);
            write(open + text + r.closeTag);
            holdsConstant = true;
            return;
        }
        String field = r.value.field();
        need(field != null || ++computed <= MAX_COMPUTED);
        boolean isRequired = r.shape.isRequired();
        if (isRequired) {
            write(open);
        }
        boolean isOmitted = r.whenEmpty == WhenEmpty.OMIT;
        steps.add(new Step(
                Does.VALUE,
                taken(),
                isRequired ? NOTHING : bytes(open),
                isRequired ? NOTHING : bytes(r.closeTag),
                field == null ? -1 : place(field),
                field == null ? r.value : null,
                r.shape.scalar(),
                r.shape.scalar().isBare(),
                isRequired,
                isOmitted,
                isOmitted && isRequired && r.isTextual(),
                false));
        if (isRequired) {
            write(r.closeTag);
        }
    }

    private int place(String field) {
        if (!fields.contains(field)) {
            fields.add(field);
        }
        return fields.indexOf(field);
    }

    private static String attributes(Row r) throws NotPlain {
        StringBuilder out = new StringBuilder();
        for (Row a : r.attributes) {
            need(a.shape.kind() == Kind.ATTRIBUTE && isConstant(a));
            out.append(' ').append(a.tagName).append("=\"");
            Escape.attribute(a.constant, out);
            out.append('"');
        }
        return out.toString();
    }

    private static boolean isConstant(Row a) {
        @Nullable String c = a.constant;
        return a.value == null
                && !a.isOnlyShown
                && c != null
                && !c.isEmpty()
                && (a.shape.scalar() == null || a.shape.scalar().problem(c).isEmpty());
    }

    private void write(String text) {
        pending.writeBytes(bytes(text));
    }

    private static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }
}
