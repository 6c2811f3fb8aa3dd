package org.wirekettle.flow;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.document.DocumentShape;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.problem.Severity;

/** A shape of the project that a text has to fit. Immutable. */
record WantedShape(String name, DocumentShape shape) {
    /**
     * @param name blank for none
     * @param isXml what the text is said to be; null when its shape says so
     * @return empty when there is none, or after reporting why it cannot be used
     */
    static Optional<WantedShape> of(@Nullable String name, @Nullable Boolean isXml, FlowCompiler c) {
        if (name == null || name.isBlank()) {
            return Optional.empty();
        }
        try {
            Optional<DocumentShape> found = c.project().shape(name);
            if (found.isEmpty()) {
                c.problem("There is no shape named " + name + ".");
            } else if (isXml != null && found.get().isXml() != isXml) {
                c.problem("The shape " + name + " is one of " + (found.get().isXml() ? "XML" : "JSON") + ".");
                return Optional.empty();
            }
            return found.map(s -> new WantedShape(name, s));
        } catch (Refused e) {
            c.problem("The shape " + name + " cannot be read: " + e.getMessage());
            return Optional.empty();
        }
    }

    void fits(String text) throws Failure {
        List<Problem> unfit = shape.check(text).stream()
                .filter(p -> p.severity() == Severity.ERROR)
                .toList();
        if (!unfit.isEmpty()) {
            Problem first = unfit.get(0);
            String line = first.place() == null || first.place().line() < 1
                    ? ""
                    : " (line " + first.place().line() + ")";
            throw Failure.of("the text does not fit", "the text is no " + name + ": " + first.text() + line);
        }
    }
}
