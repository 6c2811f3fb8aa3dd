package org.wirekettle.mapping;

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

    private final MappingCompiler.Compiled compiled;
    /** The longest message so far, in characters; that two threads see different ones does no harm. */
    private int longest = 512;

    private Fill(MappingCompiler.Compiled compiled) {
        this.compiled = compiled;
    }

    /**
     * Compiles; never fails. What cannot work is in {@link #problems()}.
     *
     * @param target a message shape: its children are header blocks and body elements
     * @param secrets where those come from that rules name
     */
    public static Fill compile(Mapping mapping, Shape target, Expressions expressions, SecretValues secrets) {
        return new Fill(new MappingCompiler(expressions, secrets).compile(mapping, target));
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

    /**
     * The outcome for one record.
     *
     * @param headers header blocks, as XML; empty when there are none
     * @param body body content, as XML
     * @param becomes when previewed: each row's values, in order
     */
    public record Filled(String headers, String body, List<Problem> problems, Map<String, List<String>> becomes) {}

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
        return run(scope, false);
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
