package org.wirekettle.trigger;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Operation.Use;
import org.wirekettle.flow.Reply;
import org.wirekettle.input.InputProblem;
import org.wirekettle.record.Node;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.soap.SentFault;
import org.wirekettle.soap.SoapRequest;

/** The messages of one operation that a flow answers. Immutable; shareable. */
interface SoapMessages {
    /** The element by which a request asks for it; null for one whose body is empty. */
    @Nullable
    QualifiedName request();

    /** How they are written. */
    default Use use() {
        return Use.LITERAL;
    }

    /** Whether nothing is answered (WSDL 1.1 §2.4.1). */
    default boolean isOneWay() {
        return false;
    }

    /** What came of reading a request. @param record of no use where there are problems */
    record Read(Node record, List<InputProblem> problems) {}

    Read read(SoapRequest request, Instant now);

    /**
     * What is answered.
     *
     * @param fault null for an answer
     * @param headers header blocks, as XML
     * @param body the body's content, as XML
     */
    record Sent(@Nullable SentFault fault, String headers, String body) {}

    /** @param reply null where the flow answers nothing */
    Sent reply(@Nullable Reply reply);

    /** The content of a request's body. @throws Refused when a sample is none */
    String request(String sample);
}
