package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Optional;
import javax.xml.stream.XMLStreamException;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Expression;
import org.wirekettle.record.JsonTree;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.xml.SafeXml;

/**
 * Reads XML or JSON that a text holds.
 *
 * @param text an expression
 * @param format {@code xml} or {@code json}
 * @param as the name of what was read: the root element, or the JSON value as elements
 * @param shape a shape of the project that the text has to fit; null for any
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ParseStep(
        @Nullable String text,
        @Nullable String format,
        @Nullable String as,
        @Nullable String shape) implements StepKind {
    private static final List<String> FORMATS = List.of("xml", "json");

    @Override
    public String title() {
        return text == null || text.isBlank()
                ? "say which text"
                : text + (format == null ? "" : " as " + format.toUpperCase(java.util.Locale.ROOT));
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Optional<Expression> from = c.expression(text, "text", "Say which text is read: an expression.");
        if (!FORMATS.contains(format)) {
            c.problem("Say what the text is: xml or json.");
        }
        if (as == null || as.isBlank()) {
            c.problem("Give what is read a name.");
            return Runner.NONE;
        }
        Optional<WantedShape> wanted = WantedShape.of(shape, "xml".equals(format), c);
        c.names(as, wanted.map(w -> w.shape().fields()).orElse(null));
        return from.isEmpty()
                ? Runner.NONE
                : frame -> {
                    String read = frame.string(from.get(), "the text");
                    if (read == null || read.isBlank()) {
                        throw Failure.of("nothing to read", "the text that should be " + format + " is empty");
                    }
                    Node tree = "xml".equals(format) ? xml(read) : json(read);
                    if (wanted.isPresent()) {
                        wanted.get().fits(read.strip());
                    }
                    frame.set(as, List.of(tree));
                };
    }

    @Override
    public List<Ref> named() {
        return List.of(new Ref(Ref.What.SHAPE, shape));
    }

    private static Node xml(String text) throws Failure {
        try {
            return NodeXml.read(text.strip());
        } catch (XMLStreamException e) {
            throw Failure.of(
                    "the text is no XML",
                    "the text is no XML: " + SafeXml.refusal("text", e).getMessage());
        }
    }

    private static Node json(String text) throws Failure {
        try {
            return JsonTree.read(text);
        } catch (JsonTree.Unreadable e) {
            throw Failure.of("the text is no JSON", "the text is no JSON: " + e.getMessage());
        }
    }
}
