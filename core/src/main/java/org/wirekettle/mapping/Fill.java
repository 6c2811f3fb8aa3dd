package org.wirekettle.mapping;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.problem.Problem;
import org.wirekettle.shape.Shape;

/** A compiled mapping that writes messages. Immutable; any thread may use it. */
public final class Fill {
    /** Of a message that is longer than all before it, room for more. */
    private static final int SPARE_CHARS = 64;
    /** Room that is made before it is needed. */
    private static final int MAX_ROOM = 64 * 1024;

    private static final byte[] NOTHING = {};

    private final MappingCompiler.Compiled compiled;
    /** The longest message so far, in characters; that two threads see different ones does no harm. */
    private int longest = 512;

    /** For most records of most fills, and much faster; null where some row is not plain. */
    private final @Nullable PlainFill plain;
    /** What stands around a body that is written at once. */
    private final byte[] head;

    private final byte[] tail;

    private Fill(MappingCompiler.Compiled compiled, @Nullable PlainFill plain, byte[] head, byte[] tail) {
        this.compiled = compiled;
        this.plain = plain;
        this.head = head;
        this.tail = tail;
    }

    /**
     * Compiles; never fails. What cannot work is in {@link #problems()}.
     *
     * @param target a message shape: its children are header blocks and body elements
     * @param secrets where those come from that rules name
     */
    public static Fill compile(Mapping mapping, Shape target, Expressions expressions, SecretValues secrets) {
        MappingCompiler.Compiled compiled = new MappingCompiler(expressions, secrets).compile(mapping, target);
        PlainFill plain = compiled.problems().isEmpty()
                ? PlainFillCompiler.compile(compiled.rows()).orElse(null)
                : null;
        return new Fill(compiled, plain, NOTHING, NOTHING);
    }

    /** This fill, writing messages whole where it can: with what stands before and after the body, in UTF-8. */
    public Fill within(byte[] before, byte[] after) {
        return new Fill(compiled, plain, before, after);
    }

    /** One for looking at: a secret is shown as one. */
    public static Fill compile(Mapping mapping, Shape target, Expressions expressions) {
        return compile(mapping, target, expressions, SecretValues.SHOWN);
    }

    /** Whether what it writes may name files, or have parts beside it. */
    public boolean hasFiles() {
        return compiled.hasFiles();
    }

    /** Values of secrets that are in what it writes: nobody is shown them. */
    public List<String> secrets() {
        return compiled.secrets();
    }

    public List<Problem> problems() {
        return compiled.problems();
    }

    /** The outcome for one record. */
    public static final class Filled {
        private final String headers;
        private final List<Problem> problems;
        private final Map<String, List<String>> becomes;
        /** One of these two. */
        private @Nullable String body;

        private final byte @Nullable [] whole;
        /** Where the body is in the whole. */
        private final int from;

        private final int to;

        /** @param headers header blocks, as XML. @param body likewise. @param becomes each row's values */
        public Filled(String headers, String body, List<Problem> problems, Map<String, List<String>> becomes) {
            this.headers = headers;
            this.body = body;
            this.problems = problems;
            this.becomes = becomes;
            whole = null;
            from = 0;
            to = 0;
        }

        private Filled(byte[] whole, int from, int to) {
            this.whole = whole;
            this.from = from;
            this.to = to;
            headers = "";
            problems = List.of();
            becomes = Map.of();
        }

        /** Header blocks, as XML; empty when there are none. */
        public String headers() {
            return headers;
        }

        /** Body content, as XML. */
        public String body() {
            String out = body;
            if (out == null) {
                out = new String(whole, from, to - from, StandardCharsets.UTF_8);
                body = out;
            }
            return out;
        }

        /** Likewise in UTF-8, into a digest. */
        public void body(MessageDigest into) {
            if (whole == null) {
                into.update(body().getBytes(StandardCharsets.UTF_8));
            } else {
                into.update(whole, from, to - from);
            }
        }

        /** The message with all that stands around its body, where it was made at once; otherwise null. */
        public byte @Nullable [] whole() {
            return isAround() ? whole : null;
        }

        private boolean isAround() {
            return whole != null && (from > 0 || to < whole.length);
        }

        public List<Problem> problems() {
            return problems;
        }

        /** When previewed: each row's values, in order. */
        public Map<String, List<String>> becomes() {
            return becomes;
        }
    }

    /**
     * The fill as a stylesheet.
     *
     * @param text XSLT 3.0
     * @param notes what of the fill is not part of it, by the paths of rows
     */
    public record Stylesheet(String text, List<String> notes) {}

    /**
     * A SOAP envelope.
     *
     * @param isEncoded whether it says that SOAP's encoding is used
     * @param isOnBody whether the Body says so (SOAP 1.1 §4.1.1), not the element in it (SOAP 1.2 part 1 §5.1.1)
     */
    public record Envelope(String namespace, boolean isEncoded, boolean isOnBody) {}

    /** @param envelope to write around it; null for none */
    public Stylesheet stylesheet(@Nullable Envelope envelope) {
        return FillStylesheet.of(compiled, envelope);
    }

    public Filled run(Scope scope) {
        byte[] whole = plain == null ? null : plain.write(scope, head, tail);
        return whole == null ? byRows(scope) : new Filled(whole, head.length, whole.length - tail.length);
    }

    /** Row by row, whatever they are. */
    Filled byRows(Scope scope) {
        return run(scope, false);
    }

    boolean isPlain() {
        return plain != null;
    }

    /** Like {@link #run}, keeping what every row becomes. */
    public Filled preview(Scope scope) {
        return run(scope, true);
    }

    private Filled run(Scope scope, boolean watching) {
        Running running = new Running(watching);
        StringBuilder body = new StringBuilder(Math.min(longest, MAX_ROOM));
        StringBuilder headers = null;
        XmlSink out = new XmlSink(body);
        for (Row row : compiled.rows()) {
            if (row.shape.role() == Shape.Role.HEADER) {
                headers = headers == null ? new StringBuilder(256) : headers;
                row.write(scope, new XmlSink(headers), running);
            } else {
                row.write(scope, out, running);
            }
        }
        if (body.length() > longest) {
            longest = body.length() + SPARE_CHARS;
        }
        return new Filled(
                headers == null ? "" : headers.toString(), body.toString(), running.problems(), running.becomes());
    }
}
